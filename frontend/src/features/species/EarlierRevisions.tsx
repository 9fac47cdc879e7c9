import { useQuery } from "@tanstack/react-query";
import { fetchSpeciesRevisions } from "../../api/client";
import type { SpeciesDocument } from "../../api/types";
import { Button } from "../../ui/Button";

interface EarlierProps {
  id: string;
  head: number;
  onTake: (document: SpeciesDocument) => void;
}

/** Earlier revisions of an own species; restoring one adds it as the newest. */
export function EarlierRevisions({ id, head, onTake }: EarlierProps) {
  const revisions = useQuery({
    // Its head tells when it changes: asked again with its sheet it might be gone.
    queryKey: ["species-revisions", id, head],
    queryFn: () => fetchSpeciesRevisions(id),
  });
  return (
    <details className="mt-3 border-t border-line py-2">
      <summary className="min-h-8 cursor-pointer py-1 font-semibold">Earlier revisions</summary>
      <ul className="text-sm">
        {(revisions.data ?? [])
          .filter((r) => r.number < head)
          .map((r) => (
            <li key={r.number} className="flex items-center gap-3 py-1">
              Revision {r.number}, {new Date(r.created_at).toLocaleString()}
              <Button size="small" onClick={() => onTake(r.document)}>
                Open
                <span className="sr-only"> (revision {r.number})</span>
              </Button>
            </li>
          ))}
      </ul>
    </details>
  );
}
