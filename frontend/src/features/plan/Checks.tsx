import clsx from "clsx";
import { memo, type ReactNode, useCallback, useState } from "react";
import type { Check, Evaluation, Finding, Fix } from "../../api/types";
import type { FieldName } from "../../canvas/fields";
import { LAYER_OF } from "../../canvas/firstLayer";
import { fails } from "../../domain/units/needs";
import { Button } from "../../ui/Button";
import { ByHeight, LightByPlace, WarmthByPlace } from "./ByPlace";
import { CheckRow } from "./CheckRow";
import { FindingRow } from "./FindingRow";
import { headline } from "./headline";
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
  /** A check is looked at: the layer that shows what it is about is wanted. */
  onLayer?: (layer: FieldName) => void;
  bodyLength: number;
  /** Said after all checks. */
  children?: ReactNode;
}

const LOOKING: FixState = { kind: "looking" };

/** What the animal needs against what it gets, place by place, the worst first. */
export const Checks = memo(function Checks({
  action,
  evaluation,
  assessment,
  proposing,
  onTry,
  onPatchAbove,
  onPoint,
  onLayer,
  bodyLength,
  children,
}: ChecksProps) {
  const [opened, setOpened] = useState<ReadonlySet<string>>(new Set());
  const checks = evaluation?.checks;
  const toggle = useCallback(
    (id: string) => {
      const next = new Set(opened);
      if (next.delete(id)) return setOpened(next);
      setOpened(next.add(id));
      const check = checks?.find((v) => v.id === id);
      if (check) onLayer?.(LAYER_OF[check.need.quantity]);
    },
    [opened, checks, onLayer],
  );
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
  const { fixes, intervals, settled } = assessment;
  const statusOf = (v: Check) => intervals[v.id]?.status ?? v.status;
  const unsure = evaluation.checks.filter((v) => v.required && statusOf(v) === "uncertain");
  const { text, failing: count } = headline(evaluation, assessment);
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
      open={opened.has(v.id)}
      onOpen={toggle}
    />
  );
  const finding = (f: Finding) => (
    <FindingRow
      key={f.id}
      finding={f}
      fix={fixOf(f.id)}
      onTry={onTry}
      onPoint={onPoint}
      open={opened.has(f.id)}
      onOpen={toggle}
    />
  );
  return (
    <div className="flex h-full flex-col">
      <section
        className="min-h-0 flex-1 overflow-y-auto"
        aria-label="All checks"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls can be scrolled by keys
        tabIndex={0}
      >
        <div className="flex items-start justify-between gap-3 px-3 pt-2">
          <h2
            className={clsx(
              "text-lg leading-tight font-semibold",
              count > 0 ? "text-high" : settled?.fits ? "text-fit" : "text-ink",
            )}
            data-testid="headline"
            aria-live="polite"
          >
            {text}
          </h2>
          {count > 0 && action}
        </div>
        <p className="px-3 pt-0.5 pb-1.5 text-sm leading-snug" data-testid="summary">
          <Phrase parts={settled?.summary ?? evaluation.summary} />{" "}
          <span className="text-soft" data-testid="evidence">
            {basisText(evaluation)}
          </span>
        </p>
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
        <WarmthByPlace
          evaluation={evaluation}
          onPatchAbove={onPatchAbove}
          bodyLength={bodyLength}
        />
        {children}
      </section>
      {/* Below the list, which must not move under the pointer. */}
      {assessment.progress && proposing && (
        <p
          className="flex shrink-0 items-center gap-3 border-t border-line bg-panel px-3 py-1 text-sm text-soft"
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
    </div>
  );
});

/** What the figures rest on as a whole. */
function basisText(evaluation: Evaluation): string {
  const bases = evaluation.checks.map((v) => v.evidence);
  const on = bases.find((b) => b.on)?.on;
  if (!on) return "Predicted, not measured.";
  const read = bases.filter((b) => b.kind === "measured").length;
  return `${read} of ${bases.length} measured, ${on}.`;
}
