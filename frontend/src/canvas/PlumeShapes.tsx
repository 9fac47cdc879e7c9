import { useId } from "react";
import type { Section } from "../api/types";
import type { FieldScale } from "./fields";
import type { Projection } from "./projection";
import { rampCss } from "./ramps";

interface PlumeShapesProps {
  section: Section;
  scale: FieldScale;
  projection: Projection;
}

type Plume = Section["plumes"][number];

/** Warm air that rises from slabs, lamps and heaters: narrow streams that widen and fade upwards. */
export function PlumeShapes({ section, scale, projection: p }: PlumeShapesProps) {
  const id = useId();
  return (
    <g aria-hidden="true" className="pointer-events-none" data-testid="plumes">
      {section.plumes.map((plume, number) => {
        const [foot, top] = [plume.z_m[0] ?? 0, plume.z_m.at(-1) ?? 0];
        if (top - foot < 0.01) return null;
        const paint = `${id}plume${number}`;
        return (
          <g key={number}>
            <linearGradient id={paint} x1="0" x2="0" y1="1" y2="0">
              {plume.z_m.map((z, i) => (
                <stop
                  key={i}
                  offset={(z - foot) / (top - foot)}
                  stopColor={rampCss("heat", scale.share(plume.air_c[i] ?? 0))}
                  stopOpacity={0.85 - (0.5 * (z - foot)) / (top - foot)}
                />
              ))}
            </linearGradient>
            <path d={outline(plume, p)} fill={`url(#${paint})`} style={{ filter: "blur(3px)" }} />
            <path
              d={`M${p.x(plume.x_m)} ${p.y(foot)}V${p.y(top) + 4}m-4 7l4 -7l4 7`}
              className="fill-none stroke-ink"
              strokeOpacity={0.45}
              strokeWidth={1.25}
            />
          </g>
        );
      })}
    </g>
  );
}

/** Up its left side and down its right. */
function outline(plume: Plume, p: Projection): string {
  const side = (way: -1 | 1) =>
    plume.z_m.map((z, i) => `${p.x(plume.x_m + way * (plume.radius_m[i] ?? 0))} ${p.y(z)}`);
  return `M${[...side(-1), ...side(1).reverse()].join("L")}Z`;
}
