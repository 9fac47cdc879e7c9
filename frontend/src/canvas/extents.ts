/** The space an assessed place, a furnishing, a lamp or a probe takes up in the enclosure. */
import type { Evaluation, PlanDocument } from "../api/types";
import {
  type Extent,
  extentOf,
  fixturesOf,
  furnishingsOf,
  thermostatsOf,
} from "../domain/plan/document";
import type { Projection } from "./projection";

export type From = "front" | "above";

const LAMP_M = 0.04;

function around(x: number, y: number, z: number, half: number): Extent {
  return {
    x0: x - half,
    x1: x + half,
    y0: y - half,
    y1: y + half,
    z0: z - half,
    z1: z + half,
  };
}

export function extentOfThing(
  id: string,
  d: PlanDocument,
  evaluation: Evaluation | null,
): Extent | null {
  const item = furnishingsOf(d).find((f) => f.id === id);
  if (item && item.type !== "background") return extentOf(d, item);
  const point =
    fixturesOf(d).find((f) => f.id === id)?.position_m ??
    thermostatsOf(d).find((t) => t.id === id)?.probe_m;
  if (point) return around(point.x_m, point.y_m, point.z_m, LAMP_M);
  const place = evaluation?.places.find((one) => one.id === id);
  if (!place) return null;
  const quarter = d.enclosure.length_m / 4;
  if (place.kind === "warm_end" || place.kind === "cool_end") {
    const left = place.x_m < d.enclosure.length_m / 2;
    return {
      x0: left ? 0 : d.enclosure.length_m - quarter,
      x1: left ? quarter : d.enclosure.length_m,
      y0: 0,
      y1: d.enclosure.depth_m,
      z0: d.substrate.depth_m,
      z1: Math.min(d.substrate.depth_m + 0.15, d.enclosure.height_m),
    };
  }
  const half = Math.max(d.animal.body_length_m / 2, 0.04);
  // No place reaches through the glass.
  const e = around(place.x_m, place.y_m, place.z_m, half);
  const { length_m: l, depth_m: w, height_m: h } = d.enclosure;
  return {
    x0: Math.max(0, e.x0),
    x1: Math.min(l, e.x1),
    y0: Math.max(0, e.y0),
    y1: Math.min(w, e.y1),
    z0: Math.max(0, e.z0),
    z1: Math.min(h, e.z1),
  };
}

/** An extent on the drawing, widened by some pixels. */
export function onDrawing(e: Extent, p: Projection, from: From, margin: number) {
  const [low, high] = from === "front" ? [e.z0, e.z1] : [e.y0, e.y1];
  const [x0, x1] = [p.x(e.x0) - margin, p.x(e.x1) + margin];
  const [y0, y1] = [p.y(high) - margin, p.y(low) + margin];
  return { x: x0, y: y0, width: x1 - x0, height: y1 - y0 };
}
