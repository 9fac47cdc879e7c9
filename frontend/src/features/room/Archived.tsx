import { useQuery } from "@tanstack/react-query";
import { ArchiveRestore } from "lucide-react";
import { fetchArchive } from "../../api/client";
import type { Catalog } from "../../api/types";
import { describe } from "../../app/notices";
import { Thumbnail } from "../../canvas/Thumbnail";
import { Button } from "../../ui/Button";
import { matches } from "./matches";
import { useRestore } from "./useRestore";

/** Enclosures that were put away, each with the way back; nothing here is ever deleted. */
export function Archived({ catalog, search }: { catalog: Catalog | null; search: string }) {
  const archive = useQuery({ queryKey: ["archive"], queryFn: fetchArchive, staleTime: 0 });
  const restore = useRestore();
  if (archive.isError) {
    return (
      <p role="alert" className="text-high">
        {describe(archive.error).title}. {describe(archive.error).detail}
      </p>
    );
  }
  if (archive.isPending) return <p className="text-soft">Loading the archive…</p>;
  if (archive.data.length === 0) {
    return <p className="text-soft">Nothing is archived. Enclosures you archive appear here.</p>;
  }
  const found = archive.data.filter((plan) => matches(plan, catalog, search));
  if (found.length === 0) return <p className="text-soft">Nothing in the archive matches.</p>;
  return (
    <ul className="grid gap-3 sm:grid-cols-2 lg:grid-cols-3">
      {found.map((plan) => (
        <li
          key={plan.id}
          className="flex items-center gap-3 rounded-xl border border-line bg-panel p-2 pr-3"
        >
          <div className="w-24 shrink-0 overflow-hidden rounded-lg">
            <Thumbnail document={plan.document} catalog={catalog} />
          </div>
          <div className="min-w-0 flex-1">
            <p className="font-semibold">{plan.name}</p>
            <p className="text-sm text-soft">revision {plan.revision}</p>
            <Button
              size="small"
              className="mt-1"
              aria-label={`Restore ${plan.name}`}
              disabled={restore.isPending}
              onClick={() => restore.mutate(plan.id)}
            >
              <ArchiveRestore size={15} aria-hidden /> Restore
            </Button>
          </div>
        </li>
      ))}
    </ul>
  );
}
