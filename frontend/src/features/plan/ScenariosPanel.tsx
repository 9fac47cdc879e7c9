import { useState } from "react";
import { fetchScenarios } from "../../api/client";
import type { PlanDocument, ScenarioTable } from "../../api/types";
import { useLatest } from "../../api/useLatest";
import { needFormat, quantityWords } from "../../domain/units/needs";
import { fixed } from "../../domain/units/units";
import { Button } from "../../ui/Button";
import { usePreferences } from "../../ui/preferences";
import { Trouble } from "./day/DayPanel";
import { duration } from "./day/series";
import { type DayState, useFailureScenarios } from "./day/useDay";
import { unsafePlaces } from "./day/WhatIfPanel";

type Row = ScenarioTable["rows"][number];
type Cell = Row["cells"][number];
type Situation = Cell["situation"];

const SITUATION: Record<Situation, { label: string; help: string }> = {
  now: { label: "Now", help: "once everything is warm" },
  day: { label: "Over the day", help: "share of its hours" },
  winter: { label: "Winter room", help: "the coldest month" },
  summer: { label: "Summer room", help: "the warmest month" },
  worn: { label: "Old lamps", help: "at the end of their life" },
  grown: { label: "Adult", help: "the next stage" },
};
const MET: Record<Row["met"], { mark: string; word: string; tone: string }> = {
  always: { mark: "●", word: "always", tone: "text-fit" },
  sometimes: { mark: "◐", word: "sometimes", tone: "text-low" },
  never: { mark: "○", word: "never", tone: "text-high" },
  unknown: { mark: "?", word: "unknown", tone: "text-soft" },
};
const ORDER: readonly Row["met"][] = ["never", "sometimes", "unknown", "always"];

interface ScenariosPanelProps {
  document: PlanDocument;
  day: DayState;
}

/** Every need in every situation, and what may go wrong, in one table. */
export function ScenariosPanel({ document, day }: ScenariosPanelProps) {
  const [stopped, setStopped] = useState(false);
  const { result, error, pending } = useLatest(
    "scenarios",
    stopped ? null : document,
    fetchScenarios,
  );
  return (
    <div className="px-3 pb-4" data-testid="scenarios" data-pending={pending || !result}>
      {error !== null && <Trouble error={error} />}
      {!result && error === null && (
        <p role="status" className="flex items-center gap-3 text-soft">
          {stopped ? "Stopped." : "Computing the day, the seasons and the years…"}
          <Button size="small" onClick={() => setStopped(!stopped)}>
            {stopped ? "Go on" : "Stop"}
          </Button>
        </p>
      )}
      {result && <Table table={result} day={day} />}
    </div>
  );
}

function Table({ table, day }: { table: ScenarioTable; day: DayState }) {
  const { units } = usePreferences();
  const [withTests, setWithTests] = useState(false);
  const rows = [...table.rows].sort((a, b) => ORDER.indexOf(a.met) - ORDER.indexOf(b.met));
  const always = rows.filter((r) => r.met === "always").length;
  return (
    <>
      <p className="text-sm" data-testid="scenarios-summary">
        <b>{always}</b> of {rows.length} needs are always met;{" "}
        {rows.filter((r) => r.met === "sometimes").length} only sometimes,{" "}
        {rows.filter((r) => r.met === "never").length} never.
      </p>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: where it is narrow it scrolls sideways */}
      <section className="mt-1 overflow-x-auto" aria-label="Needs by condition" tabIndex={0}>
        <table className="w-full text-sm">
          <thead>
            <tr className="text-left align-bottom text-soft">
              <th className="pr-3 font-medium">Need</th>
              <th className="pr-1.5 font-medium">Met</th>
              {table.situations.map((s) => (
                <th key={s} className="max-w-22 px-1.5 align-bottom leading-tight font-medium">
                  {SITUATION[s].label}
                  <span className="block text-xs font-normal">{SITUATION[s].help}</span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => {
              const format = needFormat(row.need.quantity, units);
              const { mark, word, tone } = MET[row.met];
              return (
                <tr key={row.check_id} className="border-t border-line">
                  <th className="py-1 pr-2 text-left font-normal">
                    <b className="font-semibold">{row.place_label}</b>{" "}
                    {quantityWords(row.need.place, row.need.quantity)}
                  </th>
                  <td className={`pr-1.5 font-semibold whitespace-nowrap ${tone}`}>
                    <span aria-hidden="true">{mark} </span>
                    {word}
                  </td>
                  {row.cells.map((cell) => (
                    <td key={cell.situation} className="px-1.5 whitespace-nowrap">
                      <CellText cell={cell} figure={(v) => `${format.figure(v)}${format.unit}`} />
                    </td>
                  ))}
                </tr>
              );
            })}
            {withTests && <WhatIfRows day={day} columns={table.situations.length} />}
          </tbody>
        </table>
      </section>
      {!withTests && (
        // Asked for only when wanted: each takes part of a second.
        <p className="mt-3">
          <Button size="small" onClick={() => setWithTests(true)}>
            Run the what-if tests as well
          </Button>
        </p>
      )}
      {table.not_applicable.map((one) => (
        <p key={one.situation} className="mt-1 text-sm text-soft">
          {SITUATION[one.situation].label}: not computed. {one.why}
        </p>
      ))}
    </>
  );
}

