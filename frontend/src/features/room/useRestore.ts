import { useMutation, useQueryClient } from "@tanstack/react-query";
import { bringBackPlan } from "../../api/client";
import { describe, useNotify } from "../../app/notices";

/** Put an archived enclosure back into the room, and say so. */
export function useRestore() {
  const queries = useQueryClient();
  const notify = useNotify();
  return useMutation({
    mutationFn: bringBackPlan,
    onSuccess: (plan) => {
      void queries.invalidateQueries({ queryKey: ["plans"] });
      void queries.invalidateQueries({ queryKey: ["archive"] });
      notify({ title: `${plan.name} is back in the room`, tone: "plain" });
    },
    onError: (error) => notify({ ...describe(error), tone: "trouble" }),
  });
}
