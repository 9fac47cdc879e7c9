/**
 * Readings on their way to the data file. They stay in the browser's storage until the program has
 * said that it stored them, so neither a dropped connection nor a closed page loses one; a reading has its
 * id from the start, so sending it twice stores it once.
 */
import { useSyncExternalStore } from "react";
import { ProblemError } from "../../api/client";
import { putReadings } from "../../api/readings";
import type { Reading } from "../../api/types";

export interface Waiting {
  readonly planId: string;
  readonly reading: Reading;
  /** Counts edits, so that an answer about an older state does not clear a newer one. */
  readonly stamp: number;
  /** Why it cannot be stored as it is. */
  readonly refused?: string;
}

export interface Outbox {
  readonly waiting: readonly Waiting[];
  readonly sending: boolean;
  /** Why nothing can be sent now. */
  readonly trouble: string | null;
  /** The browser refuses to keep them: they last as long as the page. */
  readonly fleeting: boolean;
}

const KEY = "readings-outbox";
const AGAIN_MS = 8000;

let state: Outbox = { waiting: load(), sending: false, trouble: null, fleeting: false };
const listeners = new Set<() => void>();
const stored = new Set<(readings: readonly Waiting[]) => void>();
let timer: ReturnType<typeof setTimeout> | null = null;

function load(): readonly Waiting[] {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(KEY) ?? "[]");
    return Array.isArray(found) ? (found as Waiting[]) : [];
  } catch {
    return [];
  }
}

function set(change: Partial<Outbox>): void {
  state = { ...state, ...change };
  if (change.waiting) {
    try {
      localStorage.setItem(KEY, JSON.stringify(state.waiting));
      state = { ...state, fleeting: false };
    } catch {
      state = { ...state, fleeting: state.waiting.length > 0 };
    }
  }
  for (const listener of listeners) listener();
}

/** Store a reading and send it as soon as there is a connection. */
export function post(planId: string, reading: Reading): void {
  const before = state.waiting.find((w) => w.reading.id === reading.id);
  const rest = state.waiting.filter((w) => w.reading.id !== reading.id);
  const stamp = (before?.stamp ?? 0) + 1;
  set({ waiting: [...rest, { planId, reading, stamp }] });
  void send();
}

/** Give up a reading that was not stored yet. */
export function discard(readingId: string): void {
  set({ waiting: state.waiting.filter((w) => w.reading.id !== readingId) });
}

/** Send what waits, plan by plan. */
export async function send(): Promise<void> {
  if (state.sending) return;
  const due = state.waiting.filter((w) => w.refused === undefined);
  if (due.length === 0) {
    set({ trouble: null });
    return;
  }
  set({ sending: true });
  const done: Waiting[] = [];
  let trouble: string | null = null;
  for (const planId of new Set(due.map((w) => w.planId))) {
    const mine = due.filter((w) => w.planId === planId);
    try {
      const answer = await putReadings(
        planId,
        mine.map((w) => w.reading),
      );
      const reasons = new Map(answer.refused.map((r) => [r.id, r.reason]));
      const stored = new Set(answer.stored);
      const same = (w: Waiting) =>
        mine.some((m) => m.reading.id === w.reading.id && m.stamp === w.stamp);
      set({
        waiting: state.waiting
          .filter((w) => !(same(w) && stored.has(w.reading.id)))
          .map((w) => {
            const reason = reasons.get(w.reading.id);
            return same(w) && reason !== undefined ? { ...w, refused: reason } : w;
          }),
      });
      done.push(...mine.filter((w) => stored.has(w.reading.id)));
    } catch (error) {
      trouble = why(error);
    }
  }
  set({ sending: false, trouble });
  if (done.length > 0) for (const listener of stored) listener(done);
  if (timer) clearTimeout(timer);
  timer = null;
  if (state.waiting.some((w) => w.refused === undefined)) {
    timer = setTimeout(() => void send(), trouble ? AGAIN_MS : 0);
  }
}

function why(error: unknown): string {
  if (error instanceof ProblemError) {
    return error.problem.status === 0 ? "no connection" : error.problem.detail;
  }
  return "the answer could not be read";
}

window.addEventListener("online", () => void send());
// Another page of the same browser may have stored or sent some.
window.addEventListener("storage", (event) => {
  if (event.key !== KEY) return;
  state = { ...state, waiting: load() };
  for (const listener of listeners) listener();
});
if (state.waiting.length > 0) void send();

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => {
    listeners.delete(listener);
  };
};

/** What waits to be stored. */
export const useOutbox = (): Outbox => useSyncExternalStore(subscribe, () => state);

/** Call a listener with the readings that were stored. */
export function onStored(listener: (readings: readonly Waiting[]) => void): () => void {
  stored.add(listener);
  return () => {
    stored.delete(listener);
  };
}
