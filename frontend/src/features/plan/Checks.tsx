import clsx from "clsx";
import { Locate, ShieldAlert, Wrench } from "lucide-react";
import { memo, type ReactNode } from "react";
import type { Check, Evaluation, Finding, Fix, Interval, Status } from "../../api/types";
import {
  fails,
  figureBesideLimits,
  needFormat,
  quantityWords,
  rangeText,
} from "../../domain/units/needs";
import { fixed, show } from "../../domain/units/units";
import { Button } from "../../ui/Button";
import { Help } from "../../ui/Help";
import { usePreferences } from "../../ui/preferences";
import { STATUS_INK, STATUS_MARK, STATUS_WORD } from "../../ui/status";
import { ByHeight, LightByPlace, WarmthByPlace } from "./ByPlace";
import { Phrase } from "./Phrase";
import type { Assessment, FixState } from "./useEvaluation";

interface ChecksProps {
  /** What fixes everything at once, beside the headline; none while nothing fails. */
  action?: ReactNode;
  evaluation: Evaluation | null;
  assessment: Assessment;
  /** Whether fixes are searched: only for the lamps as they are. */
  proposing: boolean;
  onTry: (fix: Fix) => void;
  onPatchAbove: (above: number) => void;
  /** Point at a place or thing in the drawing; null for none. */
  onPoint: (id: string | null) => void;
  bodyLength: number;
}

const LOOKING: FixState = { kind: "looking" };
const WASH: Record<Status, string> = {
  low: "bg-low-wash",
  ok: "",
  high: "bg-high-wash",
  uncertain: "bg-line/40",
  unknown: "bg-line/40",
};

/** What the animal needs against what it gets, place by place, the worst first. */
export const Checks = memo(function Checks({
  action,
  evaluation,
  assessment,
  proposing,
  onTry,
  onPatchAbove,
  onPoint,
  bodyLength,
}: ChecksProps) {
  if (!evaluation) {
    return (
      <div aria-busy="true" className="space-y-2 p-4">
        <p className="text-soft">Computing the climate…</p>
        {[0, 1, 2, 3].map((i) => (
          <div key={i} className="h-14 rounded-lg bg-line/50" />
        ))}
      </div>
    );
  }
  const failed = evaluation.checks.filter((v) => fails(v.severity));
  const faults = evaluation.findings.filter((f) => fails(f.severity));
  const count = failed.length + faults.length;
  const { fixes, intervals, settled } = assessment;
  const statusOf = (v: Check) => intervals[v.id]?.status ?? v.status;
  const unsure = evaluation.checks.filter((v) => v.required && statusOf(v) === "uncertain");
  const required = evaluation.checks.filter((v) => v.required);
  const fixOf = (id: string) => (proposing ? (fixes[id] ?? LOOKING) : undefined);
  const row = (v: Check) => (
    <CheckRow
      key={v.id}
      check={{ ...v, status: statusOf(v) }}
      settles={intervals[v.id]?.settles ?? v.settles}
      air={evaluation.places.find((p) => p.id === v.place_id)?.air_c}
      interval={intervals[v.id]}
      fix={fixOf(v.id)}
      onTry={onTry}
      onPoint={onPoint}
    />
  );
  const finding = (f: Finding) => (
    <FindingRow key={f.id} finding={f} fix={fixOf(f.id)} onTry={onTry} onPoint={onPoint} />
  );
  return (
    <div>
      <div className="flex items-baseline justify-between gap-3 px-4 pt-3">
        <h2
          className={clsx(
            "text-xl leading-tight font-semibold",
            count > 0 ? "text-high" : settled?.fits ? "text-fit" : "text-ink",
          )}
          data-testid="headline"
          aria-live="polite"
        >
          {headline(count, evaluation.checks.length + faults.length, {
            unsure: unsure.length,
            required: required.length,
            settled: settled !== null,
          })}
        </h2>
        <span
          className="rounded-full border border-edge px-2 py-0.5 text-xs whitespace-nowrap text-soft"
          data-testid="evidence"
        >
          {basisText(evaluation)}
        </span>
      </div>
      <p className="px-4 pt-1 pb-2 text-sm" data-testid="summary">
        <Phrase parts={settled?.summary ?? evaluation.summary} />
      </p>
      {count > 0 && action && <div className="px-4 pb-2">{action}</div>}
      {assessment.progress && proposing && (
        <p
          className="flex items-center gap-3 px-4 pb-2 text-sm text-soft"
          data-testid="search-progress"
        >
          <progress
            className="h-2 w-28"
            value={assessment.progress.done}
            max={assessment.progress.total}
            aria-label="Search for changes"
          />
          Looking for changes, {assessment.progress.done} of {assessment.progress.total}
          <Button size="small" onClick={assessment.stop}>
            Stop
          </Button>
        </p>
      )}
      <ul>
        {evaluation.findings.filter((f) => f.severity === "danger").map(finding)}
        {failed.map(row)}
        {evaluation.findings.filter((f) => f.severity === "fault").map(finding)}
        {unsure.map(row)}
        {evaluation.findings.filter((f) => f.severity === "care").map(finding)}
        {evaluation.checks.filter((v) => !fails(v.severity) && !unsure.includes(v)).map(row)}
        {evaluation.findings.filter((f) => f.severity === "note").map(finding)}
      </ul>
      <LightByPlace evaluation={evaluation} />
      <ByHeight evaluation={evaluation} />
      <WarmthByPlace evaluation={evaluation} onPatchAbove={onPatchAbove} bodyLength={bodyLength} />
    </div>
  );
});

