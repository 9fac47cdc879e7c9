import { Plus, Trash2 } from "lucide-react";
import type { ReactNode } from "react";
import type { PlanSummary, RoomLayout } from "../../api/types";
import { Button, IconButton } from "../../ui/Button";
import { newStand, renamed, tidied, withoutStand } from "./layout";

interface StandsProps {
  layout: RoomLayout;
  plans: readonly PlanSummary[];
  /** Those that are looked for; others are left out of the picture. */
  found: ReadonlySet<string>;
  onLayout: (layout: RoomLayout, done: string) => void;
  card: (plan: PlanSummary, scale: number) => ReactNode;
}

/** Pixels a metre, so that boxes can be compared by eye. */
const SCALE = 210;

/** The boxes as they stand in the room: stands from left to right, shelves one above the other. */
export function Stands({ layout, plans, found, onLayout, card }: StandsProps) {
  const known = new Map(plans.map((p) => [p.id, p]));
  const shown = tidied(layout, new Set(known.keys()));
  const placed = new Set(shown.stands.flatMap((s) => s.shelves.flat()));
  const loose = plans.filter((p) => !placed.has(p.id) && found.has(p.id));
  return (
    <div>
      <div className="flex flex-wrap items-start gap-5">
        {shown.stands.map((stand) => {
          const empty = stand.shelves.every((shelf) => shelf.length === 0);
          return (
            <section key={stand.id} aria-label={stand.label} className="min-w-64 flex-1">
              <div className="mb-1 flex items-center gap-1">
                <input
                  key={stand.label}
                  type="text"
                  aria-label={`Name of ${stand.label}`}
                  defaultValue={stand.label}
                  maxLength={80}
                  className="h-8 min-w-0 flex-1 rounded border border-transparent bg-transparent px-1 text-lg font-semibold hover:border-edge focus:border-edge focus:bg-raised"
                  onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
                  onBlur={(e) => {
                    const label = e.currentTarget.value.trim();
                    if (!label) e.currentTarget.value = stand.label;
                    else if (label !== stand.label) {
                      onLayout(renamed(shown, stand.id, label), `Stand named ${label}`);
                    }
                  }}
                />
                {empty && (
                  <IconButton
                    label={`Remove ${stand.label}`}
                    onClick={() =>
                      onLayout(withoutStand(shown, stand.id), `${stand.label} removed`)
                    }
                  >
                    <Trash2 size={16} aria-hidden />
                  </IconButton>
                )}
              </div>
              <div className="rounded-lg border-x-4 border-board px-2">
                {empty && (
                  <p className="py-6 text-center text-sm text-soft">
                    Empty. A box is put here from its menu.
                  </p>
                )}
                {/* The top shelf is drawn first. */}
                {[...stand.shelves].reverse().map((shelf) => {
                  const here = shelf.filter((id) => found.has(id));
                  if (here.length === 0) return null;
                  return (
                    <ul
                      key={shelf.join(" ")}
                      className="flex flex-wrap items-end gap-3 border-b-8 border-board pt-3"
                    >
                      {here.map((id) => card(known.get(id) as PlanSummary, SCALE))}
                    </ul>
                  );
                })}
              </div>
            </section>
          );
        })}
      </div>
      {loose.length > 0 && (
        <section aria-label="Not on a stand" className="mt-6">
          <h2 className="mb-2 text-lg font-semibold">
            {shown.stands.length > 0 ? "Not on a stand" : "Boxes"}
          </h2>
          <ul className="flex flex-wrap items-end gap-4">{loose.map((p) => card(p, SCALE))}</ul>
        </section>
      )}
      <p className="mt-5">
        <Button size="small" onClick={() => onLayout(newStand(shown), "A stand was added")}>
          <Plus size={15} aria-hidden /> Add a stand
        </Button>
      </p>
    </div>
  );
}
