/** The ground in layers: what stands on it, how deep it may be, what it is mixed from. */
import type { Catalog, Furnishing, PlanDocument } from "../../api/types";
import { against, extentOf, fixturesOf, furnishingsOf, thermostatsOf, topOf } from "./document";
import { tidy } from "./lengths";

type Substrate = PlanDocument["substrate"];
export type Mix = Pick<Substrate, "material_id" | "parts" | "mixed">;
export type Layer = Substrate["below"][number];
export type Zone = Substrate["zones"][number];
export type Burrow = Substrate["burrows"][number];

/** A branch whose end is this near to the ground stands on it; a probe this near lies on it, m. */
const STANDS_M = 0.03;
/** The least air under the lid, and the least a layer is laid, m: as the server has it. */
const LEAST_AIR_M = 0.05;
export const LEAST_LAYER_M = 0.005;
const MOST_LAYERS = 8;

export const layersBelow = (d: PlanDocument): readonly Layer[] => d.substrate.below ?? [];
export const zonesOf = (d: PlanDocument): readonly Zone[] => d.substrate.zones ?? [];

export const burrowsOf = (d: PlanDocument): readonly Burrow[] => d.substrate.burrows ?? [];

/** Depth of the uppermost layer, m: what the others leave. */
export const topLayerDepth = (d: PlanDocument): number => tidy(d.substrate.depth_m - depthBelow(d));

const depthBelow = (d: PlanDocument): number =>
  layersBelow(d).reduce((sum, layer) => sum + layer.depth_m, 0);

/** The shallowest ground that layers below and burrows allow, m. */
export const shallowestGround = (d: PlanDocument): number =>
  tidy(
    Math.max(
      layersBelow(d).length > 0 ? depthBelow(d) + LEAST_LAYER_M : 0,
      ...burrowsOf(d).map((b) => b.depth_m + b.diameter_m / 2),
    ),
  );

/** Whether it stands on the ground and rises with it by itself: its height is counted from there. */
const counted = (item: Furnishing) => item.type !== "branch" && item.type !== "background";

const lowestOf = (d: PlanDocument, item: Furnishing): number => extentOf(d, item).z0;

/**
 * The plan with ground of another depth. What stands on it rises and sinks with it: branches whose foot is on it,
 * probes that lie on it. A branch that hangs is lifted when the ground reaches it; what is locked stays.
 */
export function withGroundDepth(d: PlanDocument, depth: number): PlanDocument {
  const by = depth - d.substrate.depth_m;
  const furnishings = furnishingsOf(d).map((item) => {
    if (item.type !== "branch" || item.locked) return item;
    const low = lowestOf(d, item);
    const lift = low - d.substrate.depth_m <= STANDS_M ? by : Math.max(0, depth - low);
    if (lift === 0) return item;
    const up = <P extends { z_m: number }>(p: P): P => ({ ...p, z_m: tidy(p.z_m + lift) });
    return { ...item, start_m: up(item.start_m), end_m: up(item.end_m) };
  });
  const thermostats = thermostatsOf(d).map((t) =>
    lies(d, t.probe_m.z_m) ? { ...t, probe_m: { ...t.probe_m, z_m: tidy(t.probe_m.z_m + by) } } : t,
  );
  return {
    ...d,
    furnishings,
    ...(d.thermostats && { thermostats }),
    substrate: { ...d.substrate, depth_m: depth },
  };
}

const lies = (d: PlanDocument, z: number): boolean =>
  z >= d.substrate.depth_m && z - d.substrate.depth_m <= STANDS_M;

/** How deep the ground may be, m, and what it would meet beyond that. */
export interface GroundLimit {
  readonly depth: number;
  readonly meets: string;
}

export function groundLimit(d: PlanDocument): GroundLimit {
  const height = d.enclosure.height_m;
  const now = d.substrate.depth_m;
  const found: GroundLimit[] = [{ depth: height - LEAST_AIR_M, meets: "the air under the lid" }];
  for (const item of furnishingsOf(d)) {
    const top = topOf(d, item);
    const low = item.type === "background" ? 0 : lowestOf(d, item);
    const name = `“${item.label}”`;
    if (counted(item)) {
      found.push({ depth: height - (top - now), meets: `the lid with ${name}` });
    } else if (item.type === "branch" && item.locked) {
      found.push({ depth: low, meets: `${name}, which is locked` });
    } else if (item.type === "branch") {
      // It is lifted from where the ground meets it, or at once where it stands on it.
      const from = low - now <= STANDS_M ? now : low;
      found.push({ depth: from + height - top, meets: `the lid with ${name}` });
    }
  }
  for (const lamp of fixturesOf(d)) {
    if (against(lamp) !== null) continue;
    found.push({ depth: lamp.position_m.z_m - 0.01, meets: `“${lamp.label}”` });
  }
  for (const t of thermostatsOf(d)) {
    if (!lies(d, t.probe_m.z_m) && t.probe_m.z_m > now)
      found.push({ depth: t.probe_m.z_m, meets: `the probe of “${t.label}”` });
  }
  const least = found.reduce((a, b) => (b.depth < a.depth ? b : a));
  return { ...least, depth: Math.max(now, tidy(least.depth)) };
}

