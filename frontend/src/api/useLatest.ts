import { useEffect, useRef, useState } from "react";

export interface Latest<T> {
  result: T | null;
  error: unknown;
  pending: boolean;
}

/**
 * Ask for something again whenever the question changes. One request is under way at a time; when it is
 * answered the newest goes next, and those in between are never sent.
 */
export function useLatest<A, T>(asked: A | null, ask: (asked: A) => Promise<T>): Latest<T> {
  const [state, setState] = useState<Latest<T>>({ result: null, error: null, pending: false });
  const wanted = useRef<A | null>(null);
  const running = useRef(false);
  const mounted = useRef(true);
  useEffect(() => {
    mounted.current = true;
    return () => {
      mounted.current = false;
    };
  }, []);
  useEffect(() => {
    wanted.current = asked;
    if (asked === null) return;
    setState((s) => ({ ...s, pending: true }));
    if (running.current) return;
    running.current = true;
    void (async () => {
      while (wanted.current !== null && mounted.current) {
        const now = wanted.current;
        wanted.current = null;
        let next: Partial<Latest<T>>;
        try {
          next = { result: await ask(now), error: null };
        } catch (error) {
          next = { error };
        }
        const pending = wanted.current !== null;
        if (mounted.current) setState((s) => ({ ...s, ...next, pending }));
      }
      running.current = false;
    })();
  }, [asked, ask]);
  return state;
}