const MARK: Record<Cell["status"], string> = {
  low: "▼",
  ok: "●",
  high: "▲",
  uncertain: "◇",
  unknown: "–",
};
const TONE: Record<Cell["status"], string> = {
  low: "text-low",
  ok: "text-fit",
  high: "text-high",
  uncertain: "text-ink",
  unknown: "text-soft",
};
const SAID: Record<Cell["status"], string> = {
  low: "too low",
  ok: "fits",
  high: "too high",
  uncertain: "uncertain",
  unknown: "not assessed",
};

function CellText({ cell, figure }: { cell: Cell; figure: (v: number) => string }) {
  if (cell.value === null) return <span className="text-soft">–</span>;
  const partly = cell.share !== null;
  return (
    <span title={SAID[cell.status]}>
      <span className={TONE[cell.met ? "ok" : cell.status]} aria-hidden="true">
        {cell.met ? "●" : MARK[cell.status]}{" "}
      </span>
      <span className="sr-only">{cell.met ? "met" : SAID[cell.status]}: </span>
      {figure(cell.value)}
      {partly && <span className="text-soft">, {fixed(100 * (cell.share ?? 0), 0)} %</span>}
    </span>
  );
}

/** What may go wrong, as rows of the same table: whether the animal keeps a safe place. */
function WhatIfRows({ day, columns }: { day: DayState; columns: number }) {
  const { outcomes, total, running, stop } = useFailureScenarios(day);
  return (
    <>
      <tr className="border-t border-line">
        <th colSpan={columns + 2} className="py-1 text-left font-semibold">
          <span className="flex items-center gap-3" role="status">
            {total === null
              ? "Getting the day ready…"
              : `When something fails: ${outcomes.length} of ${total} tests run${running ? "…" : ""}`}
            {running && (
              <Button size="small" onClick={stop}>
                Stop
              </Button>
            )}
          </span>
        </th>
      </tr>
      {outcomes.map((o) => {
        const harmed = unsafePlaces(o);
        const safe = o.safe_place !== null && harmed.length === 0;
        const met = safe ? "always" : o.always_somewhere ? "sometimes" : "never";
        const { mark, word, tone } = MET[met];
        return (
          <tr key={o.id} className="border-t border-line">
            <th className="py-1 pr-3 text-left font-normal">
              <b className="font-semibold">A safe place</b>: {o.label}
            </th>
            <td className={`pr-2 font-semibold whitespace-nowrap ${tone}`}>
              <span aria-hidden="true">{mark} </span>
              {word}
            </td>
            <td colSpan={columns} className="px-2">
              {safe
                ? "every place stays safe"
                : o.safe_place
                  ? `${harmed.join(", ")}; ${o.safe_place} stays safe`
                  : o.always_somewhere
                    ? "some place is always safe, but it has to move"
                    : `none after ${duration(o.minutes_to_danger ?? 0)}`}
            </td>
          </tr>
        );
      })}
    </>
  );
}
