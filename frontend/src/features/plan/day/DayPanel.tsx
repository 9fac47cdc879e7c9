import { Download } from "lucide-react";
import { type ReactNode, useMemo, useState } from "react";
import { fetchDayCsv } from "../../../api/client";
import type { Evaluation, PlanDocument, Season } from "../../../api/types";
import { describe } from "../../../app/notices";
import { useAction } from "../../../app/useAction";
import { fixed, show } from "../../../domain/units/units";
import { Button } from "../../../ui/Button";
import { Choice } from "../../../ui/Choice";
import { download, fileName } from "../../../ui/download";
import { usePreferences } from "../../../ui/preferences";
import type { FormProps } from "../forms";
import { DayChart } from "./DayChart";
import { DayLength } from "./DayLength";
import { clock, duration, type PlaceSeries, valueAt } from "./series";
import type { DayState } from "./useDay";

interface DayPanelProps {
  document: PlanDocument;
  evaluation: Evaluation | null;
  state: DayState;
  season: Season;
  onSeason: (season: Season) => void;
  hour: number;
  onHour: (hour: number) => void;
  edits: FormProps["edits"];
}

/** The day under the drawing: its curves, what the marked hour is like, and what it costs. */
export function DayPanel(props: DayPanelProps) {
  const { document: d, evaluation, state, season, onSeason, hour, onHour } = props;
  const [placeId, setPlaceId] = useState<string | null>(null);
  const { series } = state;
  const place = series?.places.find((p) => p.id === placeId) ?? series?.places[0] ?? null;
  const wanted = useMemo(() => {
    const of = (quantity: string) => {
      const check = evaluation?.checks.find(
        (v) => v.place_id === place?.id && v.need.quantity === quantity,
      );
      return check ? { low: check.need.low, high: check.need.high } : null;
    };
    return { probe: of("air_temperature"), surface: of("surface_temperature"), uvi: of("uvi") };
  }, [evaluation, place?.id]);

  const save = useAction(
    () => fetchDayCsv(d, season),
    (blob) => {
      const url = URL.createObjectURL(blob);
      download(url, fileName(d.name, `day-${season}.csv`));
      URL.revokeObjectURL(url);
    },
  );

  return (
    <div className="px-3 pb-4" data-testid="day" data-pending={state.pending}>
      <div className="flex flex-wrap items-center gap-2">
        {series && place && (
          <Choice
            label="Place followed"
            value={place.id}
            onChange={setPlaceId}
            options={series.places.map((p) => ({ value: p.id, label: p.label }))}
          />
        )}
        <Choice
          label="Season of the room"
          value={season}
          onChange={onSeason}
          options={[
            { value: "now", label: "Room now" },
            ...(d.room.winter ? [{ value: "winter" as const, label: "coldest month" }] : []),
            ...(d.room.summer ? [{ value: "summer" as const, label: "warmest month" }] : []),
          ]}
        />
      </div>
      {state.error !== null && <Trouble error={state.error} />}
      {series && place && (
        <>
          <MarkedHour place={place} hour={hour} room={valueAt(series.room, hour)} />
          <DayChart series={series} place={place} wanted={wanted} hour={hour} onHour={onHour} />
          <Key hasSurface={place.surface !== null} />
          <Sums state={state} />
          <div className="mt-4">
            <DayLength document={d} edits={props.edits} />
          </div>
        </>
      )}
      <div className="mt-3 flex flex-wrap items-center gap-3">
        <Button size="small" onClick={() => save.mutate()} disabled={!series || save.isPending}>
          <Download size={15} aria-hidden /> CSV, every minute
        </Button>
        <p className="text-sm text-soft" role="status">
          {state.pending
            ? "Computing the day…"
            : "Predicted, from midnight to midnight, after some days of running."}
        </p>
      </div>
    </div>
  );
}

interface MarkedHourProps {
  place: PlaceSeries;
  hour: number;
  room: number;
}

/** What the place is like at the marked hour. */
function MarkedHour({ place, hour, room }: MarkedHourProps) {
  const { units } = usePreferences();
  const t = (v: number) => show(v, "temperature", units, 1);
  return (
    <p className="mt-2 text-sm" data-testid="marked-hour">
      <span className="text-base font-semibold">{clock(hour)}</span> {place.label}: air{" "}
      <b>{t(valueAt(place.air, hour))}</b>, probe <b>{t(valueAt(place.probe, hour))}</b>
      {place.surface && (
        <>
          , surface <b>{t(valueAt(place.surface, hour))}</b>
        </>
      )}
      , UVI <b>{fixed(valueAt(place.uvi, hour), 1)}</b>, humidity{" "}
      <b>{fixed(100 * valueAt(place.humidity, hour), 0)} %</b>. Room {t(room)}.
    </p>
  );
}

