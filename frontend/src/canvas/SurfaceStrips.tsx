import { useId } from "react";
import type { PlanDocument, Section } from "../api/types";
import { bandsOf } from "../domain/plan/ground";
import type { FieldScale } from "./fields";
import type { Projection } from "./projection";
import { rampCss } from "./ramps";

interface SurfaceStripsProps {
  section: Section;
  scale: FieldScale;
  projection: Projection;
  /** How thick they are drawn, px. */
  thick: number;
}

/** The ground in colour, down to its bottom, on the scale of the surfaces. */
interface GroundOutlinesProps {
  substrate: PlanDocument["substrate"];
  length: number;
  projection: Projection;
}

export function GroundColours({
  section,
  scale,
  projection: p,
}: Omit<SurfaceStripsProps, "thick">) {
  const id = useId();
  const { x_m: xs, z_m: zs, temperature_c: rows } = section.ground;
  const [bottom, top] = [zs[0] ?? 0, zs.at(-1) ?? 0];
  if (top - bottom <= 0) return null;
  const step = xs.length > 1 ? (xs[1] ?? 0) - (xs[0] ?? 0) : 0.05;
  return (
    <g aria-hidden="true" className="pointer-events-none" data-testid="ground-colours">
      {xs.map((x, i) => (
        <g key={x}>
          <linearGradient id={`${id}${i}`} x1="0" x2="0" y1="1" y2="0">
            {zs.map((z, level) => (
              <stop
                key={z}
                offset={(z - bottom) / (top - bottom)}
                stopColor={rampCss("heat", scale.share(rows[level]?.[i] ?? 0))}
              />
            ))}
          </linearGradient>
          <rect
            x={p.x(x - step / 2)}
            y={p.y(top)}
            width={p.scale * step + 0.6}
            height={p.scale * (top - bottom)}
            fill={`url(#${id}${i})`}
          />
        </g>
      ))}
    </g>
  );
}

/** Where layers end and burrows lie, over the colours of the ground. */
export function GroundOutlines({ substrate, length, projection: p }: GroundOutlinesProps) {
  return (
    <g aria-hidden="true" className="pointer-events-none" data-testid="ground-outlines">
      {bandsOf(substrate)
        .filter((band) => band.low > 0)
        .map((band) => (
          <path
            key={band.low}
            d={`M${p.x(0)} ${p.y(band.low)}H${p.x(length)}`}
            className="stroke-ink"
            strokeWidth={1}
            strokeDasharray="4 3"
          />
        ))}
      {(substrate.burrows ?? []).map((burrow) => {
        const [x, y] = [p.x(burrow.x_m), p.y(substrate.depth_m - burrow.depth_m)];
        const wide = p.scale * burrow.diameter_m;
        return (
          <g key={burrow.id} className="fill-none stroke-ink" strokeWidth={1.5}>
            <path d={`M${p.x(burrow.mouth_x_m)} ${p.y(substrate.depth_m)}L${x} ${y}`} />
            <ellipse cx={x} cy={y} rx={0.7 * wide} ry={0.5 * wide} />
          </g>
        );
      })}
    </g>
  );
}

/** Surface temperatures as strips on the ground, slabs, roofs and branches, on the scale of the air. */
export function SurfaceStrips({ section, scale, projection: p, thick }: SurfaceStripsProps) {
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
                height={thick}
                fill={rampCss("heat", scale.share(surface.temperature_c[i] ?? 0))}
              />
            ))}
          </g>
        );
      })}
      {section.branches.map((branch) => (
        <g key={branch.id}>
          {branch.x_m.map((x, i) => {
            const [half, rise] = halfStep(branch, i);
            const z = branch.z_m[i] ?? 0;
            return (
              <line
                key={`${x} ${z}`}
                x1={p.x(x - half)}
                x2={p.x(x + half)}
                y1={p.y(z - rise)}
                y2={p.y(z + rise)}
                strokeWidth={thick}
                stroke={rampCss("heat", scale.share(branch.temperature_c[i] ?? 0))}
              />
            );
          })}
        </g>
      ))}
    </g>
  );
}

type Course = Section["branches"][number];

/** Half of the way to the next piece of a branch, along and up, m. */
function halfStep({ x_m: x, z_m: z }: Course, i: number): [number, number] {
  const a = i > 0 ? i - 1 : i;
  const b = i > 0 ? i : Math.min(i + 1, x.length - 1);
  const step = (of: readonly number[]) => ((of[b] ?? 0) - (of[a] ?? 0)) / 2;
  return a === b ? [0.02, 0] : [step(x), step(z)];
}
