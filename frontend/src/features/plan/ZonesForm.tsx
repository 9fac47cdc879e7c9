import { Plus, Trash2 } from "lucide-react";
import type { PlanDocument } from "../../api/types";
import { withNewZone, withoutZone, withZone, type Zone, zonesOf } from "../../domain/plan/ground";
import { Button } from "../../ui/Button";
import { GRID } from "../../ui/grid";
import { Help } from "../../ui/Help";
import { NumberFields, type NumberRow } from "../../ui/NumberFields";
import { TextField } from "../../ui/TextField";
import type { FormProps } from "./forms";

const MOST_ZONES = 12;

const ZONE_ROWS = (d: PlanDocument): readonly NumberRow<Zone>[] => [
  {
    key: "wetness",
    label: "Wetness there",
    dimension: "share",
    min: 0,
    max: 1,
    live: true,
    summary: (shown) => `${shown} as wet as water`,
  },
  ...(
    [
      ["x_m", "Middle, from the left", d.enclosure.length_m],
      ["y_m", "Middle, from the front", d.enclosure.depth_m],
      ["length_m", "Length", d.enclosure.length_m],
      ["width_m", "Width", d.enclosure.depth_m],
    ] as const
  ).map(([key, label, max]) => ({
    key,
    label,
    dimension: "length" as const,
    min: key.endsWith("h_m") ? 0.02 : 0,
    max,
    live: true,
    summary: (shown: string) => `${label.toLowerCase()} ${shown}`,
  })),
];

/** Parts of the surface that are damper or drier than the rest. */
export function ZonesForm({ document: d, edits }: FormProps) {
  const zones = zonesOf(d);
  return (
    <section aria-labelledby="zones" className="mt-5">
      <h3 id="zones" className="flex items-center gap-1 font-semibold">
        Damper and drier parts
        <Help about="damper and drier parts">
          A corner that is kept damp, a dry end, a pot of moss let into the ground. Each gives off
          water by its own wetness; the drawing from above shows where it lies.
        </Help>
      </h3>
      {zones.length === 0 && (
        <p className="text-sm text-soft">The whole surface is as damp as is said above.</p>
      )}
      <ul className="grid gap-2">
        {zones.map((zone) => (
          <li
            key={zone.id}
            aria-label={zone.label}
            data-testid={zone.id}
            className="rounded-lg border border-line p-2.5"
          >
            <div className={GRID}>
              <TextField
                label="Name"
                value={zone.label}
                most={60}
                onCommit={(label) =>
                  edits.commit(withZone(d, zone.id, { label }), `${zone.label} is called ${label}`)
                }
              />
              <NumberFields
                rows={ZONE_ROWS(d)}
                of={zone}
                onPreview={(part) => edits.preview(withZone(d, zone.id, part))}
                onCommit={(part, words) =>
                  edits.commit(withZone(d, zone.id, part), `${zone.label}: ${words}`)
                }
              />
            </div>
            <div className="mt-2 flex justify-end">
              <Button
                size="small"
                onClick={() => edits.commit(withoutZone(d, zone.id), `${zone.label} removed`)}
              >
                <Trash2 size={15} aria-hidden /> Remove {zone.label}
              </Button>
            </div>
          </li>
        ))}
      </ul>
      {zones.length < MOST_ZONES && (
        <Button
          size="small"
          className="mt-2"
          onClick={() => {
            const { document, zone } = withNewZone(d);
            edits.commit(document, `${zone.label} added`);
          }}
        >
          <Plus size={15} aria-hidden /> Add a damp corner
        </Button>
      )}
    </section>
  );
}
