import { useMutation } from "@tanstack/react-query";
import { Plus, RotateCcw } from "lucide-react";
import { Link } from "react-router";
import { fetchSample } from "../../api/client";
import type { PlanDocument } from "../../api/types";
import { describe, useNotify } from "../../app/notices";
import { Button } from "../../ui/Button";

/** What the sample is for. */
export const SAMPLE_WORDS = (
  <p className="text-sm">
    <b className="font-semibold">This is a sample enclosure in which everything fits.</b>{" "}
    <span className="max-md:sr-only">
      Move a lamp, add a branch, open the day: your own enclosures stay as they are.
    </span>
  </p>
);

/** What is done with the sample: begin anew, or go on to an enclosure of one's own. */
export function SampleActions(props: {
  onReset: (document: PlanDocument, summary: string) => void;
}) {
  const notify = useNotify();
  const reset = useMutation({
    mutationFn: fetchSample,
    onSuccess: (sample) => {
      props.onReset(sample.document, "Sample reset");
      notify({ title: "The sample is reset. Undo brings your changes back.", tone: "plain" });
    },
    onError: (error) => notify({ ...describe(error), tone: "trouble" }),
  });
  return (
    <>
      <Button size="small" disabled={reset.isPending} onClick={() => reset.mutate()}>
        <RotateCcw size={15} aria-hidden /> Reset
      </Button>
      <Link
        to="/new"
        className="inline-flex min-h-7 items-center gap-1.5 rounded-md bg-accent px-2.5 text-sm font-medium text-accent-ink hover:opacity-90"
      >
        <Plus size={15} aria-hidden /> Plan your own
      </Link>
    </>
  );
}
