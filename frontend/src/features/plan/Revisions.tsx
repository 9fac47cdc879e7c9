import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Pencil } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { fetchRevision, fetchRevisions, nameRevision } from "../../api/client";
import type { PlanDocument, RevisionSummary } from "../../api/types";
import { describe } from "../../app/notices";
import { useAction } from "../../app/useAction";
import { Button, IconButton } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Panel } from "../../ui/Panel";

interface RevisionsProps {
  planId: string;
  open: boolean;
  onOpenChange: (open: boolean) => void;
  onRestore: (document: PlanDocument, summary: string) => void;
}

/** Every state the plan ever had; any of them can be named, compared and opened again. */
export function Revisions({ planId, open, onOpenChange, onRestore }: RevisionsProps) {
  const queries = useQueryClient();
  const [shown, setShown] = useState<"all" | "named">("all");
  const list = useQuery({
    queryKey: ["revisions", planId],
    queryFn: () => fetchRevisions(planId),
    enabled: open,
    staleTime: 0,
  });
  const reopen = useAction(
    (number: number) => fetchRevision(planId, number),
    (revision, number) => {
      onRestore(revision.document, `Back to revision ${number}`);
      onOpenChange(false);
    },
  );
  const rename = useAction(
    ({ number, name }: { number: number; name: string }) => nameRevision(planId, number, name),
    () => queries.invalidateQueries({ queryKey: ["revisions", planId] }),
  );
  const found = (list.data?.revisions ?? []).filter((r) => shown === "all" || r.name !== "");
  return (
    <Panel
      open={open}
      onOpenChange={onOpenChange}
      title="Revisions"
      description="Each saved change is a revision. Opening an old one adds it as the newest; undo takes you back."
    >
      <Choice
        label="Revisions shown"
        value={shown}
        onChange={setShown}
        options={[
          { value: "all", label: "All" },
          { value: "named", label: "Named" },
        ]}
      />
      {list.isPending && <p className="mt-2 text-soft">Loading…</p>}
      {list.isError && <p className="mt-2 text-high">{describe(list.error).detail}</p>}
      {list.data && found.length === 0 && (
        <p className="mt-2 text-soft">
          None has a name yet. The pencil beside a revision gives it one.
        </p>
      )}
      <ol className="mt-2 space-y-1">
        {found.map((r) => (
          <OneRevision
            key={r.number}
            planId={planId}
            revision={r}
            newest={r.number === list.data?.head}
            onName={(name) => rename.mutate({ number: r.number, name })}
            onReopen={() => reopen.mutate(r.number)}
          />
        ))}
      </ol>
    </Panel>
  );
}

interface OneRevisionProps {
  planId: string;
  revision: RevisionSummary;
  newest: boolean;
  onName: (name: string) => void;
  onReopen: () => void;
}

function OneRevision({ planId, revision: r, newest, onName, onReopen }: OneRevisionProps) {
  const [naming, setNaming] = useState(false);
  const done = (name: string) => {
    setNaming(false);
    if (name.trim() !== r.name) onName(name.trim());
  };
  return (
    <li className="flex items-center gap-2 rounded-md px-2 py-1.5 hover:bg-wash">
      <span className="w-8 text-right font-semibold">{r.number}</span>
      <span className="min-w-0 flex-1">
        {naming ? (
          <input
            // biome-ignore lint/a11y/noAutofocus: asked for by the button just pressed
            autoFocus
            type="text"
            aria-label={`Name of revision ${r.number}`}
            defaultValue={r.name}
            maxLength={80}
            placeholder="As built, with the small bulb…"
            className="h-8 w-full rounded-md border border-edge bg-raised px-2"
            onBlur={(e) => done(e.currentTarget.value)}
            onKeyDown={(e) => {
              if (e.key === "Enter") done(e.currentTarget.value);
              if (e.key === "Escape") {
                e.stopPropagation();
                setNaming(false);
              }
            }}
          />
        ) : (
          <span className="block">
            {r.name && <b className="font-semibold">{r.name} · </b>}
            {r.summary}
            {r.kind === "refused" && (
              <em className="ml-1 text-high">
                (saved separately: it was based on an older revision)
              </em>
            )}
          </span>
        )}
        <time dateTime={r.created_at} className="text-sm text-soft">
          {new Date(r.created_at).toLocaleString()}
        </time>
      </span>
      <IconButton label={`Name revision ${r.number}`} onClick={() => setNaming(true)}>
        <Pencil size={16} aria-hidden />
      </IconButton>
      {newest ? (
        <span className="text-sm text-soft">newest</span>
      ) : (
        <>
          <Link
            to={`/compare?a=${planId}@${r.number}&b=${planId}`}
            aria-label={`Compare revision ${r.number} with the newest`}
            className="inline-flex min-h-8 items-center rounded-md border border-edge bg-raised px-2.5 text-sm font-medium hover:bg-wash"
          >
            Compare
          </Link>
          <Button size="small" aria-label={`Open revision ${r.number}`} onClick={onReopen}>
            Open
          </Button>
        </>
      )}
    </li>
  );
}
