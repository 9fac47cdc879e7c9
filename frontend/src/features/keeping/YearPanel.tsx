import { keepPreviousData, useQueries, useQuery } from "@tanstack/react-query";
import { useDeferredValue, useEffect, useMemo, useState } from "react";
import { Link } from "react-router";
import type { MonthChecked, PlanDocument, Year, YearWeek } from "../../api/types";
import { fetchMonth, fetchYear } from "../../api/year";
import { describe } from "../../app/notices";
import { dayText } from "../../domain/logbook/days";
import { thermostatsOf } from "../../domain/plan/document";
import { HERE } from "../../domain/readings/kinds";
import { fixed, show } from "../../domain/units/units";
import {
  firstDay,
  grouped,
  type MonthGroup,
  spanText,
  weekOf,
  withOffer,
  withoutWeek,
  withWeeks,
  withYear,
} from "../../domain/year/year";
import { Button } from "../../ui/Button";
import { Help } from "../../ui/Help";
import { NumberFields, type NumberRow } from "../../ui/NumberFields";
import { usePreferences } from "../../ui/preferences";
import { clock } from "../plan/day/series";
import { Phrase } from "../plan/Phrase";
import type { PlanEditor } from "../plan/usePlanEditor";
import { CalendarAddress } from "./CalendarAddress";
import { YearPicture } from "./YearPicture";
import { YearSettings } from "./YearSettings";

interface YearPanelProps {
  planId: string;
  editor: PlanEditor;
}

/** The year of an enclosure: seen, set, checked month by month, and taken to timers and calendars. */
export function YearPanel({ planId, editor }: YearPanelProps) {
  const { document } = editor;
  const asked = useDeferredValue(document);
  const text = JSON.stringify({ ...asked, name: "", pins: [] });
  const shown = useQuery({
    queryKey: ["year", text],
    queryFn: ({ signal }) => fetchYear(asked, signal),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  });
  const [week, setWeek] = useState(() => weekOf(new Date()));
  const data = shown.data;
  const year = document.year ?? data?.year ?? null;
  const commit = (next: Year, summary: string) => editor.commit(withYear(document, next), summary);
  // A month depends on the year, saved or not.
  const sign = JSON.stringify({ ...asked, name: "", pins: [], year: asked.year ?? data?.year });
  const months = useMonths(asked, sign, editor.settled && data?.room_known === true);
  return (
    <section
      aria-label="The year"
      className="rounded-xl border border-line bg-panel p-4"
      data-testid="year"
    >
      <div className="flex flex-wrap items-center justify-between gap-2">
        <h2 className="flex items-center gap-1 text-lg font-semibold">
          The year
          <Help about="the year">
            Day length, set points, misting and rest follow the place the species is from, week by
            week, as closely as you choose. Every month is computed in your room’s climate of that
            month.
          </Help>
        </h2>
        {data && !document.year && (
          <p className="flex flex-wrap items-center gap-2 text-sm">
            <span className="text-soft">Usual for this animal; not saved yet.</span>
            <Button tone="strong" onClick={() => commit(data.usual, "The usual year")}>
              Save this year
            </Button>
          </p>
        )}
        {document.year && (
          <Button
            size="small"
            onClick={() => editor.commit({ ...document, year: null }, "Use the usual year")}
          >
            Back to the usual
          </Button>
        )}
      </div>
      {shown.isPending && <p className="text-soft">Computing the year…</p>}
      {shown.isError && (
        <p role="alert" className="text-high">
          {describe(shown.error).title}: {describe(shown.error).detail}
        </p>
      )}
      {data && year && (
        <>
          <YearPicture
            document={document}
            weeks={data.weeks}
            months={months.checked}
            week={week}
            onWeek={setWeek}
          />
          <OneWeek document={document} year={year} week={data.weeks[week - 1]} onChange={commit} />
          {data.limits.map((limit) => (
            <p
              key={limit.id}
              className="mt-2 border-l-4 border-high bg-high-wash px-3 py-1.5 text-sm"
              data-testid={`limit-${limit.id}`}
            >
              <strong>{spanText(inOrder(limit.months))}: </strong>
              <Phrase parts={limit.description} />
            </p>
          ))}
          <Months
            known={data.room_known}
            months={months}
            onTakeAll={(groups) => {
              let next = year;
              for (const { months: span, checked } of groups) {
                const offer = checked.fix?.offer;
                if (offer) next = withOffer(document, next, span, offer);
              }
              commit(next, `Fixes of ${groups.length} months`);
            }}
            onTake={(group, offer) =>
              commit(
                withOffer(document, year, group, offer),
                `${spanText(group)}: ${offer.label} as the month asks`,
              )
            }
          />
          <details className="mt-3 border-t border-line pt-2" open={!document.year}>
            <summary className="min-h-8 font-semibold">How it follows the seasons</summary>
            <div className="mt-2">
              <YearSettings document={document} year={year} usual={data.usual} onChange={commit} />
            </div>
          </details>
          <Outputs planId={planId} saved={document.year != null} count={data.setting_changes} />
        </>
      )}
    </section>
  );
}

