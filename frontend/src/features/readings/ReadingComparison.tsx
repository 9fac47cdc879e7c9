import clsx from "clsx";
import type { Expected, ReadingKind } from "../../api/types";
import { expectedText, sideOf, valueText } from "../../domain/readings/kinds";
import type { UnitSystem } from "../../domain/units/units";
import { usePreferences } from "../../ui/preferences";
import { STATUS_INK, STATUS_MARK } from "../../ui/status";

const WORD = { low: "lower than expected", ok: "as expected", high: "higher than expected" };

interface ReadingComparisonProps {
  value: number;
  expected: Expected;
  kind: ReadingKind;
  units?: UnitSystem;
}

/** A reading against what was predicted: a sentence and a line with the middle 80 %. */
export function ReadingComparison({ value, expected, kind, units }: ReadingComparisonProps) {
  const preferred = usePreferences().units;
  const system = units ?? preferred;
  const side = sideOf(value, expected);
  return (
    <div>
      <p className={clsx("text-sm font-semibold", STATUS_INK[side])} data-side={side}>
        <span aria-hidden="true">{STATUS_MARK[side]} </span>
        {WORD[side]}
        <span className="font-normal text-soft">
          {" "}
          ({expectedText(expected, kind, system)}, middle {valueText(expected.value, kind, system)})
        </span>
      </p>
      <Line value={value} expected={expected} />
    </div>
  );
}

/** The interval as a bar, the prediction as a notch in it, the reading as a mark. */
export function Line({ value, expected }: { value: number; expected: Expected }) {
  const { low, high } = expected;
  const from = Math.min(low, value);
  const to = Math.max(high, value);
  const wide = Math.max(to - from, 1e-6);
  const x = (v: number) => 6 + (188 * (v - from)) / wide;
  return (
    <svg viewBox="0 0 200 16" className="mt-1 h-4 w-full max-w-72" aria-hidden="true">
      <line x1={4} x2={196} y1={8} y2={8} className="stroke-line" strokeWidth={2} />
      <rect x={x(low)} width={x(high) - x(low)} y={4} height={8} rx={2} className="fill-wash" />
      <rect
        x={x(low)}
        width={x(high) - x(low)}
        y={4}
        height={8}
        rx={2}
        className="fill-none stroke-edge"
      />
      <line
        x1={x(expected.value)}
        x2={x(expected.value)}
        y1={3}
        y2={13}
        className="stroke-soft"
        strokeWidth={1.5}
      />
      <path
        d={`M${x(value)} 1 l5 7 l-5 7 l-5 -7Z`}
        className={clsx(
          "stroke-panel",
          { low: "fill-low", ok: "fill-fit", high: "fill-high" }[sideOf(value, expected)],
        )}
      />
    </svg>
  );
}