interface Headline {
  unsure: number;
  required: number;
  /** Whether chances are known. */
  settled: boolean;
}

/** Never more than the checks say. */
function headline(count: number, of: number, { unsure, required, settled }: Headline): string {
  if (count > 0) return `${count} of ${of} checks ${count === 1 ? "needs" : "need"} a change`;
  if (!settled) return "Nothing fails as computed";
  if (unsure > 0) return `Nothing fails, ${unsure} of ${required} checks uncertain`;
  return `All ${required} checks pass`;
}

/** What the figures rest on as a whole. */
function basisText(evaluation: Evaluation): string {
  const bases = evaluation.checks.map((v) => v.evidence);
  const on = bases.find((b) => b.on)?.on;
  if (!on) return "predicted, not measured";
  const read = bases.filter((b) => b.kind === "measured").length;
  return `${read} of ${bases.length} measured, ${on}`;
}

const BASIS: Record<Check["evidence"]["kind"], string> = {
  predicted: "Predicted",
  fitted: "Predicted from readings of",
  measured: "Measured on",
};
const basisOf = ({ evidence: { kind, on } }: Check) => (on ? `${BASIS[kind]} ${on}` : BASIS[kind]);

const FINDING_WORD: Record<Finding["severity"], string> = {
  danger: "Danger",
  fault: "To change",
  care: "Take care",
  note: "Note",
};
const ASK: Record<NonNullable<Finding["ask"]>, string> = {
  electrician: "Ask a qualified electrician; local code goes first.",
  veterinarian: "In doubt or after a burn, ask a veterinarian who knows reptiles.",
};

interface PointingProps {
  onPoint: (id: string | null) => void;
}

/** Pointing at or reaching a line by keyboard shows its place in the drawing. */
const pointing = (id: string, onPoint: PointingProps["onPoint"]) => ({
  onPointerEnter: () => onPoint(id),
  onPointerLeave: () => onPoint(null),
  onFocus: () => onPoint(id),
  onBlur: () => onPoint(null),
});

interface FindingRowProps extends PointingProps {
  finding: Finding;
  fix: FixState | undefined;
  onTry: (fix: Fix) => void;
}

function FindingRow({ finding: f, fix, onTry, onPoint }: FindingRowProps) {
  const danger = f.severity === "danger";
  return (
    <li
      data-testid={`finding-${f.id}`}
      data-severity={f.severity}
      className={clsx(
        "border-t border-line px-4 py-2 text-sm",
        (danger || f.severity === "fault") && "bg-high-wash",
      )}
      {...pointing(f.about_id, onPoint)}
    >
      <div className="flex gap-2">
        <ShieldAlert
          size={18}
          className={clsx(
            "mt-0.5 shrink-0",
            danger || f.severity === "fault" ? "text-high" : "text-soft",
          )}
          aria-hidden
        />
        <div className="min-w-0 flex-1">
          <p className={danger ? "text-high" : undefined}>
            <strong>{FINDING_WORD[f.severity]}: </strong>
            <Phrase parts={f.message} />
          </p>
          {(f.caution || f.ask) && (
            <p className="mt-0.5 text-soft">
              {f.caution} {f.ask && ASK[f.ask]}
            </p>
          )}
        </div>
        {f.about_id !== "enclosure" && f.about_id !== "room" && (
          <ShowButton
            label={`Show what is meant: ${f.about_id}`}
            id={f.about_id}
            onPoint={onPoint}
          />
        )}
      </div>
      {f.severity !== "note" && (
        <FixLines fix={fix} place={f.id} onTry={onTry} quiet={f.severity === "care"} />
      )}
    </li>
  );
}

