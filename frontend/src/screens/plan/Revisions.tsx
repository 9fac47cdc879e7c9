import { useQuery } from "@tanstack/react-query";
import { fetchRevision, fetchRevisions } from "../../api/client";
import type { PlanDocument } from "../../api/types";
import { describe, useNotify } from "../../app/notices";
import { Button } from "../../ui/Button";
import { Panel } from "../../ui/Panel";

interface RevisionsProps {
  planId: string;
  open: boolean;
  onOpenChange: (open: boolean) => void;
  onRestore: (document: PlanDocument, summary: string) => void;
}

/** Every state the plan ever had; any of them can be opened again. */
export function Revisions({ planId, open, onOpenChange, onRestore }: RevisionsProps) {
  const notify = useNotify();
  const list = useQuery({
    queryKey: ["revisions", planId],
    queryFn: () => fetchRevisions(planId),
    enabled: open,
    staleTime: 0,
  });
  const reopen = async (number: number) => {
    try {
      const revision = await fetchRevision(planId, number);
      onRestore(revision.document, `Back to revision ${number}`);
      onOpenChange(false);
    } catch (error) {
      notify({ ...describe(error), tone: "trouble" });
    }
  };
  return (
    <Panel
      open={open}
      onOpenChange={onOpenChange}
      title="Revisions"
      description="Each change is kept. Opening an old one adds it on top as the newest; undo takes you back."
    >
      {list.isPending && <p className="text-soft">Loading…</p>}
      {list.isError && <p className="text-high">{describe(list.error).detail}</p>}
      <ol className="space-y-1">
        {list.data?.revisions.map((r) => (
          <li
            key={r.number}
            className="flex items-center gap-3 rounded-md px-2 py-1.5 hover:bg-wash"
          >
            <span className="w-8 text-right font-semibold">{r.number}</span>
            <span className="min-w-0 flex-1">
              <span className="block">
                {r.summary}
                {r.kind === "refused" && (
                  <em className="ml-1 text-high">
                    (kept aside: it was based on an older revision)
                  </em>
                )}
              </span>
              <time dateTime={r.created_at} className="text-sm text-soft">
                {new Date(r.created_at).toLocaleString()}
              </time>
            </span>
            {r.number === list.data.head ? (
              <span className="text-sm text-soft">newest</span>
            ) : (
              <Button
                size="small"
                aria-label={`Open revision ${r.number}`}
                onClick={() => void reopen(r.number)}
              >
                Open
              </Button>
            )}
          </li>
        ))}
      </ol>
    </Panel>
  );
}
