import { scaleLinear, scaleSqrt } from "d3-scale";
import { line as path } from "d3-shape";
import { useMemo, useState } from "react";
import type { Curves, LampCurves } from "../../api/types";
import { fixed, show, unitFormat } from "../../domain/units/units";
import { usePreferences } from "../../ui/preferences";
import { useWidth } from "../../ui/useWidth";
import { STYLES } from "./library";

export type Quantity = "uvi" | "irradiance";

interface CurveChartProps {
  curves: Curves;
  quantity: Quantity;
  /** A band that is wanted, in the chart's quantity. */
  wanted: { low: number; high: number } | null;
}

interface Line {
  key: string;
  lamp: number;
  /** How it is drawn: bare is solid, through the screen dashed; aged is thinner. */
  dash: string | undefined;
  width: number;
  what: string;
  values: readonly number[];
}

const MARGIN = { left: 44, right: 16, top: 14, bottom: 40 };
const NEAREST = 0.1;
const FARTHEST = 1;
const TICKS: Record<Quantity, readonly number[]> = {
  uvi: [0, 0.5, 1, 2, 3, 4, 6, 8, 11, 15, 20],
  irradiance: [0, 25, 50, 100, 200, 400, 800, 1600],
};

/** All four curves of every lamp: bare or through the screen, new or aged. */
export function linesOf(lamps: readonly LampCurves[], quantity: Quantity): Line[] {
  const pick = (c: LampCurves["bare"]) => (quantity === "uvi" ? c.uvi : c.irradiance_w_m2);
  return lamps.flatMap((l, lamp) => {
    const made: Line[] = [];
    const add = (
      curve: LampCurves["bare"] | null,
      what: string,
      dash: string | undefined,
      width: number,
    ) => {
      if (curve && pick(curve).some((v) => v > 0)) {
        made.push({ key: `${l.lamp_id} ${what}`, lamp, what, dash, width, values: pick(curve) });
      }
    };
    add(l.bare, "bare", undefined, 2.6);
    add(l.screened, "through the screen", "7 4", 2.6);
    // Heat and light are taken to stay while UV falls, so ageing shows in UV alone.
    if (quantity === "uvi") {
      const hours = fixed(l.aged_hours ?? 0, 0);
      add(l.aged_bare, `bare after ${hours} h`, undefined, 1.1);
      add(l.aged_screened, `through the screen after ${hours} h`, "7 4", 1.1);
    }
    return made;
  });
}

