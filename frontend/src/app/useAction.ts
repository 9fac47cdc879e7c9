import { type UseMutationResult, useMutation } from "@tanstack/react-query";
import { describe, useNotify } from "./notices";

/** Something a press of a button asks of the server; a failure is shown as a notice. */
export function useAction<Given = void, Answer = unknown>(
  action: (given: Given) => Promise<Answer>,
  onSuccess?: (answer: Answer, given: Given) => unknown,
): UseMutationResult<Answer, Error, Given> {
  const notify = useNotify();
  return useMutation({
    mutationFn: action,
    onSuccess,
    onError: (error) => notify({ ...describe(error), tone: "trouble" }),
  });
}
