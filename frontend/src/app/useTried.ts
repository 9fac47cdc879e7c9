import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { describe, useNotify } from "./notices";

/**
 * Do something that is stored: trouble is told, and whatever depends on it (queries whose keys begin with one of
 * `stale`) is asked for again either way. Tells whether it was done.
 */
export function useTried(
  stale: readonly string[],
): (work: () => Promise<unknown>) => Promise<boolean> {
  const cache = useQueryClient();
  const notify = useNotify();
  const keys = stale.join();
  return useCallback(
    async (work) => {
      try {
        await work();
        return true;
      } catch (error) {
        notify({ ...describe(error), tone: "trouble" });
        return false;
      } finally {
        await Promise.all(
          keys.split(",").map((key) => cache.invalidateQueries({ queryKey: [key] })),
        );
      }
    },
    [cache, notify, keys],
  );
}