/** Months that go on over the turn of the year, from the first to the last of them. */
function inOrder(months: readonly number[]): readonly number[] {
  const gap = months.findIndex((m, i) => i > 0 && m - (months[i - 1] ?? m) > 1);
  return months.includes(1) && months.includes(12) && gap > 0
    ? [...months.slice(gap), ...months.slice(0, gap)]
    : months;
}

interface MonthsState {
  checked: readonly (MonthChecked | null)[];
  error: unknown;
  done: number;
  stopped: boolean;
  setStopped: (stopped: boolean) => void;
}

/** The twelve months, checked one after another; each is asked for once. */
function useMonths(document: PlanDocument, text: string, enabled: boolean): MonthsState {
  const [stopped, setStopped] = useState(false);
  const [asked, setAsked] = useState(0);
  const answers = useQueries({
    queries: Array.from({ length: 12 }, (_, i) => ({
      queryKey: ["year-month", text, i + 1],
      queryFn: ({ signal }: { signal: AbortSignal }) => fetchMonth(document, i + 1, signal),
      staleTime: Infinity,
      retry: false,
      enabled: enabled && !stopped && i <= asked,
    })),
  });
  const settled = answers.findIndex((a) => !a.isSuccess && !a.isError);
  const done = settled < 0 ? 12 : settled;
  useEffect(() => setAsked(done), [done]);
  return {
    checked: answers.map((a) => a.data ?? null),
    error: answers.find((a) => a.isError)?.error ?? null,
    done,
    stopped,
    setStopped,
  };
}

interface MonthsProps {
  known: boolean;
  months: MonthsState;
  onTake: (
    months: readonly number[],
    offer: NonNullable<NonNullable<MonthChecked["fix"]>["offer"]>,
  ) => void;
  onTakeAll: (groups: readonly MonthGroup[]) => void;
}

