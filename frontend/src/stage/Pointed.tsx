import type { Evaluation, PlanDocument } from "../api/types";
import { extentOf, fixturesOf, furnishingsOf, thermostatsOf } from "../plan/document";
import type { Projection } from "./projection";

interface PointedProps {
  /** A judged place, a furnishing, a lamp or a thermostat. */
  id: string | null;
  document: PlanDocument;
  evaluation: Evaluation | null;
  projection: Projection;
  from: "front" | "above";
}

const MARGIN_PX = 8;
const LAMP_M = 0.04;

/** A ring in the drawing around what a line beside it is about. */
export function Pointed({ id, document: d, evaluation, projection: p, from }: PointedProps) {
  const spot = id === null ? null : extentOfThing(id, d, evaluation);
  if (!spot) return null;
  const [a0, a1] = from === "front" ? [spot.z0, spot.z1] : [spot.y0, spot.y1];
  const [x0, x1] = [p.x(spot.x0) - MARGIN_PX, p.x(spot.x1) + MARGIN_PX];
  const [y0, y1] = [p.y(a1) - MARGIN_PX, p.y(a0) + MARGIN_PX];
  const ring = { x: x0, y: y0, width: x1 - x0, height: y1 - y0, rx: 8 };
  return (
    <g aria-hidden="true" className="pointer-events-none fill-none" data-testid="pointed">
      <rect {...ring} className="stroke-panel" strokeWidth={5} />
      <rect {...ring} className="stroke-ink" strokeWidth={2} strokeDasharray="7 4" />
    </g>
  );
}

function around(x: number, y: number, z: number, half: number) {
  return {
    x0: x - half,
    x1: x + half,
    y0: y - half,
    y1: y + half,
    z0: z - half,
    z1: z + half,
  };
}

function extentOfThing(id: string, d: PlanDocument, evaluation: Evaluation | null) {
  const item = furnishingsOf(d).find((f) => f.id === id);
  if (item && item.type !== "background") return extentOf(d, item);
  const point =
    fixturesOf(d).find((f) => f.id === id)?.position_m ??
    thermostatsOf(d).find((t) => t.id === id)?.probe_m;
  if (point) return around(point.x_m, point.y_m, point.z_m, LAMP_M);
  const place = evaluation?.places.find((one) => one.id === id);
  if (!place) return null;
  const quarter = d.box.length_m / 4;
  if (place.kind === "warm_end" || place.kind === "cool_end") {
    const left = place.x_m < d.box.length_m / 2;
    return {
      x0: left ? 0 : d.box.length_m - quarter,
      x1: left ? quarter : d.box.length_m,
      y0: 0,
      y1: d.box.depth_m,
      z0: d.substrate.depth_m,
      z1: Math.min(d.substrate.depth_m + 0.15, d.box.height_m),
    };
  }
  const half = Math.max(d.animal.body_length_m / 2, 0.04);
  return around(place.x_m, place.y_m, place.z_m, half);
}
