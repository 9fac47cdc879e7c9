import {
  experimental_streamedQuery as streamedQuery,
  useQuery,
  useQueryClient,
} from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { evaluate, fetchFixes, fetchIntervals, type View } from "../../api/client";
import type { Evaluation, Fix, Interval, LampAge, PlanDocument, Settled } from "../../api/types";
import { useLatest } from "../../api/useLatest";
import { delay } from "../../domain/delay";

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
  evaluate(document, lampAge, view, patchAbove);

/**
 * How often figures follow while something is dragged, and how long it has to rest for them to follow at once:
 * pictures of the layer on show come in between, and share the processors with them.
 */
const FOLLOWING_MS = 2000;
/**
 * What was asked for while a screen opened serves the screen that follows. No longer: a lamp or a species of the
 * keeper's may have been changed meanwhile.
 */
const FRESH_MS = 2000;
export const RESTING_MS = 150;

/**
 * How figures follow a document that changes: at once; once it rests, and every two seconds before; or every two
 * seconds only, as while something is dragged, where ``LivePictures`` notices that the hand rests.
 */
export type Pace = "at once" | "when it rests" | "now and then";

/** The newest value, or while there are many in a row one of them now and then, and the last. */
function useNowAndThen<T>(value: T, pace: Pace): T {
  const [given, setGiven] = useState(value);
  const last = useRef(0);
  useEffect(() => {
    const pass = () => {
      last.current = performance.now();
      setGiven(value);
    };
    const due = last.current + FOLLOWING_MS - performance.now();
    const wait = pace === "at once" ? 0 : pace === "now and then" ? due : Math.min(RESTING_MS, due);
    if (wait <= 0) {
      pass();
      return;
    }
    const timer = setTimeout(pass, wait);
    return () => clearTimeout(timer);
  }, [value, pace]);
  return pace === "at once" ? value : given;
}

/** Evaluate a document as it changes. */
export function useEvaluation(
  document: PlanDocument,
  lampAge: LampAge,
  view: View,
  patchAbove: number | null,
  pace: Pace,
): EvaluationState {
  const followed = useNowAndThen(document, pace);
  const asked = useMemo(
    () => ({ document: followed, lampAge, view, patchAbove }),
    [followed, lampAge, view, patchAbove],
  );
  const { result, question, error, pending } = useLatest("evaluation", asked, ask, FRESH_MS);
  const behind = followed !== document;
  return useMemo(
    () => ({ result, document: question?.document ?? null, error, pending: pending || behind }),
    [result, question, error, pending, behind],
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
  /** What is said of the plan once chances and months are known; null until then. */
  settled: Pick<Settled, "fits" | "summary"> | null;
  /** How far the search for changes is, while it runs. */
  progress: { done: number; total: number } | null;
  stop: () => void;
}

export const NOT_ASSESSED: Assessment = {
  fixes: {},
  intervals: {},
  settled: null,
  progress: null,
  stop: () => {},
};

/** How long a plan is left alone before it is assessed. */
const SETTLING_MS = 350;

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

/** What comes of an assessment, part by part; null where the search for fixes failed. */
type Part =
  | { kind: "intervals"; settled: Settled | null }
  | { kind: "fixes"; id: string; fixes: readonly Fix[] | null };

/** Intervals first, then the fixes of one failure after another. */
async function* assess(
  document: PlanDocument,
  wanted: readonly string[],
  signal: AbortSignal,
): AsyncGenerator<Part> {
  /** Null where no answer came; an assessment that is left ends. */
  const orNull = async <T>(answer: Promise<T>): Promise<T | null> => {
    try {
      return await answer;
    } catch (error) {
      if (signal.aborted) throw error;
      return null;
    }
  };
  await delay(SETTLING_MS, signal);
  yield { kind: "intervals", settled: await orNull(fetchIntervals(document, signal)) };
  for (const id of wanted) {
    yield { kind: "fixes", id, fixes: await orNull(fetchFixes(document, id, signal)) };
  }
}

const fixState = (part: Part | undefined, searching: boolean): FixState => {
  if (part?.kind !== "fixes") return { kind: searching ? "looking" : "stopped" };
  return part.fixes === null ? { kind: "failed" } : { kind: "found", fixes: part.fixes };
};

/**
 * How far each figure may be off, and changes for everything that fails, once the plan has been left
 * alone for a moment. Intervals come first; changes one after another.
 */
export function useAssessment(state: EvaluationState, settled: boolean): Assessment {
  const { result, document, pending } = state;
  const client = useQueryClient();
  const wanted = useMemo(() => (result ? failing(result) : []), [result]);
  const ready = result !== null && document !== null && !pending && settled;
  // Another key while the plan changes: what is computed for the plan before is aborted at once.
  const queryKey = ["assessment", ready ? document : null, wanted];
  const { data, isFetching } = useQuery({
    queryKey,
    queryFn: streamedQuery({
      streamFn: ({ signal }) => assess(document as PlanDocument, wanted, signal),
    }),
    enabled: ready,
    retry: false,
    refetchOnReconnect: false,
    staleTime: 0,
    gcTime: 10_000,
    structuralSharing: false,
  });
  return useMemo(() => {
    const parts = (ready && data) || [];
    const searching = !ready || isFetching;
    const first = parts.find((p) => p.kind === "intervals");
    const settled = first?.kind === "intervals" ? first.settled : null;
    return {
      fixes: Object.fromEntries(
        wanted.map((id) => {
          const part = parts.find((p) => p.kind === "fixes" && p.id === id);
          return [id, fixState(part, searching)];
        }),
      ),
      intervals: Object.fromEntries((settled?.intervals ?? []).map((i) => [i.check_id, i])),
      settled,
      progress: ready && isFetching ? { done: parts.length, total: wanted.length + 1 } : null,
      stop: () => void client.cancelQueries({ queryKey: ["assessment"] }),
    };
  }, [ready, data, isFetching, wanted, client]);
}