/** Readings against distance. The scale rises with the square root, as the enclosure's fields are coloured. */
export function CurveChart({ curves, quantity, wanted }: CurveChartProps) {
  const { units } = usePreferences();
  const [frame, width] = useWidth<HTMLDivElement>(640);
  const [at, setAt] = useState<number | null>(null);
  const height = Math.round(Math.min(400, Math.max(260, width * 0.48)));
  const lines = useMemo(() => linesOf(curves.lamps, quantity), [curves, quantity]);
  const high = useMemo(() => {
    let top = quantity === "uvi" ? 4 : 100;
    for (const line of lines) {
      curves.distance_m.forEach((d, i) => {
        if (d >= 0.15) top = Math.max(top, line.values[i] ?? 0);
      });
    }
    return top * 1.05;
  }, [lines, curves, quantity]);
  const inner = { w: width - MARGIN.left - MARGIN.right, h: height - MARGIN.top - MARGIN.bottom };
  const x = scaleLinear([NEAREST, FARTHEST], [MARGIN.left, MARGIN.left + inner.w]);
  const root = scaleSqrt([0, high], [MARGIN.top + inner.h, MARGIN.top]);
  // What lies far above is cut off, so it is not followed all the way up.
  const y = (v: number) => root(Math.min(v, high * 1.2));
  const course = (values: readonly number[]) =>
    path<number>(
      (d) => x(d),
      (_, i) => y(values[i] ?? 0),
    ).digits(1);
  const ticks = TICKS[quantity].filter((t) => t <= high);
  const format = unitFormat(units, "length");
  const step = units === "metric" ? 0.1 : 0.1016;
  const marks = Array.from({ length: 12 }, (_, i) => (i + 1) * step).filter(
    (d) => d >= NEAREST - 1e-9 && d <= FARTHEST + 1e-9,
  );
  const read = (line: Line, d: number) => interpolate(curves.distance_m, line.values, d);
  const unit = quantity === "uvi" ? "" : " W/m²";

  return (
    <div>
      <div ref={frame} className="relative" style={{ height }}>
        <svg
          className="absolute inset-0 touch-pan-y"
          width={width}
          height={height}
          role="img"
          aria-label={`${quantity === "uvi" ? "UV index" : "Irradiance"} against distance; the same figures are in the table below`}
          data-testid="curves"
          onPointerMove={(e) => {
            const px = e.clientX - e.currentTarget.getBoundingClientRect().left;
            const d = x.invert(px);
            setAt(d >= NEAREST && d <= FARTHEST ? d : null);
          }}
          onPointerLeave={() => setAt(null)}
        >
          <clipPath id="curve-area">
            <rect x={MARGIN.left} y={MARGIN.top - 4} width={inner.w} height={inner.h + 4} />
          </clipPath>
          {wanted && (
            <rect
              x={MARGIN.left}
              y={y(wanted.high)}
              width={inner.w}
              height={Math.max(1, y(wanted.low) - y(wanted.high))}
              className="fill-fit-wash"
            />
          )}
          {ticks.map((t) => (
            <g key={t}>
              <line
                x1={MARGIN.left}
                x2={MARGIN.left + inner.w}
                y1={y(t)}
                y2={y(t)}
                className="stroke-line"
              />
              <text
                x={MARGIN.left - 7}
                y={y(t)}
                dy="0.35em"
                textAnchor="end"
                className="fill-soft text-[12px]"
              >
                {fixed(t, 1, true)}
              </text>
            </g>
          ))}
          {marks.map((d) => (
            <g key={d}>
              <line
                x1={x(d)}
                x2={x(d)}
                y1={MARGIN.top + inner.h}
                y2={MARGIN.top + inner.h + 5}
                className="stroke-edge"
              />
              <text
                x={x(d)}
                y={MARGIN.top + inner.h + 18}
                textAnchor="middle"
                className="fill-soft text-[12px]"
              >
                {fixed(format.toShown(d), 0)}
              </text>
            </g>
          ))}
          <text
            x={MARGIN.left + inner.w}
            y={height - 5}
            textAnchor="end"
            className="fill-soft text-[12px]"
          >
            distance below the lamp, {format.suffix}
          </text>
          <g clipPath="url(#curve-area)">
            {lines.map((line) => (
              <path
                key={line.key}
                d={course(line.values)(curves.distance_m) ?? undefined}
                fill="none"
                className={STYLES[line.lamp]?.stroke}
                strokeWidth={line.width}
                strokeDasharray={line.dash}
              />
            ))}
          </g>
          {lines
            .filter((l) => l.what === "bare")
            .map((l) => (
              <text
                key={l.key}
                x={x(FARTHEST) + 3}
                y={y(read(l, FARTHEST))}
                dy="0.35em"
                className={`${STYLES[l.lamp]?.fill} text-[12px]`}
              >
                {STYLES[l.lamp]?.mark}
              </text>
            ))}
          {at !== null && (
            <g>
              <line
                x1={x(at)}
                x2={x(at)}
                y1={MARGIN.top}
                y2={MARGIN.top + inner.h}
                className="stroke-ink"
                strokeDasharray="2 3"
              />
              {lines.map((line) => (
                <circle
                  key={line.key}
                  cx={x(at)}
                  cy={y(read(line, at))}
                  r={3.5}
                  className={STYLES[line.lamp]?.fill}
                />
              ))}
            </g>
          )}
        </svg>
      </div>
      <p className="min-h-6 px-1 text-sm" data-testid="curve-reading">
        {at === null ? (
          <span className="text-soft">Point at the curves to read them.</span>
        ) : (
          <span className="font-medium">
            At {show(at, "length", units, units === "metric" ? 0 : 1)}:{" "}
            {lines
              .filter((l) => l.width > 2)
              .map(
                (l) =>
                  `${STYLES[l.lamp]?.mark} ${l.what} ${fixed(read(l, at), quantity === "uvi" ? 1 : 0)}${unit}`,
              )
              .join("   ")}
          </span>
        )}
      </p>
    </div>
  );
}

/** Linear in the logarithms, as the curves fall like powers. */
export function interpolate(xs: readonly number[], ys: readonly number[], x: number): number {
  let i = xs.findIndex((v) => v >= x);
  if (i < 0) i = xs.length - 1;
  if (i === 0) return ys[0] ?? 0;
  const [x0, x1, y0, y1] = [xs[i - 1] ?? 0, xs[i] ?? 0, ys[i - 1] ?? 0, ys[i] ?? 0];
  if (y0 <= 0 || y1 <= 0) return 0;
  const t = Math.log(x / x0) / Math.log(x1 / x0);
  return Math.exp(Math.log(y0) * (1 - t) + Math.log(y1) * t);
}
