/** Undo and redo of whole documents. */
import type { PlanDocument } from "../../api/types";

export interface Edit {
  readonly document: PlanDocument;
  /** What the edit that led here did, in a few words. */
  readonly summary: string;
}

export interface History {
  readonly past: readonly Edit[];
  readonly present: Edit;
  readonly future: readonly Edit[];
  /** A change in progress, such as a drag; not yet an edit. */
  readonly preview: PlanDocument | null;
}

export type HistoryAction =
  | { type: "load"; document: PlanDocument }
  | { type: "preview"; document: PlanDocument }
  | { type: "cancel" }
  | { type: "commit"; document: PlanDocument; summary: string }
  | { type: "undo" }
  | { type: "redo" };

const LONGEST = 200;

export function initialHistory(document: PlanDocument): History {
  return { past: [], present: { document, summary: "Opened" }, future: [], preview: null };
}

export function historyReducer(state: History, action: HistoryAction): History {
  switch (action.type) {
    case "load":
      return initialHistory(action.document);
    case "preview":
      return { ...state, preview: action.document };
    case "cancel":
      return { ...state, preview: null };
    case "commit":
      if (JSON.stringify(action.document) === JSON.stringify(state.present.document)) {
        return { ...state, preview: null };
      }
      return {
        past: [...state.past, state.present].slice(-LONGEST),
        present: { document: action.document, summary: action.summary },
        future: [],
        preview: null,
      };
    case "undo": {
      const last = state.past.at(-1);
      if (!last) return state;
      return {
        past: state.past.slice(0, -1),
        present: last,
        future: [state.present, ...state.future],
        preview: null,
      };
    }
    case "redo": {
      const [next, ...rest] = state.future;
      if (!next) return state;
      return { past: [...state.past, state.present], present: next, future: rest, preview: null };
    }
  }
}
