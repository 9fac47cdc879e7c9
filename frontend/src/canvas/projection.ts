/** From metres in the enclosure to pixels on the drawing, front view. */
import type { PlanDocument } from "../api/types";

export interface Projection {
  readonly scale: number;
  readonly width: number;
  readonly height: number;
  x(metres: number): number;
  y(zMetres: number): number;
  /** Back to metres. */
  toX(px: number): number;
  toZ(px: number): number;
}

const MARGIN = { left: 40, right: 14, top: 14, bottom: 34 };
const ABOVE_CLOSED_TOP_M = 0.02;
const ABOVE_OPEN_TOP_M = 0.3;
const ABOVE_HIGH_LAMP_M = 0.6;
/** Thickness walls are drawn with when they have none given. */
export const SHEET_M = 0.006;

/** Room to draw above the enclosure, in steps, so that the scale does not change while a lamp moves. */
export function headroom(d: PlanDocument): number {
  if (d.enclosure.walls.top.kind === "solid") return ABOVE_CLOSED_TOP_M;
  const highest = Math.max(0, ...(d.fixtures ?? []).map((f) => f.position_m.z_m));
  return highest > d.enclosure.height_m + 0.2 ? ABOVE_HIGH_LAMP_M : ABOVE_OPEN_TOP_M;
}

export function projection(
  enclosure: { length_m: number; height_m: number },
  above: number,
  width: number,
  mostHeight: number,
): Projection {
  const top = enclosure.height_m + above;
  const across = width - MARGIN.left - MARGIN.right;
  const scale = Math.min(
    across / (enclosure.length_m + 0.04),
    (mostHeight - MARGIN.top - MARGIN.bottom) / (top + 0.02),
  );
  const left = MARGIN.left + (across - scale * enclosure.length_m) / 2;
  const floor = MARGIN.top + scale * top;
  return {
    scale,
    width,
    height: floor + scale * 0.02 + MARGIN.bottom,
    x: (m) => left + scale * m,
    y: (z) => floor - scale * z,
    toX: (px) => (px - left) / scale,
    toZ: (px) => (floor - px) / scale,
  };
}
