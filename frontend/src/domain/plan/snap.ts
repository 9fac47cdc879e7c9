/** Where a furnishing that is being moved comes to rest: against walls and other things, under lamps. */
import type { Furnishing, PlanDocument } from "../../api/types";
import { against, extentOf, fixturesOf, furnishingsOf } from "./document";
import { type Place, placeOf } from "./furnishings";
import { onGrid } from "./lengths";

const REACH_M = 0.012;

/** Its place, on the nearest edge of something within reach, else on a grid of half centimetres. */
export function snapped(d: PlanDocument, item: Furnishing): Place {
  const at = placeOf(d, item);
  const e = extentOf(d, item);
  const others = furnishingsOf(d)
    .filter((f) => f.id !== item.id && f.type !== "branch")
    .map((f) => extentOf(d, f));
  const lamps = fixturesOf(d)
    .filter((f) => against(f) === null)
    .map((f) => f.position_m);
  const middles = (low: number, high: number, edges: number[], centres: number[], middle: number) =>
    nearest(middle, [
      ...edges.map((edge) => edge + (middle - low)),
      ...edges.map((edge) => edge - (high - middle)),
      ...centres,
    ]);
  // What it stands on: the ground, or the top of what lies under it.
  const under = others.filter(
    (o) => o.x0 < e.x1 - 1e-6 && o.x1 > e.x0 + 1e-6 && o.y0 < e.y1 - 1e-6 && o.y1 > e.y0 + 1e-6,
  );
  return {
    x: middles(
      e.x0,
      e.x1,
      [0, d.enclosure.length_m, ...others.flatMap((o) => [o.x0, o.x1])],
      lamps.map((q) => q.x_m),
      at.x,
    ),
    y: middles(
      e.y0,
      e.y1,
      [0, d.enclosure.depth_m, ...others.flatMap((o) => [o.y0, o.y1])],
      lamps.map((q) => q.y_m),
      at.y,
    ),
    z:
      item.type === "branch"
        ? nearest(at.z, [])
        : nearest(at.z, [d.substrate.depth_m, ...under.map((o) => o.z1)]),
  };
}

/** Where a lamp or probe that is being moved comes to rest along the enclosure: over things, in the middle. */
export const snappedAlong = (d: PlanDocument, x: number): number =>
  nearest(x, [
    d.enclosure.length_m / 2,
    ...furnishingsOf(d)
      .filter((f) => f.type === "slab" || f.type === "hide")
      .map((f) => f.x_m),
  ]);

/** The same across it. */
export const snappedAcross = (d: PlanDocument, y: number): number =>
  nearest(y, [
    d.enclosure.depth_m / 2,
    ...furnishingsOf(d)
      .filter((f) => f.type === "slab" || f.type === "hide")
      .map((f) => f.y_m),
  ]);

function nearest(value: number, candidates: readonly number[]): number {
  let best = onGrid(value);
  let reach = REACH_M;
  for (const candidate of candidates) {
    const away = Math.abs(candidate - value);
    if (away < reach) {
      reach = away;
      best = candidate;
    }
  }
  return best;
}