function ShowButton({ label, id, onPoint }: PointingProps & { label: string; id: string }) {
  return (
    <button
      type="button"
      aria-label={label}
      className="grid size-7 shrink-0 place-items-center rounded text-soft hover:bg-line"
      onClick={() => {
        onPoint(id);
        globalThis.document.getElementById("drawing")?.scrollIntoView({ block: "nearest" });
      }}
    >
      <Locate size={15} aria-hidden />
    </button>
  );
}

interface CheckRowProps extends PointingProps {
  check: Check;
  /** Which reading would settle it, if it is uncertain. */
  settles: string;
  /** The air of its place, °C. */
  air: number | undefined;
  interval: Interval | undefined;
  fix: FixState | undefined;
  onTry: (fix: Fix) => void;
}

function CheckRow({ check: v, settles, air, interval, fix, onTry, onPoint }: CheckRowProps) {
  const { units } = usePreferences();
  const format = needFormat(v.need.quantity, units);
  const range = rangeText(v.need, units);
  const uvi = v.need.quantity === "uvi";
  const noted = v.severity === "note";
  const byProbe = v.need.quantity === "air_temperature" && v.need.place !== "night";
  return (
    <li
      data-testid={`check-${v.id}`}
      data-status={v.status}
      data-severity={v.severity}
      className={clsx("border-t border-line px-4 py-2", !noted && WASH[v.status])}
      {...pointing(v.place_id, onPoint)}
    >
      <div className="grid grid-cols-[1fr_auto_5.2rem] items-center gap-x-3">
        <div className="min-w-0">
          <h3 className="leading-tight font-semibold">
            {v.place_label}{" "}
            <span className="font-normal text-soft">
              {quantityWords(v.need.place, v.need.quantity)}
            </span>
          </h3>
          <div className="flex items-center gap-0.5 text-sm text-soft">
            {v.required ? "needs" : uvi ? "Optional: UVI" : "Optional:"} {range}
            <Help about={`where the range for ${v.place_label} comes from`}>
              <p className="font-medium">
                {v.place_label}, {quantityWords(v.need.place, v.need.quantity)}: {range}
              </p>
              <p className="mt-1 text-soft">
                {v.need.grade}: {v.need.source}.
              </p>
              {v.need.claims.length > 1 && (
                <ul className="mt-1 text-soft">
                  {v.need.claims.map((c) => (
                    <li key={`${c.source}${c.about}${c.low}`}>
                      {rangeText({ quantity: v.need.quantity, low: c.low, high: c.high }, units)}
                      {c.about && `, ${c.about}`}: {c.source} ({c.grade})
                    </li>
                  ))}
                </ul>
              )}
              {v.need.note && <p className="mt-1 text-soft">Taken: {v.need.note}.</p>}
              {v.need.offered && (
                <p className="mt-1 text-soft">Optional for this species: less is no fault.</p>
              )}
              {byProbe && (
                <p className="mt-1 text-soft">
                  Compared with what a shaded probe reads, as keepers measure: it feels the air and
                  sees the surfaces around.{" "}
                  {v.need.place !== "basking" && "The mean over where the animal can be there."}
                </p>
              )}
              {uvi && (
                <p className="mt-1 text-soft">
                  {v.need.place === "uv_refuge"
                    ? "Assessed with the meter turned to the light, the worst case."
                    : "Assessed level, as the animal's back receives it."}
                </p>
              )}
            </Help>
          </div>
        </div>
        <div className="text-right text-xl leading-none font-semibold" data-testid="figure">
          {v.value === null ? "–" : figureBesideLimits(v.value, v.need, v.status, units)}
          <span className="text-sm font-normal text-soft">{format.unit}</span>
        </div>
        <div className={clsx("text-sm font-semibold", STATUS_INK[v.status])}>
          <span aria-hidden="true">{STATUS_MARK[v.status]} </span>
          {noted && v.status === "low" ? "optional" : STATUS_WORD[v.status]}
        </div>
      </div>
      <RangeBar check={v} interval={interval} />
      <p className="mt-1 min-h-4 text-xs text-soft" data-testid="interval">
        {byProbe && air !== undefined && `Air ${show(air, "temperature", units, 1)}. `}
        {basisOf(v)}
        {interval &&
          v.value !== null &&
          `: ${intervalText(interval, format.figure, format.unit, fails(v.severity))}`}
      </p>
      {v.course && (
        <p className="mt-0.5 text-xs text-soft">
          Over the day with its sprays {format.figure(v.course.lowest)}–
          {format.figure(v.course.highest)}
          {format.unit}, in range for {fixed(100 * v.course.share, 0)} % of the hours.
        </p>
      )}
      {v.status === "uncertain" && (
        <p className="mt-0.5 text-sm">
          In range as computed, but with less than a 60 % chance. {settles}
        </p>
      )}
      {v.status !== "ok" && v.status !== "uncertain" && (
        <div className="mt-0.5 text-sm">
          <p>
            {noted && uvi && v.value === 0 ? (
              "No UV. Optional for this species."
            ) : (
              <Phrase parts={v.reason} />
            )}
          </p>
          {v.status !== "unknown" && (
            <FixLines fix={fix} place={v.place_label} onTry={onTry} quiet={noted} />
          )}
        </div>
      )}
    </li>
  );
}

