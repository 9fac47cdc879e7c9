import { useEffect, useMemo, useState } from "react";
import { evaluate, fetchIntervals, fetchMends, type View } from "../../api/client";
import type { Evaluation, Interval, LampAge, Mend, PlanDocument } from "../../api/types";
import { useLatest } from "../../api/useLatest";

export interface EvaluationState {
  /** The newest answer, and the document it belongs to. */
  result: Evaluation | null;
  document: PlanDocument | null;
  error: unknown;
  pending: boolean;
}

interface Asked {
  document: PlanDocument;
  lampAge: LampAge;
  view: View;
  patchAbove: number | null;
}

const ask = ({ document, lampAge, view, patchAbove }: Asked) =>
  evaluate(document, lampAge, view, patchAbove).then((result) => ({ result, document }));

/** Evaluate a document as it changes, so that a drag keeps the picture moving. */
export function useEvaluation(
  document: PlanDocument,
  lampAge: LampAge,
  view: View,
  patchAbove: number | null,
): EvaluationState {
  const asked = useMemo(
    () => ({ document, lampAge, view, patchAbove }),
    [document, lampAge, view, patchAbove],
  );
  const { result, error, pending } = useLatest(asked, ask);
  return useMemo(
    () => ({
      result: result?.result ?? null,
      document: result?.document ?? null,
      error,
      pending: pending || (result === null && error === null),
    }),
    [result, error, pending],
  );
}

/** Changes found for a failed verdict or a finding; none found is an empty list. */
export type MendState =
  | { kind: "looking" }
  | { kind: "found"; mends: readonly Mend[] }
  | { kind: "failed" };

export interface Judgement {
  /** By verdict or finding. */
  mends: Record<string, MendState>;
  /** By verdict; empty until they are known. */
  intervals: Record<string, Interval>;
}

const NOTHING: Judgement = { mends: {}, intervals: {} };

/** What a change is looked for: failed verdicts, and findings that can be put right. */
export function failing(result: Evaluation): string[] {
  return [
    ...result.findings.filter((f) => f.severity === "danger").map((f) => f.id),
    ...result.verdicts
      .filter((v) => v.severity === "fault" || v.severity === "danger")
      .filter((v) => v.status !== "cannot_tell")
      .map((v) => v.id),
    ...result.findings
      .filter((f) => f.severity === "fault" || f.severity === "care")
      .map((f) => f.id),
    // What is offered and not required may be had as well.
    ...result.verdicts
      .filter((v) => v.severity === "note" && v.status !== "cannot_tell")
      .map((v) => v.id),
  ];
}

/**
 * How far each figure may be off, and changes for everything that fails, once the plan has been left
 * alone for a moment. Intervals come first; changes one after another.
 */
export function useJudgement(state: EvaluationState, settled: boolean): Judgement {
  const [judgement, setJudgement] = useState<Judgement>(NOTHING);
  const { result, document, pending } = state;
  useEffect(() => {
    const wanted = result ? failing(result) : [];
    setJudgement({
      mends: Object.fromEntries(wanted.map((id) => [id, { kind: "looking" as const }])),
      intervals: {},
    });
    if (!result || !document || pending || !settled) return;
    const control = new AbortController();
    const { signal } = control;
    const timer = setTimeout(async () => {
      try {
        const found = await fetchIntervals(document, signal);
        if (signal.aborted) return;
        const intervals = Object.fromEntries(found.map((i) => [i.verdict_id, i]));
        setJudgement((all) => ({ ...all, intervals }));
      } catch {
        if (signal.aborted) return;
      }
      for (const id of wanted) {
        let state: MendState;
        try {
          state = { kind: "found", mends: await fetchMends(document, id, signal) };
        } catch {
          state = { kind: "failed" };
        }
        if (signal.aborted) return;
        setJudgement((all) => ({ ...all, mends: { ...all.mends, [id]: state } }));
      }
    }, 350);
    return () => {
      clearTimeout(timer);
      control.abort();
    };
  }, [result, document, pending, settled]);
  return judgement;
}
