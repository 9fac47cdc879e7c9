/** Pure edits of how the boxes stand: stands from left to right, shelves from the bottom up. */
import type { RoomLayout } from "../../api/types";

export type Stand = RoomLayout["stands"][number];
export type Way = "up" | "down" | "left" | "right";

/** Only boxes that are there, and no shelf that holds none, but one. */
export function tidied(layout: RoomLayout, known: ReadonlySet<string>): RoomLayout {
  return {
    ...layout,
    stands: layout.stands.map((stand) => {
      const shelves = stand.shelves
        .map((shelf) => shelf.filter((box) => known.has(box)))
        .filter((shelf) => shelf.length > 0);
      return { ...stand, shelves: shelves.length > 0 ? shelves : [[]] };
    }),
  };
}

/** Where a box stands: of which stand, on which shelf, at which place. */
export function placeOf(layout: RoomLayout, box: string): [number, number, number] | null {
  for (const [s, stand] of layout.stands.entries()) {
    for (const [k, shelf] of stand.shelves.entries()) {
      const i = shelf.indexOf(box);
      if (i >= 0) return [s, k, i];
    }
  }
  return null;
}

const withStand = (layout: RoomLayout, s: number, stand: Stand): RoomLayout => ({
  ...layout,
  stands: layout.stands.map((one, i) => (i === s ? stand : one)),
});

/** Take a box off wherever it stands; its shelf stays, perhaps empty. */
export function without(layout: RoomLayout, box: string): RoomLayout {
  return {
    ...layout,
    stands: layout.stands.map((stand) => ({
      ...stand,
      shelves: stand.shelves.map((shelf) => shelf.filter((b) => b !== box)),
    })),
  };
}

/** On the lowest shelf of a stand, at its right end. */
export function onStand(layout: RoomLayout, box: string, standId: string): RoomLayout {
  const cleared = without(layout, box);
  return {
    ...cleared,
    stands: cleared.stands.map((stand) =>
      stand.id === standId
        ? { ...stand, shelves: stand.shelves.map((s, k) => (k === 0 ? [...s, box] : s)) }
        : stand,
    ),
  };
}

/** One step on its stand; up from the top makes a new shelf. Null where it cannot go on. */
export function stepped(layout: RoomLayout, box: string, way: Way): RoomLayout | null {
  const at = placeOf(layout, box);
  if (!at) return null;
  const [s, k, i] = at;
  const stand = layout.stands[s] as Stand;
  const shelf = stand.shelves[k] as string[];
  if (way === "left" || way === "right") {
    const to = way === "left" ? i - 1 : i + 1;
    if (to < 0 || to >= shelf.length) return null;
    const next = [...shelf];
    [next[i], next[to]] = [next[to] as string, box];
    return withStand(layout, s, {
      ...stand,
      shelves: stand.shelves.map((one, n) => (n === k ? next : one)),
    });
  }
  const to = way === "up" ? k + 1 : k - 1;
  if (to < 0) return null;
  // Alone on the top shelf, going up would change nothing.
  if (to === stand.shelves.length && shelf.length === 1) return null;
  const shelves = stand.shelves.map((one) => one.filter((b) => b !== box));
  if (to === shelves.length) shelves.push([]);
  shelves[to] = [...(shelves[to] ?? []), box];
  return withStand(layout, s, { ...stand, shelves });
}

export function newStand(layout: RoomLayout): RoomLayout {
  const taken = new Set(layout.stands.map((s) => s.id));
  let number = layout.stands.length + 1;
  while (taken.has(`stand-${number}`)) number++;
  const stand = { id: `stand-${number}`, label: `Stand ${number}`, shelves: [[]] };
  return { ...layout, stands: [...layout.stands, stand] };
}

export const renamed = (layout: RoomLayout, id: string, label: string): RoomLayout => ({
  ...layout,
  stands: layout.stands.map((s) => (s.id === id ? { ...s, label } : s)),
});

export const withoutStand = (layout: RoomLayout, id: string): RoomLayout => ({
  ...layout,
  stands: layout.stands.filter((s) => s.id !== id),
});
