import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { evaluate, repairPlan } from "../../api/client";
import type { PlanDocument, Repair } from "../../api/types";
import { describe } from "../../app/notices";
import { applyPatch } from "../../domain/plan/patch";
import { fails } from "../../domain/units/needs";
import { Button } from "../../ui/Button";
import { Panel } from "../../ui/Panel";
import { Phrase } from "../plan/Phrase";

export interface RepairProps {
  document: PlanDocument;
  failing: number;
  onApply: (document: PlanDocument, summary: string) => void;
}

/** The fewest changes that fix a plan, searched when it opens, each of which can be skipped. */
export function RepairPanel(props: RepairProps & { onClose: () => void }) {
  const { document, failing, onApply, onClose } = props;
  const [left, setLeft] = useState<ReadonlySet<number>>(new Set());
  const stop = useRef<AbortController | null>(null);
  const find = useMutation({
    mutationFn: () => {
      stop.current = new AbortController();
      return repairPlan(document, stop.current.signal);
    },
  });
  const { mutate: start } = find;
  useEffect(() => {
    start();
    return () => stop.current?.abort();
  }, [start]);
  const chosen = (repair: Repair) => repair.changes.filter((_, i) => !left.has(i));
  const changed = find.data ? withChanges(document, chosen(find.data)) : null;
  const after = useQuery({
    queryKey: ["repaired", JSON.stringify(changed)],
    queryFn: async () => (changed ? countFailing(changed) : 0),
    enabled: changed !== null && left.size > 0,
  });
  const close = () => {
    stop.current?.abort();
    onClose();
  };
  const then = left.size > 0 ? after.data : find.data?.failing_after;
  return (
    <Panel
      open
      onOpenChange={(on) => !on && close()}
      title="Fix everything"
      description="The fewest changes that together fix this plan. The room, the animal and what is locked are never changed."
    >
      {(find.isPending || find.isIdle) && (
        <div role="status">
          <p>Looking for changes, each computed with the full model. It may take a minute.</p>
          <progress className="mt-2 h-2 w-full" aria-label="Looking for changes" />
          <Button className="mt-3" onClick={close}>
            Stop
          </Button>
        </div>
      )}
      {find.isError && (
        <p role="alert" className="text-high">
          {describe(find.error).title}: {describe(find.error).detail}
        </p>
      )}
      {find.data && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            if (!find.data || !changed) return;
            const count = chosen(find.data).length;
            onApply(changed, `Fix everything: ${count} change${count === 1 ? "" : "s"}`);
            close();
          }}
        >
          {find.data.changes.length === 0 && <p>No change was found that fixes this plan.</p>}
          <ol className="space-y-2" data-testid="repair-changes">
            {find.data.changes.map((change, i) => (
              <li key={JSON.stringify(change.patch)}>
                <label className="flex gap-2">
                  <input
                    type="checkbox"
                    className="mt-1 size-4 shrink-0"
                    checked={!left.has(i)}
                    onChange={(e) => {
                      const next = new Set(left);
                      if (e.target.checked) next.delete(i);
                      else next.add(i);
                      setLeft(next);
                    }}
                  />
                  <span>
                    <Phrase parts={change.sentence} />
                  </span>
                </label>
              </li>
            ))}
          </ol>
          <p className="mt-4 font-semibold" role="status">
            <span className="text-high">{failing} to change now</span>
            {" → "}
            {changed === null ? (
              <span className="text-high">these changes need one that is not ticked</span>
            ) : then === undefined ? (
              <span className="text-soft">computing…</span>
            ) : (
              <span className={then === 0 ? "text-fit" : "text-high"}>
                {then === 0 ? "● nothing fails as computed" : `${then} left`}
              </span>
            )}
          </p>
          {find.data.left.length > 0 && left.size === 0 && (
            <ul className="mt-1 list-disc pl-5 text-sm text-soft">
              {find.data.left.map((parts) => (
                <li key={JSON.stringify(parts)}>
                  <Phrase parts={parts} />
                </li>
              ))}
            </ul>
          )}
          <div className="mt-4 flex flex-wrap gap-2">
            <Button
              type="submit"
              tone="strong"
              disabled={changed === null || chosen(find.data).length === 0}
            >
              Make {chosen(find.data).length === 1 ? "this change" : "these changes"}
            </Button>
            <Button onClick={close}>Leave it</Button>
          </div>
          <p className="mt-3 text-sm text-soft">
            All of it is one step that can be undone. Figures are predictions until measured; wiring
            follows local electrical code and a qualified electrician.
          </p>
        </form>
      )}
    </Panel>
  );
}

/** The document with some changes; null where one of them needs one that is left out. */
function withChanges(document: PlanDocument, changes: Repair["changes"]): PlanDocument | null {
  try {
    return changes.reduce((made, change) => applyPatch(made, change.patch), document);
  } catch {
    return null;
  }
}

async function countFailing(document: PlanDocument): Promise<number> {
  const { checks, findings } = await evaluate(document);
  return [...checks, ...findings].filter((one) => fails(one.severity)).length;
}
