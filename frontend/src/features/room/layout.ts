/** Pure edits of the layout of a room: racks from left to right, shelves from the bottom up. */
import type { RoomLayout } from "../../api/types";

export type Rack = RoomLayout["racks"][number];
export type Way = "up" | "down" | "left" | "right";

/** Only enclosures that are there, and no shelf that holds none, but one. */
export function tidied(layout: RoomLayout, known: ReadonlySet<string>): RoomLayout {
  return {
    ...layout,
    racks: layout.racks.map((rack) => {
      const shelves = rack.shelves
        .map((shelf) => shelf.filter((enclosure) => known.has(enclosure)))
        .filter((shelf) => shelf.length > 0);
      return { ...rack, shelves: shelves.length > 0 ? shelves : [[]] };
    }),
  };
}

/** The place of an enclosure: on which rack, on which shelf, at which place. */
export function placeOf(layout: RoomLayout, enclosure: string): [number, number, number] | null {
  for (const [s, rack] of layout.racks.entries()) {
    for (const [k, shelf] of rack.shelves.entries()) {
      const i = shelf.indexOf(enclosure);
      if (i >= 0) return [s, k, i];
    }
  }
  return null;
}

const withRack = (layout: RoomLayout, s: number, rack: Rack): RoomLayout => ({
  ...layout,
  racks: layout.racks.map((one, i) => (i === s ? rack : one)),
});

/** Take an enclosure off wherever it stands; its shelf stays, perhaps empty. */
export function without(layout: RoomLayout, enclosure: string): RoomLayout {
  return {
    ...layout,
    racks: layout.racks.map((rack) => ({
      ...rack,
      shelves: rack.shelves.map((shelf) => shelf.filter((b) => b !== enclosure)),
    })),
  };
}

/** On the lowest shelf of a rack, at its right end. */
export function onRack(layout: RoomLayout, enclosure: string, rackId: string): RoomLayout {
  const cleared = without(layout, enclosure);
  return {
    ...cleared,
    racks: cleared.racks.map((rack) =>
      rack.id === rackId
        ? { ...rack, shelves: rack.shelves.map((s, k) => (k === 0 ? [...s, enclosure] : s)) }
        : rack,
    ),
  };
}

/** One step on its rack; up from the top makes a new shelf. Null where it cannot go on. */
export function stepped(layout: RoomLayout, enclosure: string, way: Way): RoomLayout | null {
  const at = placeOf(layout, enclosure);
  if (!at) return null;
  const [s, k, i] = at;
  const rack = layout.racks[s] as Rack;
  const shelf = rack.shelves[k] as string[];
  if (way === "left" || way === "right") {
    const to = way === "left" ? i - 1 : i + 1;
    if (to < 0 || to >= shelf.length) return null;
    const next = [...shelf];
    [next[i], next[to]] = [next[to] as string, enclosure];
    return withRack(layout, s, {
      ...rack,
      shelves: rack.shelves.map((one, n) => (n === k ? next : one)),
    });
  }
  const to = way === "up" ? k + 1 : k - 1;
  if (to < 0) return null;
  // Alone on the top shelf, going up would change nothing.
  if (to === rack.shelves.length && shelf.length === 1) return null;
  const shelves = rack.shelves.map((one) => one.filter((b) => b !== enclosure));
  if (to === shelves.length) shelves.push([]);
  shelves[to] = [...(shelves[to] ?? []), enclosure];
  return withRack(layout, s, { ...rack, shelves });
}

export function newRack(layout: RoomLayout): RoomLayout {
  const taken = new Set(layout.racks.map((s) => s.id));
  let number = layout.racks.length + 1;
  while (taken.has(`rack-${number}`)) number++;
  const rack = { id: `rack-${number}`, label: `Rack ${number}`, shelves: [[]] };
  return { ...layout, racks: [...layout.racks, rack] };
}

export const renamed = (layout: RoomLayout, id: string, label: string): RoomLayout => ({
  ...layout,
  racks: layout.racks.map((s) => (s.id === id ? { ...s, label } : s)),
});

export const withoutRack = (layout: RoomLayout, id: string): RoomLayout => ({
  ...layout,
  racks: layout.racks.filter((s) => s.id !== id),
});
