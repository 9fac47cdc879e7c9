import { useEffect, useMemo, useState } from "react";
import { evaluate, fetchMend, type View } from "../../api/client";
import type { Evaluation, LampAge, Mend, PlanDocument } from "../../api/types";
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

export type MendState = { kind: "looking" } | { kind: "found"; mend: Mend } | { kind: "none" };

/** Look for a mend for each failed verdict, once the plan has been left alone for a moment. */
export function useMends(state: EvaluationState, settled: boolean): Record<string, MendState> {
  const [mends, setMends] = useState<Record<string, MendState>>({});
  const { result, document, pending } = state;
  useEffect(() => {
    const failed = result?.verdicts.filter((v) => v.status === "below" || v.status === "above");
    setMends(Object.fromEntries((failed ?? []).map((v) => [v.id, { kind: "looking" as const }])));
    if (!document || !failed?.length || pending || !settled) return;
    const control = new AbortController();
    const timer = setTimeout(async () => {
      for (const verdict of failed) {
        try {
          const mend = await fetchMend(document, verdict.id, control.signal);
          if (control.signal.aborted) return;
          const found: MendState = mend ? { kind: "found", mend } : { kind: "none" };
          setMends((all) => ({ ...all, [verdict.id]: found }));
        } catch {
          if (control.signal.aborted) return;
          setMends((all) => ({ ...all, [verdict.id]: { kind: "none" } }));
        }
      }
    }, 350);
    return () => {
      clearTimeout(timer);
      control.abort();
    };
  }, [result, document, pending, settled]);
  return mends;
}
