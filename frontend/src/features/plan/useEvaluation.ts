import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { evaluate, fetchFixes, fetchIntervals, type View } from "../../api/client";
import type { Evaluation, Fix, Interval, LampAge, PlanDocument } from "../../api/types";
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

/** Changes found for a failed check or a finding; none found is an empty list. */
export type FixState =
  | { kind: "looking" }
  | { kind: "found"; fixes: readonly Fix[] }
  | { kind: "failed" }
  | { kind: "stopped" };

export interface Assessment {
  /** By check or finding. */
  fixes: Record<string, FixState>;
  /** By check; empty until they are known. */
  intervals: Record<string, Interval>;
  /** How far the search for changes is, while it runs. */
  progress: { done: number; total: number } | null;
  stop: () => void;
}

type Found = Omit<Assessment, "stop">;

export const NOT_ASSESSED: Assessment = {
  fixes: {},
  intervals: {},
  progress: null,
  stop: () => {},
};

/** What a fix is searched for: failed checks and findings. */
export function failing(result: Evaluation): string[] {
  return [
    ...result.findings.filter((f) => f.severity === "danger").map((f) => f.id),
    ...result.checks
      .filter((v) => v.severity === "fault" || v.severity === "danger")
      .filter((v) => v.status !== "unknown")
      .map((v) => v.id),
    ...result.findings
      .filter((f) => f.severity === "fault" || f.severity === "care")
      .map((f) => f.id),
    // What is offered and not required may be had as well.
    ...result.checks
      .filter((v) => v.severity === "note" && v.status !== "unknown")
      .map((v) => v.id),
  ];
}

/**
 * How far each figure may be off, and changes for everything that fails, once the plan has been left
 * alone for a moment. Intervals come first; changes one after another.
 */
export function useAssessment(state: EvaluationState, settled: boolean): Assessment {
  const [assessment, setAssessment] = useState<Found>(NOT_ASSESSED);
  const { result, document, pending } = state;
  const running = useRef<AbortController | null>(null);
  const stop = useCallback(() => {
    running.current?.abort();
    setAssessment((all) => ({
      ...all,
      progress: null,
      fixes: Object.fromEntries(
        Object.entries(all.fixes).map(([id, m]) => [
          id,
          m.kind === "looking" ? { kind: "stopped" as const } : m,
        ]),
      ),
    }));
  }, []);
  useEffect(() => {
    const wanted = result ? failing(result) : [];
    setAssessment({
      fixes: Object.fromEntries(wanted.map((id) => [id, { kind: "looking" as const }])),
      intervals: {},
      progress: null,
    });
    if (!result || !document || pending || !settled) return;
    const control = new AbortController();
    running.current = control;
    const { signal } = control;
    const timer = setTimeout(async () => {
      const total = wanted.length + 1;
      setAssessment((all) => ({ ...all, progress: { done: 0, total } }));
      try {
        const found = await fetchIntervals(document, signal);
        if (signal.aborted) return;
        const intervals = Object.fromEntries(found.map((i) => [i.check_id, i]));
        setAssessment((all) => ({ ...all, intervals }));
      } catch {
        if (signal.aborted) return;
      }
      for (const [i, id] of wanted.entries()) {
        setAssessment((all) => ({ ...all, progress: { done: i + 1, total } }));
        let state: FixState;
        try {
          state = { kind: "found", fixes: await fetchFixes(document, id, signal) };
        } catch {
          state = { kind: "failed" };
        }
        if (signal.aborted) return;
        setAssessment((all) => ({ ...all, fixes: { ...all.fixes, [id]: state } }));
      }
      setAssessment((all) => ({ ...all, progress: null }));
    }, 350);
    return () => {
      clearTimeout(timer);
      control.abort();
    };
  }, [result, document, pending, settled]);
  return useMemo(() => ({ ...assessment, stop }), [assessment, stop]);
}
