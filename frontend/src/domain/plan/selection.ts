/** Several lamps and furnishings at once: moved together, lined up, spread evenly, copied, removed. */
import type { Catalog, Fixture, Furnishing, PlanDocument } from "../../api/types";
import {
  against,
  copiedFixture,
  type Extent,
  extentOf,
  fixturesOf,
  furnishingsOf,
  lampWithin,
  withFixture,
  withoutFixture,
} from "./document";
import {
  copied,
  furnishingKey,
  isPlaced,
  movedTo,
  placeOf,
  withFurnishing,
  withoutFurnishing,
} from "./furnishings";
import type { ItemActions, Step } from "./itemActions";
import { tidy } from "./lengths";

export type Axis = "x" | "y" | "z";
/** The lower end along an axis, the middle, or the upper end. */
export type Edge = "low" | "middle" | "high";
export type Offset = Readonly<Record<Axis, number>>;

type Item = { readonly furnishing: Furnishing } | { readonly fixture: Fixture };
type Reference = Pick<Catalog, "lamps" | "materials">;

const NOWHERE: Offset = { x: 0, y: 0, z: 0 };

function itemOf(d: PlanDocument, key: string): Item | null {
  const fixture = fixturesOf(d).find((f) => f.id === key);
  if (fixture) return { fixture };
  const furnishing = furnishingsOf(d).find((f) => furnishingKey(f.id) === key);
  return furnishing && isPlaced(furnishing) ? { furnishing } : null;
}

/** All that can be selected with others. */
export const selectableKeys = (d: PlanDocument): string[] => [
  ...fixturesOf(d).map((f) => f.id),
  ...furnishingsOf(d)
    .filter(isPlaced)
    .map((f) => furnishingKey(f.id)),
];

/** Those of some keys that are still there. */
export const present = (d: PlanDocument, keys: readonly string[]): string[] => {
  const known = new Set(selectableKeys(d));
  return keys.filter((key) => known.has(key));
};

export function labelOf(d: PlanDocument, key: string): string {
  const item = itemOf(d, key);
  if (!item) return "";
  return "fixture" in item ? item.fixture.label : item.furnishing.label;
}

export function isLocked(d: PlanDocument, key: string): boolean {
  const item = itemOf(d, key);
  if (!item) return false;
  return ("fixture" in item ? item.fixture.locked : item.furnishing.locked) ?? false;
}

/** The space an item takes up; a lamp hangs at one height. */
export function extentOfKey(d: PlanDocument, catalog: Reference, key: string): Extent | null {
  const item = itemOf(d, key);
  if (!item) return null;
  if ("furnishing" in item) return extentOf(d, item.furnishing);
  const { position_m: at, lamp_id, turn_deg, lean_deg } = item.fixture;
  const lamp = catalog.lamps.find((l) => l.id === lamp_id);
  const long = lamp?.shape === "line" || lamp?.shape === "panel" ? (lamp.length_m ?? 0) : 0;
  const [turn, lean] = [(turn_deg * Math.PI) / 180, (lean_deg * Math.PI) / 180];
  const dx = Math.abs((long / 2) * Math.cos(lean) * Math.cos(turn));
  const dy = Math.abs((long / 2) * Math.cos(lean) * Math.sin(turn));
  return {
    x0: at.x_m - dx,
    x1: at.x_m + dx,
    y0: at.y_m - dy,
    y1: at.y_m + dy,
    z0: at.z_m,
    z1: at.z_m,
  };
}

/** One item moved as far as the enclosure allows, and how far that was. */
function movedItem(
  d: PlanDocument,
  catalog: Reference,
  key: string,
  by: Offset,
): { document: PlanDocument; by: Offset } {
  const item = itemOf(d, key);
  if (!item) return { document: d, by: NOWHERE };
  if ("fixture" in item) {
    const f = item.fixture;
    const lamp = catalog.lamps.find((l) => l.id === f.lamp_id);
    if (!lamp) return { document: d, by: NOWHERE };
    const from = f.position_m;
    const to = lampWithin(d, catalog, f, lamp, {
      x_m: from.x_m + by.x,
      y_m: from.y_m + by.y,
      z_m: from.z_m + by.z,
    });
    return {
      document: withFixture(d, key, { position_m: to }),
      by: { x: to.x_m - from.x_m, y: to.y_m - from.y_m, z: to.z_m - from.z_m },
    };
  }
  const from = placeOf(d, item.furnishing);
  const after = movedTo(d, item.furnishing, {
    x: from.x + by.x,
    y: from.y + by.y,
    z: from.z + by.z,
  });
  const to = placeOf(d, after);
  return {
    document: withFurnishing(d, after),
    by: { x: to.x - from.x, y: to.y - from.y, z: to.z - from.z },
  };
}

/** What stands on the ground, or lies against a face, keeps its height whatever the others do. */
function hasFixedHeight(d: PlanDocument, key: string): boolean {
  const item = itemOf(d, key);
  if (!item) return true;
  if ("fixture" in item) return against(item.fixture) !== null;
  return item.furnishing.type === "hide" || item.furnishing.type === "water";
}

/**
 * Several items moved by the same distance: as far as the one that comes to a wall first. Locked ones stay.
 */
