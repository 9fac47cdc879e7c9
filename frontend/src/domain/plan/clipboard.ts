/** Lamps and furnishings copied as text, to be pasted into the same enclosure or another. */
import type { Catalog, Fixture, Furnishing, PlanDocument, Thermostat } from "../../api/types";
import { fixturesOf, furnishingsOf, lampWithin, newFixture, thermostatsOf } from "./document";
import { freshId, furnishingKey, isPlaced, movedTo, placeOf } from "./furnishings";
import { clamp, tidy } from "./lengths";

const FORMAT = "noonshade-items";
const OFFSET_M = 0.05;
const LONGEST_LABEL = 80;

/** What was copied: the thermostats are those of its lamps. */
export interface Copied {
  readonly format: typeof FORMAT;
  readonly version: 1;
  readonly from: string;
  readonly fixtures: readonly Fixture[];
  readonly furnishings: readonly Furnishing[];
  readonly thermostats: readonly Thermostat[];
}

export interface Pasted {
  readonly document: PlanDocument;
  /** The keys of what is new. */
  readonly keys: readonly string[];
  /** Names of what is larger than the enclosure. */
  readonly tooLarge: readonly string[];
}

/** Items of a plan with the thermostats that govern them; null if none of the keys is an item. */
export function copiedItems(d: PlanDocument, keys: readonly string[]): Copied | null {
  const fixtures = fixturesOf(d).filter((f) => keys.includes(f.id));
  const furnishings = furnishingsOf(d).filter(
    (f) => isPlaced(f) && keys.includes(furnishingKey(f.id)),
  );
  if (fixtures.length + furnishings.length === 0) return null;
  const governing = new Set(fixtures.map((f) => f.thermostat_id));
  return {
    format: FORMAT,
    version: 1,
    from: d.name,
    fixtures,
    furnishings,
    thermostats: thermostatsOf(d).filter((t) => governing.has(t.id)),
  };
}

/** Copied items from text; null if it is something else. The server checks every value when they are pasted. */
export function readCopied(text: string): Copied | null {
  let read: unknown;
  try {
    read = JSON.parse(text);
  } catch {
    return null;
  }
  if (!isRecord(read) || read.format !== FORMAT || read.version !== 1) return null;
  const { fixtures, furnishings, thermostats } = read;
  const well =
    typeof read.from === "string" &&
    isListOf(fixtures, (f) => isRecord(f.position_m) && typeof f.lamp_id === "string") &&
    isListOf(furnishings, (f) => TYPES.includes(String(f.type))) &&
    isListOf(thermostats, (t) => isRecord(t.probe_m));
  return well ? (read as unknown as Copied) : null;
}

const TYPES = ["slab", "branch", "hide", "leaves", "water"];

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);

const isListOf = (value: unknown, is: (item: Record<string, unknown>) => boolean): boolean =>
  Array.isArray(value) &&
  value.every(
    (item) =>
      isRecord(item) && typeof item.id === "string" && typeof item.label === "string" && is(item),
  );

/** How many things were copied. */
export const countOf = (copied: Copied): number =>
  copied.fixtures.length + copied.furnishings.length;

/**
 * A plan with what was copied, unlocked, at the same distances from the left, the front and the floor as far as the
 * enclosure allows, or a little beside an item that is there already. Lamps come with their thermostats, or with those
 * of the plan that are the same. No second slab is marked as a basking spot.
 */
