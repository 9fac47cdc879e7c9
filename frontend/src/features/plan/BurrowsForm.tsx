import { Plus, Trash2 } from "lucide-react";
import type { PlanDocument } from "../../api/types";
import {
  type Burrow,
  burrowsOf,
  burrowWidth,
  canAddBurrow,
  withBurrow,
  withNewBurrow,
  withoutBurrow,
} from "../../domain/plan/ground";
import { show } from "../../domain/units/units";
import { Button } from "../../ui/Button";
import { GRID } from "../../ui/grid";
import { Help } from "../../ui/Help";
import { NumberFields, type NumberRow } from "../../ui/NumberFields";
import { usePreferences } from "../../ui/preferences";
import { TextField } from "../../ui/TextField";
import type { FormProps } from "./forms";

const BURROW_ROWS = (d: PlanDocument): readonly NumberRow<Burrow>[] => {
  const { length_m: l, depth_m: w } = d.enclosure;
  const rows = [
    ["depth_m", "Middle below the surface", d.substrate.depth_m],
    ["diameter_m", "Width", Math.min(0.5, d.substrate.depth_m)],
    ["x_m", "Chamber, from the left", l],
    ["y_m", "Chamber, from the front", w],
    ["mouth_x_m", "Mouth, from the left", l],
    ["mouth_y_m", "Mouth, from the front", w],
  ] as const;
  return rows.map(([key, label, max]) => ({
    key,
    label,
    dimension: "length" as const,
    min: key === "diameter_m" ? 0.005 : 0,
    max,
    live: true,
    summary: (shown: string) => `${label.toLowerCase()} ${shown}`,
  }));
};

/** Chambers in the ground with the way to them. */
export function BurrowsForm({ document: d, edits }: FormProps) {
  const { units } = usePreferences();
  const burrows = burrowsOf(d);
  return (
    <section aria-labelledby="burrows" className="mt-5">
      <h3 id="burrows" className="flex items-center gap-1 font-semibold">
        Burrows
        <Help about="burrows">
          A chamber in the ground and a straight way to it. It is as warm as the ground around it,
          dark, and as damp as its walls. Animals change what they are given: the figures hold while
          it lies there.
        </Help>
      </h3>
      {burrows.length === 0 && (
        <p className="text-sm text-soft">
          {canAddBurrow(d)
            ? "None is planned. For an animal that digs, the ground of the cool end is checked."
            : `The ground is too shallow for a burrow ${show(burrowWidth(d), "length", units)} wide, as this animal needs.`}
        </p>
      )}
      <ul className="grid gap-2">
        {burrows.map((burrow) => (
          <li
            key={burrow.id}
            aria-label={burrow.label}
            data-testid={burrow.id}
            className="rounded-lg border border-line p-2.5"
          >
            <div className={GRID}>
              <TextField
                label="Name"
                value={burrow.label}
                most={60}
                onCommit={(label) =>
                  edits.commit(
                    withBurrow(d, burrow.id, { label }),
                    `${burrow.label} is called ${label}`,
                  )
                }
              />
              <NumberFields
                rows={BURROW_ROWS(d)}
                of={burrow}
                onPreview={(part) => edits.preview(withBurrow(d, burrow.id, part))}
                onCommit={(part, words) =>
                  edits.commit(withBurrow(d, burrow.id, part), `${burrow.label}: ${words}`)
                }
              />
            </div>
            <div className="mt-2 flex justify-end">
              <Button
                size="small"
                onClick={() => edits.commit(withoutBurrow(d, burrow.id), `${burrow.label} removed`)}
              >
                <Trash2 size={15} aria-hidden /> Remove {burrow.label}
              </Button>
            </div>
          </li>
        ))}
      </ul>
      {canAddBurrow(d) && (
        <Button
          size="small"
          className="mt-2"
          onClick={() => {
            const { document, burrow } = withNewBurrow(d);
            edits.commit(document, `${burrow.label} added`);
          }}
        >
          <Plus size={15} aria-hidden /> Add a burrow
        </Button>
      )}
    </section>
  );
}
