import { useEffect, useRef } from "react";
import { FIELD_RAMP, type Field, type FieldScale } from "./fields";
import type { Projection } from "./projection";
import { rampRgb } from "./ramps";

interface FieldCanvasProps {
  field: Field | null;
  scale: FieldScale | null;
  projection: Projection;
}

/** The field as smooth colour behind the drawing. */
export function FieldCanvas({ field, scale, projection: p }: FieldCanvasProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const target = canvas.current;
    const context = target?.getContext("2d");
    if (!target || !context) return;
    const ratio = Math.min(2, window.devicePixelRatio || 1);
    target.width = Math.round(p.width * ratio);
    target.height = Math.round(p.height * ratio);
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    context.clearRect(0, 0, p.width, p.height);
    if (!field || !scale) return;
    const small = document.createElement("canvas");
    small.width = field.nx;
    small.height = field.nz;
    const pen = small.getContext("2d");
    if (!pen) return;
    const image = pen.createImageData(field.nx, field.nz);
    const ramp = FIELD_RAMP[field.name];
    for (let k = 0; k < field.nz; k++) {
      for (let i = 0; i < field.nx; i++) {
        const [r, g, b] = rampRgb(ramp, scale.share(field.values[k * field.nx + i] ?? 0));
        image.data.set([r, g, b, 255], 4 * ((field.nz - 1 - k) * field.nx + i));
      }
    }
    pen.putImageData(image, 0, 0);
    // Samples sit on the edges of the enclosure, so the picture reaches half a sample beyond it.
    const dx = (field.x1 - field.x0) / (field.nx - 1);
    const dz = (field.z1 - field.z0) / (field.nz - 1);
    const [left, right] = [p.x(field.x0), p.x(field.x1)];
    const [top, bottom] = [p.y(field.z1), p.y(field.z0)];
    context.save();
    context.beginPath();
    context.rect(left, top, right - left, bottom - top);
    context.clip();
    context.imageSmoothingEnabled = true;
    context.imageSmoothingQuality = "high";
    context.drawImage(
      small,
      p.x(field.x0 - dx / 2),
      p.y(field.z1 + dz / 2),
      p.scale * (field.x1 - field.x0 + dx),
      p.scale * (field.z1 - field.z0 + dz),
    );
    context.restore();
  }, [field, scale, p]);
  return (
    <canvas
      ref={canvas}
      aria-hidden="true"
      className="pointer-events-none absolute inset-0 size-full"
    />
  );
}
