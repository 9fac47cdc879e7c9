import { fetchPlan } from "../../api/client";
import { describe, useNotify } from "../../app/notices";
import { Button } from "../../ui/Button";
import type { PlanEditor } from "./usePlanEditor";

/** Whether the work is safe, and what to do when it is not. */
export function SaveStatus({ editor, planId }: { editor: PlanEditor; planId: string }) {
  const notify = useNotify();
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
    const load = async () => {
      try {
        editor.reload(await fetchPlan(planId));
      } catch (error) {
        notify({ ...describe(error), tone: "trouble" });
      }
    };
    return (
      <span role="alert" className="flex flex-wrap items-center gap-2 text-sm text-high">
        Changed elsewhere (revision {save.head}); yours is kept
        {save.refusedAs !== null && ` as revision ${save.refusedAs}`}.
        <Button size="small" onClick={editor.keepMine}>
          Put mine on top
        </Button>
        <Button size="small" onClick={() => void load()}>
          Load the newest
        </Button>
      </span>
    );
  }
  const text = save.kind === "saved" ? `Saved, revision ${editor.revision}` : "Saving…";
  return (
    <span
      className="min-w-36 text-sm text-soft"
      role="status"
      data-testid="save-status"
      data-state={save.kind}
    >
      {text}
    </span>
  );
}
