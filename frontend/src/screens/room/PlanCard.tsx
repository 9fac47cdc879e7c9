import { useQuery } from "@tanstack/react-query";
import { Archive, Copy, Download } from "lucide-react";
import { Link } from "react-router";
import type { Catalog, PlanDocument, PlanSummary } from "../../api/types";
import { describe } from "../../app/notices";
import { usePreferences } from "../../app/preferences";
import { fixturesOf, furnishingsOf } from "../../plan/document";
import { BoxDrawing, FurnishingShape } from "../../stage/BoxDrawing";
import { FixtureShape } from "../../stage/FixtureShape";
import { headroom, projection } from "../../stage/projection";
import { IconButton } from "../../ui/Button";
import { showSizes } from "../../units/units";
import { toChange, verdictOf } from "./verdict";

interface PlanCardProps {
  plan: PlanSummary;
  catalog: Catalog | null;
  busy: boolean;
  onDuplicate: () => void;
  onArchive: () => void;
}

/** One box of the room: its picture, its animal, its verdict now. */
export function PlanCard({ plan, catalog, busy, onDuplicate, onArchive }: PlanCardProps) {
  const { units } = usePreferences();
  const d = plan.document;
  const species = catalog?.species.find((s) => s.id === d.animal.species_id);
  const verdict = useQuery(verdictOf(plan));
  const failed = toChange(verdict.data);
  return (
    <li className="flex flex-col overflow-hidden rounded-xl border border-line bg-panel">
      <Link
        to={`/plans/${plan.id}`}
        className="block flex-1 hover:bg-wash"
        data-testid={`plan-${plan.id}`}
      >
        <Thumbnail document={d} catalog={catalog} />
        <div className="px-4 pt-2 pb-3">
          <h2 className="font-semibold">{plan.name}</h2>
          <p className="text-sm text-soft">
            {species?.common_name}, <i>{species?.scientific_name}</i>
          </p>
          <p className="mt-1 text-sm text-soft">{showSizes(d.box, units)}</p>
          <p className="mt-1 min-h-6 font-semibold">
            {verdict.isPending && <span className="font-normal text-soft">Working it out…</span>}
            {verdict.isError && <span className="text-high">{describe(verdict.error).title}</span>}
            {verdict.data &&
              (failed > 0 ? (
                <span className="text-high">▲▼ {failed} to change</span>
              ) : (
                <span className="text-fit">● everything fits</span>
              ))}
          </p>
        </div>
      </Link>
      <div className="flex items-center justify-between border-t border-line px-2 py-1 text-sm text-soft">
        <span className="px-2">revision {plan.revision}</span>
        <span>
          <a
            href={`/api/plans/${plan.id}/export`}
            aria-label={`Export ${plan.name}`}
            className="inline-grid size-9 place-items-center rounded-md hover:bg-wash"
          >
            <Download size={17} aria-hidden />
          </a>
          <IconButton label={`Duplicate ${plan.name}`} disabled={busy} onClick={onDuplicate}>
            <Copy size={17} aria-hidden />
          </IconButton>
          <IconButton label={`Archive ${plan.name}`} onClick={onArchive}>
            <Archive size={17} aria-hidden />
          </IconButton>
        </span>
      </div>
    </li>
  );
}

/** The box from the front, small and without fields. */
export function Thumbnail({
  document: d,
  catalog,
}: {
  document: PlanDocument;
  catalog: Catalog | null;
}) {
  const p = projection(d.box, headroom(d), 400, 230);
  return (
    <svg viewBox={`0 0 400 ${p.height}`} className="block w-full bg-air" aria-hidden="true">
      <BoxDrawing box={d.box} depth={d.substrate.depth_m} projection={p} />
      {furnishingsOf(d).map((item) => (
        <FurnishingShape key={item.id} item={item} document={d} projection={p} />
      ))}
      {fixturesOf(d).map((f) => {
        const lamp = catalog?.lamps.find((l) => l.id === f.lamp_id);
        return lamp ? (
          <FixtureShape
            key={f.id}
            fixture={f}
            lamp={lamp}
            document={d}
            projection={p}
            selected={false}
          />
        ) : null;
      })}
    </svg>
  );
}
