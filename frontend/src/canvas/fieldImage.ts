import { FIELD_RAMP, type Field, type FieldScale } from "./fields";
import { rampRgb } from "./ramps";

/** Paint a field into a canvas, one sample for each pixel, its top row first; a canvas is made if none is given. */
export function fieldImage(
  field: Field,
  scale: FieldScale,
  target: HTMLCanvasElement = document.createElement("canvas"),
): HTMLCanvasElement {
  const { nx, nz } = field;
  const pen = target.getContext("2d");
  if (!pen) return target;
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
  return target;
}
