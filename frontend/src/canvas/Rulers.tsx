import type { PlanDocument } from "../api/types";
import type { UnitSystem } from "../domain/units/units";
import type { Projection } from "./projection";

interface RulersProps {
  document: PlanDocument;
  projection: Projection;
  units: UnitSystem;
}

/** Scales along the floor and up the left side, from the inside corner. */
export function Rulers({ document: d, projection: p, units }: RulersProps) {
  const unit = units === "metric" ? 0.01 : 0.0254;
  const wanted = 46 / (p.scale * unit);
  const step = [1, 2, 5, 10, 20, 50, 100].find((s) => s >= wanted) ?? 200;
  const ticks = (extent: number) =>
    Array.from({ length: Math.floor(extent / (step * unit)) + 1 }, (_, i) => i * step);
  // Enlarged, they stay at the edges.
  const bottom = Math.min(p.y(0) + p.scale * 0.02 + 5, p.height - 30);
  const left = Math.max(p.x(0) - p.scale * 0.02 - 5, 30);
  const over = p.x(0) < 30 || p.y(0) > p.height - 30;
  return (
    <g
      aria-hidden="true"
      className="pointer-events-none fill-soft stroke-ground text-[11px]"
      strokeWidth={over ? 3 : 0}
      paintOrder="stroke"
    >
      {ticks(d.enclosure.length_m).map((n) => (
        <g key={`x${n}`}>
          <line
            x1={p.x(n * unit)}
            x2={p.x(n * unit)}
            y1={bottom}
            y2={bottom + 4}
            className="stroke-edge"
          />
          <text x={p.x(n * unit)} y={bottom + 15} textAnchor="middle">
            {n}
          </text>
        </g>
      ))}
      {ticks(d.enclosure.height_m).map((n) => (
        <g key={`z${n}`}>
          <line
            x1={left - 4}
            x2={left}
            y1={p.y(n * unit)}
            y2={p.y(n * unit)}
            className="stroke-edge"
          />
          <text x={left - 7} y={p.y(n * unit)} dy="0.35em" textAnchor="end">
            {n}
          </text>
        </g>
      ))}
      <text x={Math.min(p.x(d.enclosure.length_m), p.width - 4)} y={bottom + 28} textAnchor="end">
        {units === "metric" ? "cm" : "in"}
      </text>
    </g>
  );
}
