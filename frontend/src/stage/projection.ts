/** From metres in the box to pixels on the drawing, front view. */
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
const ABOVE_OPEN_TOP_M = 0.3;
/** Thickness walls are drawn with when they have none of their own. */
export const SHEET_M = 0.006;

export function projection(d: PlanDocument, width: number, mostHeight: number): Projection {
  const above = d.box.walls.top.kind === "solid" ? 0.02 : ABOVE_OPEN_TOP_M;
  const lamps = (d.fixtures ?? []).map((f) => f.position_m.z_m + 0.08);
  const top = Math.max(d.box.height_m + above, ...lamps);
  const across = width - MARGIN.left - MARGIN.right;
  const scale = Math.min(
    across / (d.box.length_m + 0.04),
    (mostHeight - MARGIN.top - MARGIN.bottom) / (top + 0.02),
  );
  const left = MARGIN.left + (across - scale * d.box.length_m) / 2;
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