function intervalText(
  interval: Interval,
  figure: (v: number) => string,
  unit: string,
  failed: boolean,
): string {
  const chance = 100 * interval.probability;
  const low = figure(interval.low);
  const high = figure(interval.high);
  const spread = low === high ? `${low}${unit}` : `${low}–${high}${unit}`;
  const cause = interval.causes[0];
  // Certainty is never claimed: an interval is a prediction.
  const shown = chance > 99 ? "over 99" : chance < 1 ? "under 1" : fixed(chance, 0);
  return `likely ${spread}; ${shown} % chance of being in range${
    cause && (failed || chance < 90) ? `; least certain: ${cause.name}` : ""
  }.`;
}

interface FixLinesProps {
  fix: FixState | undefined;
  place: string;
  onTry: (fix: Fix) => void;
  quiet?: boolean;
}

function FixLines({ fix, place, onTry, quiet = false }: FixLinesProps) {
  if (!fix) {
    return <p className="mt-1.5 text-soft">Changes are proposed for the lamps as they are now.</p>;
  }
  if (fix.kind === "looking") {
    return quiet ? null : <p className="mt-1.5 text-soft">Looking for a change that helps…</p>;
  }
  if (fix.kind === "stopped") {
    return quiet ? null : <p className="mt-1.5 text-soft">The search for changes was stopped.</p>;
  }
  if (fix.kind === "failed") {
    return <p className="mt-1.5 text-soft">Fixes could not be computed just now.</p>;
  }
  if (fix.fixes.length === 0) {
    return quiet ? null : (
      <p className="mt-1.5 text-soft">
        No small change fixes this alone: “Fix everything” looks at all of the enclosure together.
      </p>
    );
  }
  return (
    <ul className="mt-1.5 space-y-1">
      {fix.fixes.map((one, i) => (
        <li
          key={JSON.stringify(one.patch)}
          className="flex items-start gap-2 rounded-md border border-edge bg-raised p-2"
        >
          <Wrench size={16} className="mt-0.5 shrink-0 text-accent" aria-hidden />
          <p className="min-w-0 flex-1" data-testid="fix">
            <Phrase parts={one.sentence} />
            {one.breaks.length > 0 && (
              <span className="mt-0.5 block text-high">But it {one.breaks.join("; ")}.</span>
            )}
          </p>
          <Button
            size="small"
            tone={i === 0 ? "strong" : "plain"}
            aria-label={i === 0 ? `Try it for ${place}` : `Try it, change ${i + 1} for ${place}`}
            onClick={() => onTry(one)}
          >
            Try it
          </Button>
        </li>
      ))}
    </ul>
  );
}

/** The needed range as a band, the figure as a mark on it, its interval as a thin line. */
function RangeBar({ check: v, interval }: { check: Check; interval: Interval | undefined }) {
  if (v.value === null) return null;
  const share = v.need.quantity === "humidity" || v.need.quantity === "uv_free_share";
  const low = v.need.low ?? 0;
  const high = v.need.high ?? (share ? 1 : low + 10);
  const span = Math.max(high - low, share ? 0.05 : 0.5);
  const from = v.need.low === null ? 0 : Math.max(low - 0.75 * span, share ? 0 : -100);
  const to = share ? Math.min(1, high + 0.75 * span) : high + 0.75 * span;
  const at = (value: number) => 100 * Math.min(1, Math.max(0, (value - from) / (to - from)));
  return (
    <div aria-hidden="true" className="relative mt-1.5 h-2 rounded-full bg-line">
      <div
        className="absolute inset-y-0 rounded-full bg-fit/45"
        style={{ left: `${at(low)}%`, right: `${100 - at(high)}%` }}
      />
      {interval && (
        <div
          className="absolute top-[3px] h-0.5 bg-ink"
          style={{ left: `${at(interval.low)}%`, right: `${100 - at(interval.high)}%` }}
        />
      )}
      <div
        className="absolute -top-1 h-4 w-1 -translate-x-1/2 rounded bg-ink outline outline-panel"
        style={{ left: `${at(v.value)}%` }}
      />
    </div>
  );
}
