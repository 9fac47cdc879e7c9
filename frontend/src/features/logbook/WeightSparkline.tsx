import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { dayText } from "../../domain/logbook/days";
import { type Dimension, fixed, show, unitFormat } from "../../domain/units/units";
import { usePreferences } from "../../ui/preferences";

interface WeightSparklineProps {
  label: string;
  points: readonly { at: string; value: number }[];
  dimension: Dimension;
}

const WIDTH = 320;
const HEIGHT = 92;
const LEFT = 40;
const BOTTOM = 16;

/** How a weight or a length went, drawn to its time. */
export function WeightSparkline({ label, points, dimension }: WeightSparklineProps) {
  const { units } = usePreferences();
  const last = points.at(-1);
  const first = points[0];
  if (!last || !first) return null;
  const format = unitFormat(units, dimension);
  const times = points.map((p) => new Date(p.at).getTime());
  const values = points.map((p) => format.toShown(p.value));
  const [begin, end] = [Math.min(...times), Math.max(...times)];
  const low = Math.min(...values);
  const high = Math.max(...values);
  // Some room above and below, so that a steady course is a flat line in the middle.
  const pad = Math.max((high - low) * 0.15, high * 0.03);
  const [floor, top] = [Math.max(0, low - pad), high + pad];
  const x = scaleLinear([begin, Math.max(begin + 1, end)], [LEFT, WIDTH - 8]);
  const y = scaleLinear([floor, top], [HEIGHT - BOTTOM, 6]);
  const path = line<number>(
    (t) => x(t),
    (_, i) => y(values[i] ?? 0),
  )(times);
  const spoken = `${label}: ${show(first.value, dimension, units)} on ${dayText(first.at)}, ${show(last.value, dimension, units)} on ${dayText(last.at)}, ${points.length} in all.`;
  return (
    <figure>
      <figcaption className="text-soft">
        {label}, {format.suffix}
      </figcaption>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={spoken} className="w-full">
        <line x1={LEFT} x2={WIDTH - 8} y1={y(low)} y2={y(low)} className="stroke-line" />
        <line x1={LEFT} x2={WIDTH - 8} y1={y(high)} y2={y(high)} className="stroke-line" />
        <g className="fill-soft text-[11px]">
          <text x={LEFT - 4} y={y(high) + 4} textAnchor="end">
            {fixed(high, format.digits, true)}
          </text>
          {low < high && (
            <text x={LEFT - 4} y={y(low) + 4} textAnchor="end">
              {fixed(low, format.digits, true)}
            </text>
          )}
          <text x={LEFT} y={HEIGHT - 3}>
            {dayText(first.at)}
          </text>
          {begin < end && (
            <text x={WIDTH - 8} y={HEIGHT - 3} textAnchor="end">
              {dayText(last.at)}
            </text>
          )}
        </g>
        <path d={path ?? undefined} className="fill-none stroke-accent" strokeWidth={2} />
        {times.map((t, i) => (
          <circle key={t} cx={x(t)} cy={y(values[i] ?? 0)} r={2.5} className="fill-accent" />
        ))}
      </svg>
    </figure>
  );
}