function Months({ known, months, onTake, onTakeAll }: MonthsProps) {
  const ready = useMemo(() => months.checked.filter((c) => c !== null), [months.checked]);
  const groups = useMemo(() => grouped(ready), [ready]);
  const clean = groups.filter((g) => g.checked.fix?.offer && g.checked.fix.breaks.length === 0);
  if (!known) {
    return (
      <p className="mt-3 text-soft">
        To check the months, set the climate of the room (on the room’s screen).
      </p>
    );
  }
  return (
    <div className="mt-3 border-t border-line pt-2" data-testid="months">
      <p role="status" className="flex flex-wrap items-center gap-3">
        <strong>
          {months.done < 12
            ? `Months checked: ${months.done} of 12`
            : groups.length === 0
              ? "Nothing fails in any month"
              : "What fails, and the fix"}
        </strong>
        {months.done < 12 && (
          <Button size="small" onClick={() => months.setStopped(!months.stopped)}>
            {months.stopped ? "Go on" : "Stop"}
          </Button>
        )}
        {months.done === 12 && clean.length > 1 && (
          <Button size="small" onClick={() => onTakeAll(clean)}>
            Apply all that break nothing else ({clean.length})
          </Button>
        )}
        {months.done === 12 && groups.length > 0 && (
          <Link
            to="../design"
            relative="path"
            className="inline-flex min-h-6 items-center font-medium text-accent underline"
          >
            Design the heating for the whole year
          </Link>
        )}
      </p>
      {months.error !== null && (
        <p role="alert" className="text-high">
          {describe(months.error).title}: {describe(months.error).detail}
        </p>
      )}
      <ul className="divide-y divide-line">
        {groups.map(({ months: span, checked }) => (
          <li key={span.join()} className="py-2">
            <p>
              <strong className="text-high">▲▼ {spanText(span)}: </strong>
              <Phrase parts={checked.description} />
            </p>
            {checked.fix && (
              <p className="mt-1 flex flex-wrap items-center gap-2">
                <span>
                  <span className="text-soft">
                    {checked.fix.offer ? "For these months: " : "What would help: "}
                  </span>
                  <Phrase parts={checked.fix.sentence} />
                  {checked.fix.breaks.length > 0 && (
                    <span className="text-high"> But it {checked.fix.breaks.join("; ")}.</span>
                  )}
                </span>
                {checked.fix.offer && (
                  <Button
                    size="small"
                    aria-label={`Apply it for ${spanText(span)}`}
                    onClick={() => checked.fix?.offer && onTake(span, checked.fix.offer)}
                  >
                    Apply it for {spanText(span)}
                  </Button>
                )}
              </p>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}

interface OneWeekProps {
  document: PlanDocument;
  year: Year;
  week: YearWeek | undefined;
  onChange: (year: Year, summary: string) => void;
}

const PHASES: Record<YearWeek["phase"], string> = {
  usual: "",
  brumation: "the rest",
  winding_down: "into the rest",
  winding_up: "out of the rest",
};

const SHIFT = { dimension: "difference", min: -25, max: 25 } as const;
const WEEK_ROWS: readonly NumberRow<YearWeek>[] = [
  {
    key: "photoperiod_h",
    label: "Lamps on, a day",
    dimension: "duration",
    min: 0,
    max: 24,
    summary: () => "Day length",
  },
  {
    key: "day_shift_k",
    label: "Set points by day, shifted",
    ...SHIFT,
    summary: () => "Set points by day",
  },
  {
    key: "night_shift_k",
    label: "by night, shifted",
    ...SHIFT,
    summary: () => "Set points by night",
  },
];
const MISTING_ROW: NumberRow<YearWeek> = {
  key: "misting",
  label: "Misting, of the plan's",
  dimension: "share",
  min: 0,
  max: 5,
  summary: () => "Misting",
};

/** The settings of one week, and the fields that change them. */
function OneWeek({ document, year, week, onChange }: OneWeekProps) {
  const { units } = usePreferences();
  if (!week) return null;
  const from = firstDay(week.number, new Date().getFullYear());
  const half = week.photoperiod_h / 2;
  const put = (change: Parameters<typeof withWeeks>[2], what: string) =>
    onChange(withWeeks(year, [week.number], change), `${what} in the week of ${dayText(from)}`);
  const set = thermostatsOf(document).map((t) => {
    const point = (c: number | null | undefined, shift: number) =>
      c === null || c === undefined || week.phase === "brumation"
        ? "off"
        : show(Math.max(0, c + shift), "temperature", units, 1);
    return `${t.label} ${point(t.day_set_point_c, week.day_shift_k)} by day, ${point(t.night_set_point_c, week.night_shift_k)} by night`;
  });
  return (
    <div className="mt-1 rounded-lg bg-wash p-3" data-testid="week">
      <p>
        <strong className="text-lg">
          Week from {dayText(from)}
          {PHASES[week.phase] && `, ${PHASES[week.phase]}`}
        </strong>
        :{" "}
        {week.photoperiod_h > 0 ? `lamps ${clock(12 - half)} to ${clock(12 + half)}` : "lamps off"}
        {set.length > 0 && `; ${set.join("; ")}`}.{" "}
        <span className="text-sm text-soft">
          At home {fixed(week.home_day_h, 1)} h of day,{" "}
          {show(week.home_low_c, "temperature", units, 0)} to{" "}
          {show(week.home_high_c, "temperature", units, 0)}
          {week.room_low_c !== null &&
            week.room_high_c !== null &&
            `; the room ${show(week.room_low_c, "temperature", units, 0)} to ${show(week.room_high_c, "temperature", units, 0)}`}
          .
        </span>
      </p>
      <div className="mt-2 flex flex-wrap items-end gap-x-4 gap-y-2">
        <NumberFields
          rows={(document.mistings ?? []).length > 0 ? [...WEEK_ROWS, MISTING_ROW] : WEEK_ROWS}
          of={week}
          onCommit={put}
        />
        {week.changed && (
          <Button
            size="small"
            onClick={() =>
              onChange(withoutWeek(year, week.number), `The week of ${dayText(from)} as computed`)
            }
          >
            As computed
          </Button>
        )}
      </div>
    </div>
  );
}

/** The year on paper and in calendars. */
function Outputs({ planId, saved, count }: { planId: string; saved: boolean; count: number }) {
  const { units } = usePreferences();
  const now = new Date();
  // Late in the year it is the next one that is planned.
  const years = [now.getFullYear(), now.getFullYear() + 1];
  const card = (year: number, ending = "") =>
    `/api/plans/${planId}/card${ending}?${new URLSearchParams({ year: String(year), zone: HERE, units })}`;
  const link =
    "inline-flex min-h-9 items-center rounded-md border border-edge bg-raised px-3 text-sm font-medium hover:bg-wash";
  return (
    <div className="mt-3 border-t border-line pt-3" data-testid="year-outputs">
      <h3 className="font-semibold">To timers, thermostats and calendars</h3>
      <p className="text-sm text-soft">
        You would change a timer or thermostat {count} times a year. Hang the card beside the
        enclosure; the calendar reminds you, together with the tasks.
      </p>
      <div className="mt-2 flex flex-wrap gap-2">
        {years.map((year) => (
          <a key={year} href={card(year)} target="_blank" rel="noreferrer" className={link}>
            Card for {year}
          </a>
        ))}
        <a href={card(years[0] ?? 2026, ".pdf")} className={link}>
          Card as PDF
        </a>
        <a
          href={`/api/plans/${planId}/calendar.ics?${new URLSearchParams({ zone: HERE, units })}`}
          className={link}
        >
          Calendar file
        </a>
      </div>
      {!saved && (
        <p className="mt-1 text-sm text-soft">
          Until this year is saved, the calendar has tasks and lamps to replace only.
        </p>
      )}
      <CalendarAddress />
    </div>
  );
}
