import type { Evaluation, PlanDocument } from "../api/types";
import { fixed, show, unitFormat } from "../domain/units/units";
import { usePreferences } from "../ui/preferences";
import type { FieldName } from "./fields";
import type { Projection } from "./projection";

interface HeightMarksProps {
  document: PlanDocument;
  evaluation: Evaluation | null;
  field: FieldName;
  projection: Projection;
}

type Height = Evaluation["heights"][number];

/** Room for a mark beside the enclosure, px. */
const BESIDE = 96;
/** Inside it, marks lower than this would lie on those of the ends, m. */
const LOWEST_INSIDE_M = 0.3;

/** What the field shown is at the height of each perch: beside the enclosure, or along its right wall. */
export function HeightMarks({ document: d, evaluation, field, projection: p }: HeightMarksProps) {
  const { units } = usePreferences();
  const t = unitFormat(units, "temperature");
  const right = p.x(d.enclosure.length_m);
  const beside = p.width - right > BESIDE;
  // The ground stands at the ends already.
  const heights = (evaluation?.heights ?? []).filter(
    (h) => h.above_ground_m > (beside ? 0 : LOWEST_INSIDE_M),
  );
  const figure = (h: Height): string | null => {
    const degrees = (c: number) => `${fixed(t.toShown(c), 0)}°`;
    if (field === "air") return `probe ${degrees(h.probe_c)}`;
    if (field === "surface") return h.thing ? degrees(h.surface_c) : null;
    if (field === "uvi") return `UVI ${fixed(h.uvi_facing, 1)}`;
    if (field === "humidity" && h.relative_humidity !== null)
      return `${fixed(100 * h.relative_humidity, 0)} %`;
    return null;
  };
  return (
    <g aria-hidden="true" className="pointer-events-none" data-testid="height-marks">
      {heights.map((h) => {
        const text = figure(h);
        if (text === null) return null;
        const y = p.y(d.substrate.depth_m + h.above_ground_m);
        const up = show(h.above_ground_m, "length", units, 0);
        const width = 10 + 6.6 * Math.max(text.length, up.length);
        const left = beside ? right + 14 : right - width - 6;
        return (
          <g key={h.label}>
            {h.thing && (
              <line
                x1={p.x(h.x_m)}
                x2={left - 2}
                y1={y}
                y2={y}
                className="stroke-ink"
                strokeDasharray="2 4"
                strokeOpacity={0.6}
              />
            )}
            <g transform={`translate(${left} ${y - 16})`}>
              <rect
                width={width}
                height={32}
                rx={5}
                className="fill-panel stroke-line"
                fillOpacity={0.92}
              />
              <text x={width / 2} y={13} textAnchor="middle" className="fill-soft text-[11px]">
                {up} up
              </text>
              <text
                x={width / 2}
                y={27}
                textAnchor="middle"
                className="fill-ink text-[13px] font-bold"
              >
                {text}
              </text>
            </g>
          </g>
        );
      })}
    </g>
  );
}
