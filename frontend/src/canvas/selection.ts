/** Several lamps and furnishings that are selected together, in all views of the enclosure. */
import { createContext, useContext } from "react";
import type { Offset } from "../domain/plan/selection";
import type { From } from "./extents";

export interface Selection {
  /** What is selected together; empty while one thing is. */
  readonly keys: readonly string[];
  /** Whether a touch or click adds to them. */
  readonly adding: boolean;
  readonly toggle: (key: string) => void;
  readonly put: (keys: readonly string[]) => void;
  readonly clear: () => void;
  readonly setAdding: (adding: boolean) => void;
}

const nothing = () => {};
const NONE: Selection = {
  keys: [],
  adding: false,
  toggle: nothing,
  put: nothing,
  clear: nothing,
  setAdding: nothing,
};

export const SelectionContext = createContext<Selection>(NONE);

export const useSelection = (): Selection => useContext(SelectionContext);

/** The keys that move with one of them; null if it moves alone. */
export const together = (selection: Selection, key: string): readonly string[] | null =>
  selection.keys.length > 1 && selection.keys.includes(key) ? selection.keys : null;

interface Spot {
  readonly x: number;
  readonly z: number;
}

/** How far apart two spots of a drawing are in the enclosure. */
export const offset = (from: From, start: Spot, end: Spot): Offset => ({
  x: end.x - start.x,
  y: from === "above" ? end.z - start.z : 0,
  z: from === "front" ? end.z - start.z : 0,
});
