import { scaleLinear } from "d3-scale";
import { line as curve } from "d3-shape";
import { type KeyboardEvent, type PointerEvent, useMemo, useRef } from "react";
import { fixed, unitFormat } from "../../../domain/units/units";
import { usePreferences } from "../../../ui/preferences";
import { useWidth } from "../../../ui/useWidth";
import { clock, type DaySeries, type PlaceSeries, type Series, valueAt } from "./series";

interface Wanted {
  low: number | null;
  high: number | null;
}

interface DayChartProps {
  series: DaySeries;
  place: PlaceSeries;
  /** What the animal wants of the place's air, its surface and its UV by day. */
  wanted: { probe: Wanted | null; surface: Wanted | null; uvi: Wanted | null };
  hour: number;
  onHour: (hour: number) => void;
}

interface Line {
  series: Series;
  className: string;
  width: number;
  dash?: string;
}

interface Strip {
  key: string;
  title: string;
  tall: number;
  low: number;
  high: number;
  ticks: readonly number[];
  lines: readonly Line[];
  bands: readonly { wanted: Wanted; className: string }[];
  show: (value: number) => string;
}

const LEFT = 46;
const RIGHT = 10;
const TITLE = 17;
const GAP = 9;
const AXIS = 22;
const STEP_H = 0.5;

/** Temperature, UV, humidity and power over the day on one axis of time, with a marker to drag. */
export function DayChart({ series, place, wanted, hour, onHour }: DayChartProps) {
  const { units } = usePreferences();
  const [frame, width] = useWidth<HTMLDivElement>(720);
  const dragging = useRef(false);
  const strips = useMemo(
    () => stripsOf(series, place, wanted, units),
    [series, place, wanted, units],
  );
  const inner = Math.max(120, width - LEFT - RIGHT);
  const x = scaleLinear([0, 24], [LEFT, LEFT + inner]);
  let top = 0;
  const placed = strips.map((strip) => {
    const y0 = top + TITLE;
    top = y0 + strip.tall + GAP;
    return { ...strip, y0 };
  });
  const height = top + AXIS;

  const put = (event: PointerEvent<HTMLDivElement>) => {
    const px = event.clientX - event.currentTarget.getBoundingClientRect().left;
    const at = x.invert(px);
    onHour(Math.min(23.5, Math.max(0, Math.round(at / STEP_H) * STEP_H)));
  };
  const key = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -STEP_H, ArrowRight: STEP_H, PageDown: -3, PageUp: 3 }[event.key];
    if (by !== undefined) onHour(Math.min(23.5, Math.max(0, hour + by)));
    else if (event.key === "Home") onHour(0);
    else if (event.key === "End") onHour(23.5);
    else return;
    event.preventDefault();
  };
  const { dawn_h: dawn, dusk_h: dusk } = series.day;

  return (
    <div
      ref={frame}
      className="relative touch-pan-y rounded select-none"
      style={{ height }}
      role="slider"
      tabIndex={0}
      aria-label="Hour of the day"
      aria-valuemin={0}
      aria-valuemax={23.5}
      aria-valuenow={hour}
      aria-valuetext={clock(hour)}
      data-testid="day-chart"
      onKeyDown={key}
      onPointerDown={(event) => {
        dragging.current = true;
        event.currentTarget.setPointerCapture(event.pointerId);
        put(event);
      }}
      onPointerMove={(event) => dragging.current && put(event)}
      onPointerUp={() => {
        dragging.current = false;
      }}
      onPointerCancel={() => {
        dragging.current = false;
      }}
    >
      <svg className="absolute inset-0" width={width} height={height} aria-hidden="true">
        {placed.map((strip) => {
          const y = scaleLinear([strip.low, strip.high], [strip.y0 + strip.tall, strip.y0]);
          const inside = y.copy().clamp(true);
          return (
            <g key={strip.key}>
              <text x={LEFT} y={strip.y0 - 5} className="fill-ink text-[12px] font-semibold">
                {strip.title}
              </text>
              <rect
                x={LEFT}
                y={strip.y0}
                width={inner}
                height={strip.tall}
                className="fill-ground"
              />
              {/* The lamps' day. */}
              <rect
                x={x(dawn)}
                y={strip.y0}
                width={Math.max(0, x(dusk) - x(dawn))}
                height={strip.tall}
                className="fill-raised"
              />
              {strip.bands.map((band) => {
                const high = inside(band.wanted.high ?? strip.high);
                const low = inside(band.wanted.low ?? strip.low);
                return (
                  <rect
                    key={band.className}
                    x={x(dawn)}
                    y={high}
                    width={Math.max(0, x(dusk) - x(dawn))}
                    height={Math.max(0, low - high)}
                    className={band.className}
                  />
                );
              })}
              {strip.ticks.map((t) => (
                <g key={t}>
                  <line x1={LEFT} x2={LEFT + inner} y1={y(t)} y2={y(t)} className="stroke-line" />
                  <text
                    x={LEFT - 6}
                    y={y(t)}
                    dy="0.35em"
                    textAnchor="end"
                    className="fill-soft text-[12px]"
                  >
                    {strip.show(t)}
                  </text>
                </g>
              ))}
              {strip.lines.map((line, i) => (
                <path
                  key={i}
                  d={pathOf(line.series, x, inside)}
                  className={`fill-none ${line.className}`}
                  strokeWidth={line.width}
                  strokeDasharray={line.dash}
                  strokeLinejoin="round"
                />
              ))}
              {strip.lines
                .filter((line) => line.width > 2)
                .map((line) => (
                  <circle
                    key={line.dash ?? "solid"}
                    cx={x(hour)}
                    cy={inside(valueAt(line.series, hour))}
                    r={4}
                    className="fill-ink"
                  />
                ))}
            </g>
          );
        })}
        {[0, 3, 6, 9, 12, 15, 18, 21, 24]
          .filter((h) => Math.abs(x(h) - x(hour)) > 36)
          .map((h) => (
            <text
              key={h}
              x={x(h)}
              y={height - 6}
              textAnchor={h === 24 ? "end" : "middle"}
              className="fill-soft text-[12px]"
            >
              {h}
            </text>
          ))}
        <line
          x1={x(hour)}
          x2={x(hour)}
          y1={4}
          y2={height - AXIS + 2}
          className="stroke-accent"
          strokeWidth={2}
        />
        <g transform={`translate(${Math.min(width - 30, Math.max(LEFT, x(hour)))} ${height - 11})`}>
          <rect x={-24} y={-10} width={48} height={20} rx={10} className="fill-accent" />
          <text
            y={1}
            dy="0.32em"
            textAnchor="middle"
            className="fill-accent-ink text-[12px] font-semibold"
          >
            {clock(hour)}
          </text>
        </g>
      </svg>
    </div>
  );
}