export function pasted(d: PlanDocument, catalog: Catalog, copied: Copied): Pasted {
  const keys: string[] = [];
  const tooLarge: string[] = [];
  let after = d;
  for (const item of copied.furnishings) {
    if (!isPlaced(item) || !fits(d, item)) {
      tooLarge.push(item.label);
      continue;
    }
    const [id] = freshId(after, item.id.replace(/-\d+$/, ""));
    let twin: Furnishing = { ...item, id, label: freeLabel(after, item.label), locked: false };
    if (twin.type === "slab") twin = { ...twin, basking: twin.basking && !hasBasking(after) };
    const at = placeOf(d, item);
    const taken = furnishingsOf(d).some((f) => isPlaced(f) && isNear(placeOf(d, f), at));
    const x = taken ? at.x + OFFSET_M : at.x;
    after = { ...after, furnishings: [...furnishingsOf(after), movedTo(d, twin, { ...at, x })] };
    keys.push(furnishingKey(id));
  }
  const thermostats = new Map<string, string>();
  for (const f of copied.fixtures) {
    const { id } = newFixture(after);
    const t = copied.thermostats.find((one) => one.id === f.thermostat_id);
    if (t && !thermostats.has(t.id)) {
      const known = thermostatsOf(after).find((one) => JSON.stringify(one) === JSON.stringify(t));
      const twin = known ?? thermostatIn(after, t);
      thermostats.set(t.id, twin.id);
      if (!known) after = { ...after, thermostats: [...thermostatsOf(after), twin] };
    }
    const lamp = catalog.lamps.find((l) => l.id === f.lamp_id);
    const at = f.position_m;
    const taken = fixturesOf(d).some(({ position_m: q }) =>
      isNear({ x: q.x_m, y: q.y_m, z: q.z_m }, { x: at.x_m, y: at.y_m, z: at.z_m }),
    );
    const to = taken ? { ...at, x_m: at.x_m + OFFSET_M } : at;
    const twin: Fixture = {
      ...f,
      id,
      label: freeLabel(after, f.label),
      locked: false,
      thermostat_id: (t && thermostats.get(t.id)) ?? null,
      position_m: lamp ? lampWithin(d, catalog, f, lamp, to) : to,
    };
    after = { ...after, fixtures: [...fixturesOf(after), twin] };
    keys.push(id);
  }
  return { document: after, keys, tooLarge };
}

/** Whether a furnishing has room in the enclosure; sizes of what a keeper owns are never changed. */
function fits(d: PlanDocument, item: Furnishing): boolean {
  const { length_m: length, depth_m: depth, height_m: height } = d.enclosure;
  const clear = height - d.substrate.depth_m;
  if (item.type === "background") return false;
  if (item.type === "branch") {
    const { start_m: a, end_m: b } = item;
    return (
      Math.abs(a.x_m - b.x_m) <= length &&
      Math.abs(a.y_m - b.y_m) <= depth &&
      Math.abs(a.z_m - b.z_m) <= clear
    );
  }
  const tall =
    item.type === "slab" ? item.thickness_m : item.type === "water" ? item.depth_m : item.height_m;
  return item.length_m <= length && item.width_m <= depth && tall <= clear;
}

function thermostatIn(d: PlanDocument, t: Thermostat): Thermostat {
  const [id] = freshId(d, "thermostat");
  const { length_m, depth_m, height_m } = d.enclosure;
  return {
    ...t,
    id,
    label: freeLabel(d, t.label),
    probe_m: {
      x_m: tidy(clamp(t.probe_m.x_m, 0, length_m)),
      y_m: tidy(clamp(t.probe_m.y_m, 0, depth_m)),
      z_m: tidy(clamp(t.probe_m.z_m, 0, height_m)),
    },
  };
}

const hasBasking = (d: PlanDocument) =>
  furnishingsOf(d).some((f) => f.type === "slab" && f.basking);

type Spot = { readonly x: number; readonly y: number; readonly z: number };
const isNear = (a: Spot, b: Spot) => Math.hypot(a.x - b.x, a.y - b.y, a.z - b.z) < 0.01;

/** A name nothing else in the plan has. */
function freeLabel(d: PlanDocument, label: string): string {
  const taken = new Set(
    [...furnishingsOf(d), ...fixturesOf(d), ...thermostatsOf(d)].map((one) => one.label),
  );
  if (!taken.has(label)) return label;
  const stem = label.replace(/ \d+$/, "").slice(0, LONGEST_LABEL - 4);
  let number = 2;
  while (taken.has(`${stem} ${number}`)) number++;
  return `${stem} ${number}`;
}
