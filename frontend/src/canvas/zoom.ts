/** A part of the drawing, enlarged: which part, and how a pointer, a pinch or a key changes it. */
import type { Projection } from "./projection";

/** How much it is enlarged, and the point of the whole drawing at the upper left corner, px. */
export interface Zoom {
  readonly factor: number;
  readonly x: number;
  readonly y: number;
}

type Size = Pick<Projection, "width" | "height">;

export const WHOLE: Zoom = { factor: 1, x: 0, y: 0 };
const MOST = 8;

/** Nothing beyond the edges of the drawing is looked at. */
function within({ factor, x, y }: Zoom, { width, height }: Size): Zoom {
  const room = 1 - 1 / factor;
  return {
    factor,
    x: Math.min(Math.max(0, x), width * room),
    y: Math.min(Math.max(0, y), height * room),
  };
}

/** Enlarged by a ratio more, the point under a pixel of the screen staying under it. */
export function zoomedAt(zoom: Zoom, by: number, px: number, py: number, size: Size): Zoom {
  const factor = Math.min(MOST, Math.max(1, zoom.factor * by));
  return within(
    {
      factor,
      x: zoom.x + px / zoom.factor - px / factor,
      y: zoom.y + py / zoom.factor - py / factor,
    },
    size,
  );
}

/** Moved by pixels of the screen. */
export const panned = (zoom: Zoom, dx: number, dy: number, size: Size): Zoom =>
  within({ ...zoom, x: zoom.x - dx / zoom.factor, y: zoom.y - dy / zoom.factor }, size);

/** The projection of the part that is looked at. */
export function zoomed(p: Projection, { factor, x, y }: Zoom): Projection {
  if (factor === 1) return p;
  return {
    scale: p.scale * factor,
    width: p.width,
    height: p.height,
    x: (m) => (p.x(m) - x) * factor,
    y: (z) => (p.y(z) - y) * factor,
    toX: (px) => p.toX(px / factor + x),
    toZ: (px) => p.toZ(px / factor + y),
  };
}