const put = (d: PlanDocument, part: Partial<Substrate>): PlanDocument => ({
  ...d,
  substrate: { ...d.substrate, ...part },
});

/** The plan with another depth of one layer (0 is the uppermost); the surface rises or sinks by as much. */
export function withLayerDepth(d: PlanDocument, place: number, depth: number): PlanDocument {
  if (place === 0) return withGroundDepth(d, tidy(depthBelow(d) + depth));
  const was = layersBelow(d)[place - 1];
  if (!was) return d;
  const raised = withGroundDepth(d, tidy(d.substrate.depth_m + depth - was.depth_m));
  return withLayer(raised, place, { depth_m: depth });
}

/** The plan with other particulars of a layer below the uppermost one. */
export const withLayer = (d: PlanDocument, place: number, part: Partial<Layer>): PlanDocument =>
  put(d, {
    below: layersBelow(d).map((layer, i) => (i === place - 1 ? { ...layer, ...part } : layer)),
  });

/** The plan with another mix in a layer (0 is the uppermost). */
export const withMix = (d: PlanDocument, place: number, mix: Mix): PlanDocument =>
  place === 0 ? put(d, mix) : withLayer(d, place, mix);

export const canAddLayer = (d: PlanDocument): boolean =>
  layersBelow(d).length < MOST_LAYERS && groundLimit(d).depth - d.substrate.depth_m >= 0.01;

/** How deep a new layer is, m: drainage as usual, or what there is room for. */
const NEW_LAYER_M = 0.04;

/** The plan with a layer of drainage at the bottom, or of soil where there is drainage already. */
export function withNewLayer(d: PlanDocument, catalog: Catalog): PlanDocument {
  const room = groundLimit(d).depth - d.substrate.depth_m;
  const depth = tidy(Math.min(NEW_LAYER_M, Math.max(LEAST_LAYER_M, room)));
  const drained = [d.substrate, ...layersBelow(d)].some((l) => l.material_id === DRAINAGE);
  const wanted = drained ? "soil" : DRAINAGE;
  const known = catalog.materials.some((m) => m.id === wanted);
  const layer: Layer = {
    material_id: known ? wanted : d.substrate.material_id,
    parts: 1,
    mixed: [],
    depth_m: depth,
    barrier: !drained,
    wetness: null,
  };
  const deeper = withGroundDepth(d, tidy(d.substrate.depth_m + depth));
  // Drainage lies at the bottom; whatever else is added lies on it.
  const below = [...layersBelow(deeper)];
  const at = drained ? Math.max(0, below.length - 1) : below.length;
  below.splice(at, 0, layer);
  return put(deeper, { below });
}

const DRAINAGE = "clay-balls";

/** The plan without a layer; the next one down is the uppermost if that was it. The surface sinks. */
export function withoutLayer(d: PlanDocument, place: number): PlanDocument {
  const below = layersBelow(d);
  if (below.length === 0) return d;
  if (place === 0) {
    const [next, ...rest] = below;
    if (!next) return d;
    const sunk = withGroundDepth(d, depthBelow(d));
    const { material_id, parts, mixed } = next;
    return put(sunk, { material_id, parts, mixed, below: rest });
  }
  const gone = below[place - 1];
  if (!gone) return d;
  const without = put(d, { below: below.filter((_, i) => i !== place - 1) });
  return withGroundDepth(without, tidy(d.substrate.depth_m - gone.depth_m));
}

/** Layers from the top down as they are drawn: what they are and where they lie, m above the floor. */
export interface Band {
  readonly mix: Mix;
  readonly low: number;
  readonly high: number;
  readonly barrier: boolean;
}

export function bandsOf(substrate: Substrate): readonly Band[] {
  const below = substrate.below ?? [];
  const lower = below.reduce((sum, layer) => sum + layer.depth_m, 0);
  const bands: Band[] = [{ mix: substrate, low: lower, high: substrate.depth_m, barrier: false }];
  let high = lower;
  for (const layer of below) {
    bands.push({ mix: layer, low: high - layer.depth_m, high, barrier: layer.barrier });
    high -= layer.depth_m;
  }
  return bands.filter((band) => band.high - band.low > 1e-6);
}

/** A mix in words: "3 topsoil, 1 dry sand". */
export function mixWords(mix: Mix, catalog: Catalog): string {
  const label = (id: string) => catalog.materials.find((m) => m.id === id)?.label ?? id;
  const mixed = mix.mixed ?? [];
  if (mixed.length === 0) return label(mix.material_id);
  return [{ material_id: mix.material_id, parts: mix.parts }, ...mixed]
    .map((part) => `${part.parts} ${(label(part.material_id).split(",")[0] ?? "").toLowerCase()}`)
    .join(", ");
}

