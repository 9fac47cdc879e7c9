import { useEffect, useRef, useState } from "react";
import { evaluate, fetchMend, type View } from "../../api/client";
import type { Evaluation, LampAge, Mend, PlanDocument } from "../../api/types";

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

/**
 * Evaluate a document as it changes. One request is under way at a time; when it is answered the
 * newest document goes next, and those in between are never sent, so answers cannot arrive out of
 * order and a drag keeps the picture moving.
 */
export function useEvaluation(
  document: PlanDocument,
  lampAge: LampAge,
  view: View,
  patchAbove: number | null,
): EvaluationState {
  const [state, setState] = useState<EvaluationState>({
    result: null,
    document: null,
    error: null,
    pending: true,
  });
  const wanted = useRef<Asked | null>(null);
  const running = useRef(false);
  const mounted = useRef(true);

  useEffect(() => {
    mounted.current = true;
    return () => {
      mounted.current = false;
    };
  }, []);

  useEffect(() => {
    wanted.current = { document, lampAge, view, patchAbove };
    setState((s) => ({ ...s, pending: true }));
    if (running.current) return;
    running.current = true;
    void (async () => {
      while (wanted.current && mounted.current) {
        const asked = wanted.current;
        wanted.current = null;
        let next: Partial<EvaluationState>;
        try {
          const { document, lampAge, view, patchAbove } = asked;
          const result = await evaluate(document, lampAge, view, patchAbove);
          next = { result, document: asked.document, error: null };
        } catch (error) {
          next = { error };
        }
        const pending = wanted.current !== null;
        if (mounted.current) setState((s) => ({ ...s, ...next, pending }));
      }
      running.current = false;
    })();
  }, [document, lampAge, view, patchAbove]);

  return state;
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
