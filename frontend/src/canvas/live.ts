/** What changes with every step of a drag, apart from all that does not: lamps, and the layer on show. */
import { createContext, useContext, useSyncExternalStore } from "react";
import type { Picture } from "../api/picture";
import type { PlanDocument } from "../api/types";

export interface Live {
  subscribe: (listener: () => void) => () => void;
  /** What is being dragged as it is on the screen; null while nothing is. */
  moving: () => PlanDocument | null;
  /** The layer on show, where it is newer than the evaluation. */
  picture: () => Picture | null;
}

const STILL: Live = { subscribe: () => () => {}, moving: () => null, picture: () => null };

export const LiveContext = createContext<Live>(STILL);

/** The document with every step of a drag. */
export function useMoving(document: PlanDocument): PlanDocument {
  const live = useContext(LiveContext);
  return useSyncExternalStore(live.subscribe, live.moving) ?? document;
}

/** The document with every step of a drag that moves more than lamps: with those only lamps are drawn again. */
export function useMovingThings(document: PlanDocument, live: Live): PlanDocument {
  return useSyncExternalStore(live.subscribe, () => {
    const moving = live.moving();
    return moving && !onlyLampsDiffer(moving, document) ? moving : document;
  });
}

/** Whether something is being dragged. */
export function useIsMoving(): boolean {
  const live = useContext(LiveContext);
  return useSyncExternalStore(live.subscribe, () => live.moving() !== null);
}

export function useLivePicture(): Picture | null {
  const live = useContext(LiveContext);
  return useSyncExternalStore(live.subscribe, live.picture);
}

/** Whether two documents are the same but for their lamps. */
export function onlyLampsDiffer(one: PlanDocument, other: PlanDocument): boolean {
  const keys = new Set([...Object.keys(one), ...Object.keys(other)]) as Set<keyof PlanDocument>;
  keys.delete("fixtures");
  return [...keys].every((key) => one[key] === other[key]);
}
