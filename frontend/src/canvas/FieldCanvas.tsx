import { useLayoutEffect, useRef } from "react";
import { FIELD_RAMP, type Field, type FieldScale } from "./fields";
import type { Projection } from "./projection";
import { rampRgb } from "./ramps";

interface FieldCanvasProps {
  field: Field | null;
  scale: FieldScale | null;
  projection: Projection;
}

/** One sample for each pixel; what puts the page on the screen stretches it, as it does a texture. */
function paint(target: HTMLCanvasElement, field: Field, scale: FieldScale): void {
  const { nx, nz } = field;
  const pen = target.getContext("2d");
  if (!pen) return;
  if (target.width !== nx || target.height !== nz) {
    target.width = nx;
    target.height = nz;
  }
  const image = pen.createImageData(nx, nz);
  const pixels = new Uint32Array(image.data.buffer);
  const ramp = FIELD_RAMP[field.name];
  for (let k = 0; k < nz; k++) {
    const row = (nz - 1 - k) * nx;
    for (let i = 0; i < nx; i++) {
      const [r, g, b] = rampRgb(ramp, scale.share(field.values[k * nx + i] ?? 0));
      // Little-endian: alpha, blue, green, red.
      pixels[row + i] = (255 << 24) | (b << 16) | (g << 8) | r;
    }
  }
  pen.putImageData(image, 0, 0);
}

/** The field as smooth colour behind the drawing. */
export function FieldCanvas({ field, scale, projection: p }: FieldCanvasProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useLayoutEffect(() => {
    if (canvas.current && field && scale) paint(canvas.current, field, scale);
  }, [field, scale]);
  if (!field || !scale) return null;
  // Samples sit on the edges of the enclosure, so the picture reaches half a sample beyond it.
  const dx = (p.scale * (field.x1 - field.x0)) / (field.nx - 1);
  const dz = (p.scale * (field.z1 - field.z0)) / (field.nz - 1);
  const [left, top] = [p.x(field.x0), p.y(field.z1)];
  const [width, height] = [p.x(field.x1) - left, p.y(field.z0) - top];
  return (
    <div
      aria-hidden="true"
      className="pointer-events-none absolute overflow-hidden"
      style={{ left, top, width, height }}
    >
      <canvas
        ref={canvas}
        data-testid="field"
        className="absolute max-w-none"
        style={{ left: -dx / 2, top: -dz / 2, width: width + dx, height: height + dz }}
      />
    </div>
  );
}
