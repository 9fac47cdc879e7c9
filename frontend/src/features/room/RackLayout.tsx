import { Plus, Trash2 } from "lucide-react";
import type { ReactNode } from "react";
import type { PlanSummary, RoomLayout } from "../../api/types";
import { Button, IconButton } from "../../ui/Button";
import { newRack, renamed, tidied, withoutRack } from "./layout";

interface RackLayoutProps {
  layout: RoomLayout;
  plans: readonly PlanSummary[];
  /** Those that match the search; others are not shown. */
  found: ReadonlySet<string>;
  onLayout: (layout: RoomLayout, done: string) => void;
  card: (plan: PlanSummary) => ReactNode;
}

/** The enclosures by rack: racks from left to right, shelves one above the other. */
export function RackLayout({ layout, plans, found, onLayout, card }: RackLayoutProps) {
  const known = new Map(plans.map((p) => [p.id, p]));
  const shown = tidied(layout, new Set(known.keys()));
  const placed = new Set(shown.racks.flatMap((s) => s.shelves.flat()));
  const loose = plans.filter((p) => !placed.has(p.id) && found.has(p.id));
  return (
    <div>
      <div className="grid grid-cols-[repeat(auto-fill,minmax(min(100%,22rem),1fr))] items-start gap-4">
        {shown.racks.map((rack) => {
          const empty = rack.shelves.every((shelf) => shelf.length === 0);
          return (
            <section key={rack.id} aria-label={rack.label} className="min-w-0">
              <div className="flex items-center gap-1">
                <input
                  key={rack.label}
                  type="text"
                  aria-label={`Name of ${rack.label}`}
                  defaultValue={rack.label}
                  maxLength={80}
                  className="h-8 min-w-0 flex-1 rounded border border-transparent bg-transparent px-1 font-semibold hover:border-edge focus:border-edge focus:bg-raised"
                  onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
                  onBlur={(e) => {
                    const label = e.currentTarget.value.trim();
                    if (!label) e.currentTarget.value = rack.label;
                    else if (label !== rack.label) {
                      onLayout(renamed(shown, rack.id, label), `Rack named ${label}`);
                    }
                  }}
                />
                {empty && (
                  <IconButton
                    label={`Remove ${rack.label}`}
                    onClick={() => onLayout(withoutRack(shown, rack.id), `${rack.label} removed`)}
                  >
                    <Trash2 size={16} aria-hidden />
                  </IconButton>
                )}
              </div>
              <div className="rounded-t border-x-4 border-board px-1.5">
                {empty && (
                  <p className="py-6 text-center text-sm text-soft">
                    Empty. Move an enclosure here from its menu.
                  </p>
                )}
                {/* The top shelf is drawn first. */}
                {[...rack.shelves].reverse().map((shelf) => {
                  const here = shelf.filter((id) => found.has(id));
                  if (here.length === 0) return null;
                  return (
                    <ul
                      key={shelf.join(" ")}
                      className="-mx-1.5 grid gap-1.5 border-b-6 border-board px-1.5 py-1.5"
                    >
                      {here.map((id) => card(known.get(id) as PlanSummary))}
                    </ul>
                  );
                })}
              </div>
            </section>
          );
        })}
      </div>
      {loose.length > 0 && (
        <section aria-label="Not on a rack" className="mt-6">
          <h2 className="mb-2 text-lg font-semibold">
            {shown.racks.length > 0 ? "Not on a rack" : "Enclosures"}
          </h2>
          <ul className="grid grid-cols-[repeat(auto-fill,minmax(min(100%,22rem),1fr))] gap-3">
            {loose.map((p) => card(p))}
          </ul>
        </section>
      )}
      <p className="mt-4">
        <Button size="small" onClick={() => onLayout(newRack(shown), "A rack was added")}>
          <Plus size={15} aria-hidden /> Add a rack
        </Button>
      </p>
    </div>
  );
}
