import { fetchPlan } from "../../api/client";
import { describe } from "../../app/notices";
import { useAction } from "../../app/useAction";
import { Button } from "../../ui/Button";
import type { PlanEditor } from "./usePlanEditor";

/** Whether the work is safe, and what to do when it is not. */
export function SaveStatus({ editor, planId }: { editor: PlanEditor; planId: string }) {
  const load = useAction(() => fetchPlan(planId), editor.reload);
  const { save } = editor;
  if (save.kind === "failed") {
    return (
      <span role="alert" className="flex items-center gap-2 text-sm text-high">
        Not saved: {describe(save.error).detail}
        <Button size="small" onClick={editor.retry}>
          Try again
        </Button>
      </span>
    );
  }
  if (save.kind === "conflict") {
    return (
      <span role="alert" className="flex flex-wrap items-center gap-2 text-sm text-high">
        Changed in another window (revision {save.head}); yours is saved
        {save.refusedAs !== null && ` as revision ${save.refusedAs}`}.
        <Button size="small" onClick={editor.keepMine}>
          Save mine as the newest
        </Button>
        <Button size="small" onClick={() => load.mutate()}>
          Load the newest
        </Button>
      </span>
    );
  }
  const text = save.kind === "saved" ? `Saved, revision ${editor.revision}` : "Saving…";
  return (
    <span
      className="text-sm text-soft md:min-w-36"
      role="status"
      data-testid="save-status"
      data-state={save.kind}
    >
      {text}
    </span>
  );
}
