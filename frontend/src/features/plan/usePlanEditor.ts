import { useMutation } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useReducer, useRef, useState } from "react";
import { ProblemError, savePlan } from "../../api/client";
import type { PlanDocument, PlanSummary } from "../../api/types";
import { type Edit, historyReducer, initialHistory } from "../../domain/plan/history";

const SAVE_AFTER_MS = 700;

export type SaveState =
  | { kind: "saved" }
  | { kind: "waiting" }
  | { kind: "saving" }
  | { kind: "failed"; error: unknown }
  | { kind: "conflict"; head: number; refusedAs: number | null };

export interface PlanEditor {
  /** What is on the screen: the edit in progress, or the last one. */
  document: PlanDocument;
  settled: boolean;
  /** The plan before the edit under way. */
  base: () => PlanDocument;
  preview: (document: PlanDocument) => void;
  cancel: () => void;
  commit: (document: PlanDocument, summary: string) => void;
  undo: () => void;
  redo: () => void;
  canUndo: string | null;
  canRedo: string | null;
  save: SaveState;
  revision: number;
  retry: () => void;
  /** After a conflict: save this version on top of the newest one. */
  keepMine: () => void;
  /** Replace everything by what the server has. */
  reload: (plan: PlanSummary) => void;
  /** Save now; resolves when done. */
  flush: () => Promise<void>;
  /** Whether the last edit is stored, and as which revision; asked after saving. */
  isSaved: () => boolean;
  savedRevision: () => number;
}

/** Holds a plan while it is edited, and saves every settled edit as a revision. */
export function usePlanEditor(plan: PlanSummary): PlanEditor {
  const [history, dispatch] = useReducer(historyReducer, plan.document, initialHistory);
  const [save, setSave] = useState<SaveState>({ kind: "saved" });
  const [revision, setRevision] = useState(plan.revision);
  const stored = useRef(JSON.stringify(plan.document));
  const base = useRef(plan.revision);
  const busy = useRef<Promise<void> | null>(null);
  const { mutateAsync: store } = useMutation({
    mutationFn: (edit: Edit) => savePlan(plan.id, edit.document, base.current, edit.summary),
  });
  const latest = useRef(history.present);
  latest.current = history.present;

  const write = useCallback(async (): Promise<void> => {
    if (busy.current) await busy.current;
    const edit = latest.current;
    const text = JSON.stringify(edit.document);
    if (text === stored.current) {
      setSave((s) => (s.kind === "waiting" || s.kind === "failed" ? { kind: "saved" } : s));
      return;
    }
    setSave({ kind: "saving" });
    const run = (async () => {
      try {
        const result = await store(edit);
        base.current = result.revision;
        stored.current = text;
        setRevision(result.revision);
        const more = JSON.stringify(latest.current.document) !== text;
        setSave({ kind: more ? "waiting" : "saved" });
      } catch (error) {
        if (error instanceof ProblemError && error.problem.status === 409) {
          setSave({
            kind: "conflict",
            head: error.problem.head_revision ?? base.current,
            refusedAs: error.problem.refused_as ?? null,
          });
        } else {
          setSave({ kind: "failed", error });
        }
      }
    })();
    busy.current = run;
    await run;
    busy.current = null;
  }, [store]);

  const present = history.present;
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new edit, and only that, starts the clock
  useEffect(() => {
    // While a save is under way, what is stored is about to change: then even an edit that was undone
    // has to be written.
    if (!busy.current && JSON.stringify(present.document) === stored.current) {
      setSave((s) => (s.kind === "waiting" || s.kind === "failed" ? { kind: "saved" } : s));
      return;
    }
    if (save.kind === "conflict") return;
    setSave({ kind: "waiting" });
    const timer = setTimeout(() => void write(), SAVE_AFTER_MS);
    return () => clearTimeout(timer);
  }, [present, write]);

  // Leaving the page must not lose the last second of work.
  useEffect(() => {
    const leave = () => {
      const edit = latest.current;
      if (JSON.stringify(edit.document) === stored.current || busy.current) return;
      void savePlan(plan.id, edit.document, base.current, edit.summary, true).catch(() => {});
    };
    window.addEventListener("pagehide", leave);
    return () => {
      window.removeEventListener("pagehide", leave);
      void write();
    };
  }, [plan.id, write]);

  const unsaved = save.kind === "failed" || save.kind === "conflict";
  useEffect(() => {
    if (!unsaved) return;
    const warn = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", warn);
    return () => window.removeEventListener("beforeunload", warn);
  }, [unsaved]);

  const actions = useMemo(
    () => ({
      base: () => latest.current.document,
      preview: (document: PlanDocument) => dispatch({ type: "preview", document }),
      cancel: () => dispatch({ type: "cancel" }),
      commit: (document: PlanDocument, summary: string) =>
        dispatch({ type: "commit", document, summary }),
      undo: () => dispatch({ type: "undo" }),
      redo: () => dispatch({ type: "redo" }),
    }),
    [],
  );

  return useMemo(
    () => ({
      document: history.preview ?? history.present.document,
      settled: history.preview === null,
      ...actions,
      canUndo: history.past.length > 0 ? history.present.summary : null,
      canRedo: history.future[0]?.summary ?? null,
      save,
      revision,
      retry: () => void write(),
      keepMine: () => {
        if (save.kind === "conflict") base.current = save.head;
        void write();
      },
      reload: (fresh: PlanSummary) => {
        stored.current = JSON.stringify(fresh.document);
        base.current = fresh.revision;
        setRevision(fresh.revision);
        setSave({ kind: "saved" });
        dispatch({ type: "load", document: fresh.document });
      },
      flush: write,
      isSaved: () => JSON.stringify(latest.current.document) === stored.current,
      savedRevision: () => base.current,
    }),
    [history, actions, save, revision, write],
  );
}
