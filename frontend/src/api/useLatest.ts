import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";

export interface Latest<A, T> {
  /** The newest answer there is; while the next is computed, the one before. */
  result: T | null;
  /** The question of that answer. */
  question: A | null;
  error: unknown;
  pending: boolean;
}

/** Answers hold fields and series: what is no longer shown is dropped soon. */
const UNUSED_MS = 10_000;

/**
 * Ask again whenever the question changes. One request is under way at a time; when it is answered the
 * newest question goes next, and those in between are never sent, so that a drag keeps showing answers.
 * An answer known for less than ``freshMs`` is not asked for again.
 */
export function useLatest<A, T>(
  name: string,
  asked: A | null,
  ask: (asked: A, signal: AbortSignal) => Promise<T>,
  freshMs = 0,
): Latest<A, T> {
  const [sent, setSent] = useState(asked);
  const query = useQuery({
    queryKey: [name, sent],
    queryFn: ({ signal }) => ask(sent as A, signal),
    enabled: sent !== null,
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: freshMs,
    gcTime: UNUSED_MS,
    // Comparing a whole answer with the last costs more than drawing it.
    structuralSharing: false,
  });
  const waits = asked !== null && asked !== sent;
  useEffect(() => {
    if (waits && !query.isFetching) setSent(asked);
  }, [asked, waits, query.isFetching]);
  // A question that fails leaves the answer before it on the screen.
  const last = useRef<{ result: T; question: A } | null>(null);
  if (query.data !== undefined && sent !== null && !query.isPlaceholderData) {
    const { current } = last;
    if (current?.result !== query.data || current.question !== sent) {
      last.current = { result: query.data, question: sent };
    }
  }
  return {
    result: last.current?.result ?? null,
    question: last.current?.question ?? null,
    error: query.error,
    pending: waits || query.isFetching,
  };
}
