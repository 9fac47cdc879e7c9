import { scaleLinear } from "d3-scale";
import { area, line } from "d3-shape";
import { Slider } from "radix-ui";
import type { ReactNode } from "react";
import type { MonthChecked, PlanDocument, YearWeek } from "../../api/types";
import { dayText } from "../../domain/logbook/days";
import { thermostatsOf } from "../../domain/plan/document";
import { fixed, unitFormat } from "../../domain/units/units";
import { firstDay, monthName, WEEKS, weekOf } from "../../domain/year/year";
import { usePreferences } from "../../ui/preferences";
import { useWidth } from "../../ui/useWidth";

interface YearPictureProps {
  document: PlanDocument;
  weeks: readonly YearWeek[];
  months: readonly (MonthChecked | null)[];
  week: number;
  onWeek: (week: number) => void;
}

const LEFT = 46;
const RIGHT = 8;
const DAY = { top: 20, height: 118 };
const HEAT = { top: 156, height: 128 };
const RAIN = { top: 300, height: 36 };

/** The year in one picture: the lamps' day, set points against home and room, misting, and each month's check. */
export function YearPicture({ document, weeks, months, week, onWeek }: YearPictureProps) {
  const { units } = usePreferences();
  const [frame, width] = useWidth<HTMLDivElement>(800);
  const temperature = unitFormat(units, "temperature");
  const mists = (document.mistings ?? []).length > 0;
  const foot = mists ? RAIN.top + RAIN.height + 14 : HEAT.top + HEAT.height + 14;
  const height = foot + 34;
  const x = scaleLinear([1, WEEKS + 1], [LEFT, width - RIGHT]);
  const step = x(2) - x(1);
  const middle = (w: number) => x(w) + step / 2;

  const hour = (h: number) => DAY.top + (DAY.height * (24 - h)) / 24;
  const heater = thermostatsOf(document)[0];
  const shifted = (point: number | null | undefined, shift: number) =>
    point === null || point === undefined ? null : point + shift;
  const points = weeks.map((w) =>
    w.phase === "brumation"
      ? { day: null, night: null }
      : {
          day: shifted(heater?.day_set_point_c, w.day_shift_k),
          night: shifted(heater?.night_set_point_c, w.night_shift_k),
        },
  );
  const all = weeks
    .flatMap((w, i) => [
      w.home_low_c,
      w.home_high_c,
      w.room_low_c,
      w.room_high_c,
      points[i]?.day ?? null,
      points[i]?.night ?? null,
    ])
    .filter((v) => v !== null);
  const low = Math.floor(Math.min(...all) / 5) * 5;
  const high = Math.ceil(Math.max(...all) / 5) * 5;
  const heat = scaleLinear([Math.min(low, high - 1), high], [HEAT.top + HEAT.height, HEAT.top]);
  const ticks = Array.from({ length: (high - low) / 10 + 1 }, (_, i) => low + 10 * i);
  const wettest = Math.max(1, ...weeks.map((w) => w.home_rain_mm));
  const most = Math.max(1, ...weeks.map((w) => w.misting));

  const band = (bottom: (w: YearWeek) => number, top: (w: YearWeek) => number) =>
    area<YearWeek>((w) => middle(w.number), bottom, top)(weeks) ?? undefined;
  /** A course with gaps where there is no value. */
  const course = (value: (i: number) => number | null) =>
    line<YearWeek>()
      .x((w) => middle(w.number))
      .y((_, i) => value(i) ?? 0)
      .defined((_, i) => value(i) !== null)(weeks) ?? undefined;
  const rooms = weeks.every((w) => w.room_low_c !== null && w.room_high_c !== null);
  const at = weeks[week - 1];
  const today = weekOf(new Date());
  const rest = weeks.filter((w) => w.phase !== "usual");
  return (
    <div ref={frame} data-testid="year-picture">
      <svg
        width={width}
        height={height}
        role="img"
        aria-label={`The year: ${rest.length ? `a rest of ${weeks.filter((w) => w.phase === "brumation").length} weeks; ` : ""}the longest day ${fixed(Math.max(...weeks.map((w) => w.photoperiod_h)), 1)} hours, the shortest ${fixed(Math.min(...weeks.map((w) => w.photoperiod_h)), 1)}. The slider below goes through the weeks.`}
        className="block"
      >
        {rest.map((w) => (
          <rect
            key={w.number}
            x={x(w.number)}
            y={DAY.top}
            width={step + 0.5}
            height={foot - DAY.top}
            className="fill-low-wash"
            opacity={w.phase === "brumation" ? 1 : 0.5}
          />
        ))}
        {Array.from({ length: 12 }, (_, i) => i + 1).map((m) => {
          const begin = x(1 + (firstDayOf(m) - 1) / 7);
          return (
            <g key={m}>
              <line x1={begin} x2={begin} y1={DAY.top} y2={foot} className="stroke-line" />
              <text x={begin + 3} y={13} className="fill-soft text-[12px]">
                {width < 620
                  ? monthName(m, "short").slice(0, 1)
                  : monthName(m, width < 900 ? "short" : "long")}
              </text>
              <Check checked={months[m - 1] ?? null} x={begin} width={4.33 * step} y={foot + 18} />
            </g>
          );
        })}
        {/* The lamps' day, from on to off. */}
        <path
          d={band(
            (w) => hour(12 - w.photoperiod_h / 2),
            (w) => hour(12 + w.photoperiod_h / 2),
          )}
          fill="#e0963c"
          opacity={0.55}
        />
        {[-0.5, 0.5].map((side) => (
          <path
            key={side}
            d={course((i) => hour(12 + side * (weeks[i]?.home_day_h ?? 12)))}
            className="fill-none stroke-soft"
            strokeDasharray="3 3"
          />
        ))}
        {[0, 6, 12, 18, 24].map((h) => (
          <g key={h}>
            <line x1={LEFT} x2={width - RIGHT} y1={hour(h)} y2={hour(h)} className="stroke-line" />
            <text x={LEFT - 5} y={hour(h) + 4} textAnchor="end" className="fill-soft text-[11px]">
              {h}:00
            </text>
          </g>
        ))}
        {/* Warmth: home pale, the room darker, what thermostats are set to as lines. */}
        <path
          d={band(
            (w) => heat(w.home_low_c),
            (w) => heat(w.home_high_c),
          )}
          className="fill-second"
          opacity={0.18}
        />
        {rooms && (
          <path
            d={band(
              (w) => heat(w.room_low_c ?? 0),
              (w) => heat(w.room_high_c ?? 0),
            )}
            className="fill-third"
            opacity={0.3}
          />
        )}
        {ticks.map((c) => (
          <g key={c}>
            <line x1={LEFT} x2={width - RIGHT} y1={heat(c)} y2={heat(c)} className="stroke-line" />
            <text x={LEFT - 5} y={heat(c) + 4} textAnchor="end" className="fill-soft text-[11px]">
              {fixed(temperature.toShown(c), 0)}°
            </text>
          </g>
        ))}
        <path
          d={course((i) => {
            const v = points[i]?.day ?? null;
            return v === null ? null : heat(v);
          })}
          className="fill-none stroke-high"
          strokeWidth={2.5}
        />
        <path
          d={course((i) => {
            const v = points[i]?.night ?? null;
            return v === null ? null : heat(v);
          })}
          className="fill-none stroke-low"
          strokeWidth={2.5}
          strokeDasharray="7 3"
        />
        {mists && (
          <>
            {weeks.map((w) => (
              <rect
                key={w.number}
                x={x(w.number) + 0.5}
                width={Math.max(1, step - 1)}
                y={RAIN.top + RAIN.height * (1 - w.home_rain_mm / wettest)}
                height={(RAIN.height * w.home_rain_mm) / wettest}
                className="fill-low"
                opacity={0.25}
              />
            ))}
            <path
              d={course((i) => RAIN.top + RAIN.height * (1 - (weeks[i]?.misting ?? 0) / most))}
              className="fill-none stroke-low"
              strokeWidth={2.5}
            />
            <text x={LEFT - 5} y={RAIN.top + 12} textAnchor="end" className="fill-soft text-[11px]">
              mist
            </text>
          </>
        )}
        {weeks
          .filter((w) => w.changed)
          .map((w) => (
            <path
              key={w.number}
              d={`M${middle(w.number)} ${DAY.top - 1}l4 -6h-8Z`}
              className="fill-accent"
            />
          ))}
        <line
          x1={middle(today)}
          x2={middle(today)}
          y1={DAY.top}
          y2={foot}
          className="stroke-ink"
          strokeDasharray="2 4"
        />
        {at && (
          <rect
            x={x(week)}
            y={DAY.top}
            width={Math.max(3, step)}
            height={foot - DAY.top}
            className="fill-none stroke-accent"
            strokeWidth={2}
          />
        )}
        <rect
          x={LEFT}
          y={DAY.top}
          width={width - LEFT - RIGHT}
          height={foot - DAY.top}
          fill="transparent"
          className="cursor-pointer"
          onPointerDown={(e) => {
            const enclosure = e.currentTarget.getBoundingClientRect();
            const share = (e.clientX - enclosure.left) / enclosure.width;
            onWeek(Math.min(WEEKS, Math.max(1, Math.floor(share * WEEKS) + 1)));
          }}
        />
      </svg>
      <div style={{ marginLeft: LEFT, marginRight: RIGHT }}>
        <Slider.Root
          value={[week]}
          min={1}
          max={WEEKS}
          step={1}
          onValueChange={([w]) => w !== undefined && onWeek(w)}
          className="relative flex h-8 touch-none items-center"
        >
          <Slider.Track className="relative h-1.5 flex-1 rounded-full bg-line" />
          <Slider.Thumb
            aria-label="Week of the year"
            aria-valuetext={`week ${week}, from ${dayText(firstDay(week, new Date().getFullYear()))}`}
            className="block size-6 rounded-full border-2 border-accent bg-raised shadow"
          />
        </Slider.Root>
      </div>
      <ul className="flex flex-wrap gap-x-4 gap-y-1 text-sm text-soft" aria-label="Legend">
        <Key label="lamps on">
          <rect y={3} width={18} height={8} fill="#e0963c" opacity={0.55} />
        </Key>
        <Key label="day at home">
          <path d="M0 7H18" className="stroke-soft" strokeDasharray="3 3" />
        </Key>
        <Key label="warmth at home">
          <rect y={3} width={18} height={8} className="fill-second" opacity={0.25} />
        </Key>
        {rooms && (
          <Key label="the room">
            <rect y={3} width={18} height={8} className="fill-third" opacity={0.35} />
          </Key>
        )}
        {heater && (
          <>
            <Key label="set by day">
              <path d="M0 7H18" className="stroke-high" strokeWidth={2.5} />
            </Key>
            {heater.night_set_point_c != null && (
              <Key label="set by night">
                <path d="M0 7H18" className="stroke-low" strokeWidth={2.5} strokeDasharray="7 3" />
              </Key>
            )}
          </>
        )}
        {rest.length > 0 && (
          <Key label="brumation">
            <rect y={2} width={18} height={11} className="fill-low-wash stroke-line" />
          </Key>
        )}
      </ul>
    </div>
  );
}