function Key({ hasSurface }: { hasSurface: boolean }) {
  const entries: [ReactNode, string][] = [
    [
      <path key="a" d="M0 6h26" className="stroke-first" strokeWidth={2.4} />,
      "this place, probe reading",
    ],
    ...(hasSurface
      ? ([
          [
            <path
              key="s"
              d="M0 6h26"
              className="stroke-second"
              strokeWidth={2.4}
              strokeDasharray="7 4"
            />,
            "its surface",
          ],
        ] as [ReactNode, string][])
      : []),
    [<path key="o" d="M0 6h26" className="stroke-edge" strokeWidth={1} />, "the other places"],
    [
      <path key="r" d="M0 6h26" className="stroke-edge" strokeWidth={1.2} strokeDasharray="2 4" />,
      "room",
    ],
    [
      <rect key="w" y={1} width={26} height={10} className="fill-first opacity-20" />,
      "wanted by day",
    ],
  ];
  return (
    <p className="mt-1 flex flex-wrap gap-x-4 gap-y-1 text-sm text-soft">
      {entries.map(([mark, words]) => (
        <span key={words} className="inline-flex items-center gap-1.5">
          <svg width={26} height={12} aria-hidden="true">
            {mark}
          </svg>
          {words}
        </span>
      ))}
    </p>
  );
}

/** Times, work and money of the day. */
function Sums({ state }: { state: DayState }) {
  const { units } = usePreferences();
  const day = state.series?.day;
  if (!day) return null;
  const times: [string, string][] = [];
  if (day.warm_up_min !== null) {
    times.push(["Basking surface warm", `${duration(day.warm_up_min)} after the lamps come on`]);
  }
  if (day.cool_down_min !== null) {
    times.push(["Warm end at its night", `${duration(day.cool_down_min)} after they go off`]);
  }
  if (day.misted) {
    const words =
      day.dry_min === null
        ? "not within the day"
        : `${duration(day.dry_min)} after the last spraying`;
    times.push(["Surfaces dry", words]);
  }
  return (
    <div className="mt-3 grid gap-x-8 gap-y-3 sm:grid-cols-2">
      <table className="w-full text-sm">
        <caption className="pb-1 text-left font-semibold">Lamps and heaters</caption>
        <thead>
          <tr className="text-left text-soft">
            <th className="font-normal">at work</th>
            <th className="text-right font-normal">of hours</th>
            <th className="text-right font-normal">kWh a month</th>
            <th className="text-right font-normal">cost</th>
          </tr>
        </thead>
        <tbody>
          {day.fixtures.map((f) => (
            <tr key={f.id} className="border-t border-line">
              <td className="py-0.5">{f.label}</td>
              <td className="text-right">
                {fixed(100 * f.duty, 0)} % of {fixed(f.on_h, 1)}
              </td>
              <td className="text-right">{fixed(f.month_kwh, 1)}</td>
              <td className="text-right">{fixed(f.month_cost, 2)}</td>
            </tr>
          ))}
          <tr className="border-t border-edge font-semibold">
            <td className="py-0.5">Together</td>
            <td />
            <td className="text-right">{fixed(day.month_kwh, 1)}</td>
            <td className="text-right">{fixed(day.month_cost, 2)}</td>
          </tr>
        </tbody>
      </table>
      <dl className="text-sm">
        {times.map(([what, when]) => (
          <div key={what} className="flex flex-wrap gap-x-2 border-b border-line py-0.5">
            <dt className="font-semibold">{what}</dt>
            <dd>{when}</dd>
          </div>
        ))}
        {day.thermostats.map((t) => (
          <div key={t.id} className="flex flex-wrap gap-x-2 border-b border-line py-0.5">
            <dt className="font-semibold">{t.label}</dt>
            <dd>
              switches {fixed(t.switchings_per_h, 1)} times an hour
              {t.error_k !== null &&
                `, on average ${show(t.error_k, "difference", units, 1)} off its set point`}
            </dd>
          </div>
        ))}
      </dl>
    </div>
  );
}

export function Trouble({ error }: { error: unknown }) {
  const { title, detail } = describe(error);
  return (
    <div role="alert" className="my-2 rounded-lg border border-high bg-high-wash p-3 text-sm">
      <p className="font-semibold text-high">{title}</p>
      <p>{detail}</p>
    </div>
  );
}
