import type { Evaluation, PlanDocument } from "../api/types";
import { fixed, show, type UnitSystem, unitFormat } from "../domain/units/units";
import type { FieldName } from "./fields";
import type { Label, Placed } from "./labels";
import { Plate } from "./Plate";
import type { Projection } from "./projection";

type Height = Evaluation["heights"][number];

/** What is written at the height of a perch. */
export interface HeightLabel extends Label {
  up: string;
  text: string;
  /** Where its line begins, px; none leads to the ground. */
  from: readonly [number, number] | null;
}

interface HeightLabelsInput {
  document: PlanDocument;
  evaluation: Evaluation | null;
  field: FieldName;
  projection: Projection;
  units: UnitSystem;
}

/** Room for a mark beside the enclosure, px. */
const BESIDE = 96;
/** Inside it, marks lower than this would lie on those of the ends, m. */
const LOWEST_INSIDE_M = 0.3;
const HEIGHT_PX = 32;

/** What the field shown is at the height of each perch: beside the enclosure, or along its right wall. */
export function heightLabels(input: HeightLabelsInput): HeightLabel[] {
  const { document: d, evaluation, field, projection: p, units } = input;
  const t = unitFormat(units, "temperature");
  const right = p.x(d.enclosure.length_m);
  const beside = p.width - right > BESIDE;
  const figure = (h: Height): string | null => {
    const degrees = (c: number) => `${fixed(t.toShown(c), 0)}°`;
    if (field === "air") return `probe ${degrees(h.probe_c)}`;
    if (field === "surface") return h.thing ? degrees(h.surface_c) : null;
    if (field === "uvi") return `UVI ${fixed(h.uvi_facing, 1)}`;
    if (field === "humidity" && h.relative_humidity !== null)
      return `${fixed(100 * h.relative_humidity, 0)} %`;
    return null;
  };
  return (evaluation?.heights ?? []).flatMap((h) => {
    const text = figure(h);
    // The ground stands at the ends already.
    if (text === null || h.above_ground_m <= (beside ? 0 : LOWEST_INSIDE_M)) return [];
    const y = p.y(d.substrate.depth_m + h.above_ground_m);
    const up = `${show(h.above_ground_m, "length", units, 0)} up`;
    const width = 10 + 6.6 * Math.max(text.length, up.length);
    const left = beside ? right + 14 : right - width - 6;
    return [
      {
        id: `height-${h.label}`,
        up,
        text,
        width,
        height: HEIGHT_PX,
        wanted: [left, y - HEIGHT_PX / 2] as const,
        from: h.thing ? ([p.x(h.x_m), y] as const) : null,
      },
    ];
  });
}

interface HeightMarksProps {
  labels: readonly HeightLabel[];
  boxes: ReadonlyMap<string, Placed>;
}

export function HeightMarks({ labels, boxes }: HeightMarksProps) {
  return (
    <g aria-hidden="true" className="pointer-events-none" data-testid="height-marks">
      {labels.map(({ id, up, text, from }) => {
        const box = boxes.get(id);
        if (!box) return null;
        const { x, y, width, height } = box;
        return (
          <g key={id} data-testid={`mark-${id}`}>
            {from && (
              <line
                x1={from[0]}
                y1={from[1]}
                x2={x - 2}
                y2={Math.min(Math.max(from[1], y), y + height)}
                className="stroke-ink"
                strokeDasharray="2 4"
                strokeOpacity={0.6}
              />
            )}
            <Plate box={box} />
            <text
              x={x + width / 2}
              y={y + 13}
              textAnchor="middle"
              className="fill-soft text-[11px]"
            >
              {up}
            </text>
            <text
              x={x + width / 2}
              y={y + 27}
              textAnchor="middle"
              className="fill-ink text-[13px] font-bold"
            >
              {text}
            </text>
          </g>
        );
      })}
    </g>
  );
}