const firstDayOf = (month: number) =>
  Math.round(
    (new Date(2025, month - 1, 1).getTime() - new Date(2025, 0, 1).getTime()) / 86_400_000,
  ) + 1;

function Key({ label, children }: { label: string; children: ReactNode }) {
  return (
    <li className="inline-flex items-center gap-1.5 whitespace-nowrap">
      <svg width={18} height={14} aria-hidden="true">
        {children}
      </svg>
      {label}
    </li>
  );
}

function Check({
  checked,
  x,
  y,
  width,
}: {
  checked: MonthChecked | null;
  x: number;
  y: number;
  width: number;
}) {
  if (!checked) {
    return (
      <text x={x + width / 2} y={y} textAnchor="middle" className="fill-soft text-[13px]">
        ·
      </text>
    );
  }
  const bad = checked.failing === null || checked.failing.length > 0;
  return (
    <g>
      <rect
        x={x + 1}
        y={y - 15}
        width={Math.max(4, width - 2)}
        height={21}
        rx={4}
        className={bad ? "fill-high-wash" : "fill-fit-wash"}
      />
      <text
        x={x + width / 2}
        y={y}
        textAnchor="middle"
        className={`text-[13px] font-bold ${bad ? "fill-high" : "fill-fit"}`}
      >
        {checked.failing === null
          ? "?"
          : bad
            ? `${width > 40 ? "▲▼" : ""}${checked.failing.length}`
            : "●"}
      </text>
    </g>
  );
}