function pathOf(series: Series, x: (h: number) => number, y: (v: number) => number): string {
  const values = [valueAt(series, 0), ...series.values];
  const course = curve<number>(
    (_, i) => x(i * series.step),
    (v) => y(v),
  ).digits(1);
  return course(values) ?? "";
}

function extremes(lines: readonly Series[]): [number, number] {
  let [low, high] = [Infinity, -Infinity];
  for (const line of lines) {
    for (const v of line.values) {
      low = Math.min(low, v);
      high = Math.max(high, v);
    }
  }
  return [low, high];
}

function stripsOf(
  series: DaySeries,
  place: PlaceSeries,
  wanted: DayChartProps["wanted"],
  units: "metric" | "imperial",
): Strip[] {
  const others = series.places.filter((p) => p.id !== place.id);
  const t = unitFormat(units, "temperature");
  const warm: Line[] = [
    { series: series.room, className: "stroke-edge", width: 1.2, dash: "2 4" },
    ...others.map((p) => ({ series: p.probe, className: "stroke-edge", width: 1 })),
  ];
  if (place.surface) {
    warm.push({ series: place.surface, className: "stroke-second", width: 2.4, dash: "7 4" });
  }
  warm.push({ series: place.probe, className: "stroke-first", width: 2.4 });
  const [low, high] = extremes(warm.map((l) => l.series));
  const floor = Math.floor((low - 1) / 5) * 5;
  const ceiling = Math.ceil((high + 1) / 5) * 5;
  const step = ceiling - floor > 30 ? 10 : 5;
  const marks = scaleLinear([floor, ceiling], [0, 1]).ticks((ceiling - floor) / step);
  const bands: Strip["bands"] = [
    ...(wanted.surface ? [{ wanted: wanted.surface, className: "fill-second opacity-15" }] : []),
    ...(wanted.probe ? [{ wanted: wanted.probe, className: "fill-first opacity-15" }] : []),
  ];
  const uvTop = Math.max(
    1,
    extremes(series.places.map((p) => p.uvi))[1] * 1.1,
    wanted.uvi?.high ?? 0,
  );
  const watts = Math.max(20, extremes([series.power])[1] * 1.08);
  return [
    {
      key: "temperature",
      title: `Temperature, ${t.suffix}`,
      tall: 150,
      low: floor,
      high: ceiling,
      ticks: marks,
      lines: warm,
      bands,
      show: (v) => fixed(t.toShown(v), 0),
    },
    {
      key: "uvi",
      title: "UV index facing the light",
      tall: 58,
      low: 0,
      high: uvTop,
      ticks:
        uvTop > 5
          ? [0, 3, 6, 9, 12].filter((v) => v <= uvTop)
          : [0, 1, 2, 3, 4].filter((v) => v <= uvTop),
      lines: [
        ...others.map((p) => ({ series: p.uvi, className: "stroke-edge", width: 1 })),
        { series: place.uvi, className: "stroke-first", width: 2.4 },
      ],
      bands: wanted.uvi ? [{ wanted: wanted.uvi, className: "fill-first opacity-15" }] : [],
      show: (v) => fixed(v, 0),
    },
    {
      key: "humidity",
      title: "Relative humidity, %",
      tall: 58,
      low: 0,
      high: 1,
      ticks: [0, 0.5, 1],
      lines: [
        ...others.map((p) => ({ series: p.humidity, className: "stroke-edge", width: 1 })),
        { series: place.humidity, className: "stroke-third", width: 2.4 },
      ],
      bands: [],
      show: (v) => fixed(v * 100, 0),
    },
    {
      key: "power",
      title: "Power of all lamps and heaters, W",
      tall: 44,
      low: 0,
      high: watts,
      ticks: [0, watts > 150 ? 100 : 50].filter((v) => v <= watts),
      lines: [{ series: series.power, className: "stroke-ink", width: 1.6 }],
      bands: [],
      show: (v) => fixed(v, 0),
    },
  ];
}