export function shifted(
  d: PlanDocument,
  catalog: Reference,
  keys: readonly string[],
  by: Offset,
): PlanDocument {
  const free = keys.filter((key) => !isLocked(d, key));
  const shared = { ...NOWHERE } as Record<Axis, number>;
  for (const axis of ["x", "y", "z"] as const) {
    const reaches = free
      .filter((key) => axis !== "z" || !hasFixedHeight(d, key))
      .map((key) => movedItem(d, catalog, key, { ...NOWHERE, [axis]: by[axis] }).by[axis]);
    shared[axis] = reaches.reduce(
      (least, reach) => (Math.abs(reach) < Math.abs(least) ? reach : least),
      reaches[0] ?? 0,
    );
  }
  return free.reduce((after, key) => movedItem(after, catalog, key, shared).document, d);
}

const ENDS = {
  x: ["x0", "x1"],
  y: ["y0", "y1"],
  z: ["z0", "z1"],
} as const satisfies Record<Axis, readonly [keyof Extent, keyof Extent]>;

function edgeOf(e: Extent, axis: Axis, edge: Edge): number {
  const [low, high] = [e[ENDS[axis][0]], e[ENDS[axis][1]]];
  return edge === "low" ? low : edge === "high" ? high : (low + high) / 2;
}

/** Items lined up with one of them, which stays. */
export function aligned(
  d: PlanDocument,
  catalog: Reference,
  keys: readonly string[],
  model: string,
  axis: Axis,
  edge: Edge,
): PlanDocument {
  const fixed = extentOfKey(d, catalog, model);
  if (!fixed) return d;
  const line = edgeOf(fixed, axis, edge);
  return keys
    .filter((key) => key !== model && !isLocked(d, key))
    .reduce((after, key) => {
      const e = extentOfKey(after, catalog, key);
      if (!e) return after;
      const by = tidy(line - edgeOf(e, axis, edge));
      return movedItem(after, catalog, key, { ...NOWHERE, [axis]: by }).document;
    }, d);
}

/** Items with their middles at equal distances, between the outermost two, which stay. */
export function distributed(
  d: PlanDocument,
  catalog: Reference,
  keys: readonly string[],
  axis: Axis,
): PlanDocument {
  const placed = keys
    .flatMap((key) => {
      const e = extentOfKey(d, catalog, key);
      return e ? [{ key, at: edgeOf(e, axis, "middle") }] : [];
    })
    .sort((a, b) => a.at - b.at);
  const [first, last] = [placed[0], placed.at(-1)];
  if (!first || !last || placed.length < 3) return d;
  const step = (last.at - first.at) / (placed.length - 1);
  return placed.slice(1, -1).reduce((after, { key, at }, i) => {
    if (isLocked(d, key)) return after;
    const by = tidy(first.at + (i + 1) * step - at);
    return movedItem(after, catalog, key, { ...NOWHERE, [axis]: by }).document;
  }, d);
}

/** A rectangle of a drawing: from the left, and up along the other axis it shows. */
export interface Area {
  readonly x: readonly [number, number];
  readonly up: readonly [number, number];
}

/** What a rectangle touches in a drawing whose other axis is given. */
export function keysTouching(
  d: PlanDocument,
  catalog: Reference,
  up: Exclude<Axis, "x">,
  area: Area,
): string[] {
  const meets = (e: Extent, axis: Axis, [one, other]: readonly [number, number]) =>
    e[ENDS[axis][1]] >= Math.min(one, other) && e[ENDS[axis][0]] <= Math.max(one, other);
  return selectableKeys(d).filter((key) => {
    const e = extentOfKey(d, catalog, key);
    return e !== null && meets(e, "x", area.x) && meets(e, up, area.up);
  });
}

const several = (keys: readonly string[]) => `${keys.length} items`;

/** What can be done with several items at once; what is locked stays. */
export function selectionActions(d: PlanDocument, keys: readonly string[]): ItemActions {
  const free = keys.filter((key) => !isLocked(d, key));
  const locked = free.length === 0;
  const lockAll = (on: boolean): PlanDocument =>
    keys.reduce((after, key) => {
      const item = itemOf(after, key);
      if (!item) return after;
      return "fixture" in item
        ? withFixture(after, key, { locked: on })
        : withFurnishing(after, { ...item.furnishing, locked: on });
    }, d);
  return {
    locked,
    copy: () => duplicated(d, keys),
    lock: () => ({
      document: lockAll(!locked),
      summary: `${several(keys)} ${locked ? "unlocked" : "locked"}`,
    }),
    remove: () => ({
      document: free.reduce((after, key) => {
        const item = itemOf(after, key);
        if (!item) return after;
        return "fixture" in item
          ? withoutFixture(after, key)
          : withoutFurnishing(after, item.furnishing.id);
      }, d),
      summary: `${several(free)} removed`,
    }),
  };
}

function duplicated(d: PlanDocument, keys: readonly string[]): Step {
  const made: string[] = [];
  let document = d;
  for (const key of keys) {
    const item = itemOf(d, key);
    if (!item) continue;
    if ("fixture" in item) {
      const twin = copiedFixture(document, item.fixture);
      document = { ...document, fixtures: [...fixturesOf(document), twin] };
      made.push(twin.id);
    } else {
      const twin = copied(document, item.furnishing);
      document = { ...document, furnishings: [...furnishingsOf(document), twin] };
      made.push(furnishingKey(twin.id));
    }
  }
  return {
    document,
    summary: `${several(keys)} duplicated`,
    ...(made[0] && { select: made[0] }),
    together: made,
  };
}
