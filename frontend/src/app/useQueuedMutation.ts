import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { describe, useNotify } from "./notices";

/** `about`: what the work changes; works about the same thing follow one another. */
export type Tried = (work: () => Promise<unknown>, about?: string) => Promise<boolean>;

/**
 * Do something that is stored: trouble is shown, and whatever depends on it (queries whose keys begin with one of
 * `stale`) is asked for again either way. Tells whether it was done. What is done to one thing reaches the server
 * in the order it was done, also where an undo is quicker than what it takes back.
 */
export function useQueuedMutation(stale: readonly string[]): Tried {
  const cache = useQueryClient();
  const notify = useNotify();
  const joined = stale.join();
  return useCallback(
    async (work, about = "") => {
      const keys = joined.split(",");
      const all = cache.getMutationCache();
      const mine = all.build(cache, {
        mutationFn: work,
        scope: { id: `queued ${about}` },
        meta: { stale: keys },
      });
      try {
        await mine.execute(undefined);
        return true;
      } catch (error) {
        notify({ ...describe(error), tone: "trouble" });
        return false;
      } finally {
        // What is still to be stored is shown already; to ask now would show the state before it.
        const later = all
          .findAll({ status: "pending" })
          .flatMap((m) => (m.meta?.stale as string[] | undefined) ?? []);
        await Promise.all(
          keys
            .filter((key) => !later.includes(key))
            .map((key) => cache.invalidateQueries({ queryKey: [key] })),
        );
      }
    },
    [cache, notify, joined],
  );
}
