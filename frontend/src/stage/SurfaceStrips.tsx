import type { Section } from "../api/types";
import type { FieldScale } from "./fields";
import type { Projection } from "./projection";
import { rampCss } from "./ramps";

interface SurfaceStripsProps {
  section: Section;
  scale: FieldScale;
  projection: Projection;
}

const THICK_PX = 6;

/** Surface temperatures as strips on the ground, slabs and roofs, on the scale of the air. */
export function SurfaceStrips({ section, scale, projection: p }: SurfaceStripsProps) {
  return (
    <g aria-hidden="true" className="pointer-events-none">
      {section.surfaces.map((surface) => {
        const xs = surface.x_m;
        const step = xs.length > 1 ? (xs[1] ?? 0) - (xs[0] ?? 0) : 0.05;
        return (
          <g key={surface.id}>
            {xs.map((x, i) => (
              <rect
                key={x}
                x={p.x(x - step / 2)}
                y={p.y(surface.z_m) - 1}
                width={p.scale * step + 0.6}
                height={THICK_PX}
                fill={rampCss("heat", scale.share(surface.temperature_c[i] ?? 0))}
              />
            ))}
          </g>
        );
      })}
    </g>
  );
}
