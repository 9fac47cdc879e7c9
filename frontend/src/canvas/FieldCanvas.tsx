import { useLayoutEffect, useRef } from "react";
import { fieldImage } from "./fieldImage";
import type { Field, FieldScale } from "./fields";
import type { Projection } from "./projection";

interface FieldCanvasProps {
  field: Field | null;
  scale: FieldScale | null;
  projection: Projection;
}

/** The field as smooth colour behind the drawing; what puts the page on the screen stretches it, as it does a texture. */
export function FieldCanvas({ field, scale, projection: p }: FieldCanvasProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useLayoutEffect(() => {
    if (canvas.current && field && scale) fieldImage(field, scale, canvas.current);
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