/** What is in the ground, with ids that are free. */
const freeId = (kind: string, taken: readonly { id: string }[]): [string, number] => {
  let number = 1;
  while (taken.some((one) => one.id === `${kind}-${number}`)) number += 1;
  return [`${kind}-${number}`, number];
};

/** Wide enough for the animal to turn, m: so many heights of its back. Estimate. */
const TURNING_BACKS = 2.5;
/** Where a new burrow lies, as a share of the ground's depth. Estimate. */
const USUAL_DEPTH_SHARE = 0.6;

/** How wide a burrow for this animal is at least, m, and whether the ground is deep enough for one. */
export const burrowWidth = (d: PlanDocument): number =>
  Math.round(100 * Math.max(0.02, TURNING_BACKS * d.animal.back_height_m)) / 100;
export const canAddBurrow = (d: PlanDocument): boolean =>
  d.substrate.depth_m > 1.5 * burrowWidth(d) && burrowsOf(d).length < MOST_BURROWS;
const MOST_BURROWS = 12;

/** The plan with a burrow under the cooler half, wide enough for the animal. */
export function withNewBurrow(d: PlanDocument): { document: PlanDocument; burrow: Burrow } {
  const { length_m: l, depth_m: w } = d.enclosure;
  const [id, number] = freeId("burrow", burrowsOf(d));
  const diameter_m = burrowWidth(d);
  const burrow: Burrow = {
    id,
    label: number === 1 ? "Burrow" : `Burrow ${number}`,
    x_m: tidy(0.7 * l),
    y_m: tidy(w / 2),
    depth_m: tidy(
      Math.min(
        Math.max(USUAL_DEPTH_SHARE * d.substrate.depth_m, diameter_m / 2),
        d.substrate.depth_m - diameter_m / 2,
      ),
    ),
    mouth_x_m: tidy(Math.max(diameter_m / 2, 0.5 * l)),
    mouth_y_m: tidy(w / 2),
    diameter_m,
  };
  return { document: put(d, { burrows: [...burrowsOf(d), burrow] }), burrow };
}

/** The plan with other particulars of a burrow, inside the ground. */
export function withBurrow(d: PlanDocument, id: string, part: Partial<Burrow>): PlanDocument {
  const { length_m: l, depth_m: w } = d.enclosure;
  const inside = (b: Burrow): Burrow => {
    const diameter_m = Math.min(b.diameter_m, d.substrate.depth_m, l, w);
    const half = diameter_m / 2;
    const between = (v: number, room: number) => tidy(Math.min(Math.max(v, half), room - half));
    return {
      ...b,
      diameter_m,
      x_m: between(b.x_m, l),
      y_m: between(b.y_m, w),
      mouth_x_m: between(b.mouth_x_m, l),
      mouth_y_m: between(b.mouth_y_m, w),
      depth_m: between(b.depth_m, d.substrate.depth_m),
    };
  };
  return put(d, {
    burrows: burrowsOf(d).map((b) => (b.id === id ? inside({ ...b, ...part }) : b)),
  });
}

export const withoutBurrow = (d: PlanDocument, id: string): PlanDocument =>
  put(d, { burrows: burrowsOf(d).filter((b) => b.id !== id) });

/** A zone in the right front corner, damp; its id is free. */
export function withNewZone(d: PlanDocument): { document: PlanDocument; zone: Zone } {
  const { length_m: l, depth_m: w } = d.enclosure;
  const [id, number] = freeId("zone", zonesOf(d));
  const [length, width] = [tidy(Math.min(0.3, l / 3)), tidy(Math.min(0.3, w / 2))];
  const zone: Zone = {
    id,
    label: number === 1 ? "Damp corner" : `Damp corner ${number}`,
    x_m: tidy(l - length / 2),
    y_m: tidy(width / 2),
    length_m: length,
    width_m: width,
    wetness: 0.5,
  };
  return { document: put(d, { zones: [...zonesOf(d), zone] }), zone };
}

/** The plan with other particulars of a zone, inside the enclosure. */
export function withZone(d: PlanDocument, id: string, part: Partial<Zone>): PlanDocument {
  const { length_m: l, depth_m: w } = d.enclosure;
  const inside = (z: Zone): Zone => {
    const length_m = Math.min(z.length_m, l);
    const width_m = Math.min(z.width_m, w);
    return {
      ...z,
      length_m,
      width_m,
      x_m: tidy(Math.min(Math.max(z.x_m, length_m / 2), l - length_m / 2)),
      y_m: tidy(Math.min(Math.max(z.y_m, width_m / 2), w - width_m / 2)),
    };
  };
  return put(d, {
    zones: zonesOf(d).map((z) => (z.id === id ? inside({ ...z, ...part }) : z)),
  });
}

export const withoutZone = (d: PlanDocument, id: string): PlanDocument =>
  put(d, { zones: zonesOf(d).filter((z) => z.id !== id) });
