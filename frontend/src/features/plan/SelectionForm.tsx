import { X } from "lucide-react";
import type { Catalog, PlanDocument } from "../../api/types";
import type { StageEdits } from "../../canvas/edits";
import { useSelection } from "../../canvas/selection";
import {
  type Axis,
  aligned,
  distributed,
  type Edge,
  isLocked,
  labelOf,
  selectionActions,
} from "../../domain/plan/selection";
import { Button, IconButton } from "../../ui/Button";
import { ActionButtons } from "./ActionButtons";

interface SelectionFormProps {
  document: PlanDocument;
  catalog: Catalog;
  edits: StageEdits;
  onSelect: (key: string) => void;
}

/** For each axis: the line to move to, in words. */
const LINES: readonly { axis: Axis; edges: readonly [Edge, string][] }[] = [
  {
    axis: "x",
    edges: [
      ["low", "Left ends"],
      ["middle", "Middles, left to right"],
      ["high", "Right ends"],
    ],
  },
  {
    axis: "y",
    edges: [
      ["low", "Front edges"],
      ["middle", "Middles, front to back"],
      ["high", "Back edges"],
    ],
  },
  {
    axis: "z",
    edges: [
      ["low", "Undersides"],
      ["middle", "Middle heights"],
      ["high", "Tops"],
    ],
  },
];
const SPREADS: readonly [Axis, string][] = [
  ["x", "Left to right"],
  ["y", "Front to back"],
  ["z", "In height"],
];

/** What can be done with several lamps and furnishings at once. */
export function SelectionForm({ document: d, catalog, edits, onSelect }: SelectionFormProps) {
  const { keys, toggle, clear, put } = useSelection();
  const model = keys.at(-1) ?? "";
  const name = labelOf(d, model);
  const apply = (after: PlanDocument, summary: string) => {
    if (after !== d) edits.commit(after, summary);
  };
  return (
    <section aria-labelledby="selection-title" className="px-4 pt-3 pb-4" data-testid="selection">
      <div className="flex items-center justify-between gap-2">
        <h2 id="selection-title" className="font-semibold">
          {keys.length} items selected
        </h2>
        <Button size="small" onClick={clear} aria-keyshortcuts="Escape">
          Select none
        </Button>
      </div>
      <ul className="mt-2 flex flex-wrap gap-1.5" aria-label="Selected items">
        {keys.map((key) => (
          <li
            key={key}
            className="flex items-center rounded-md border border-line bg-raised pl-2 text-sm"
          >
            {labelOf(d, key)}
            {isLocked(d, key) && <span className="ml-1 text-soft">(locked)</span>}
            <IconButton
              label={`Take ${labelOf(d, key)} out of the selection`}
              className="size-8"
              onClick={() => toggle(key)}
            >
              <X size={14} aria-hidden />
            </IconButton>
          </li>
        ))}
      </ul>
      <p className="mt-2 text-sm text-soft">
        Drag one, or use the arrow keys: all move together. Locked items stay where they are.
      </p>
      <h3 className="mt-3 font-medium">Line up with {name}</h3>
      <div className="mt-1 space-y-1.5">
        {LINES.map(({ axis, edges }) => (
          <div key={axis} className="flex flex-wrap gap-1.5">
            {edges.map(([edge, words]) => (
              <Button
                key={edge}
                size="small"
                onClick={() =>
                  apply(
                    aligned(d, catalog, keys, model, axis, edge),
                    `${words} lined up with ${name}`,
                  )
                }
              >
                {words}
              </Button>
            ))}
          </div>
        ))}
      </div>
      <h3 className="mt-3 font-medium">Spread evenly</h3>
      <div className="mt-1 flex flex-wrap gap-1.5">
        {SPREADS.map(([axis, words]) => (
          <Button
            key={axis}
            size="small"
            disabled={keys.length < 3}
            onClick={() =>
              apply(distributed(d, catalog, keys, axis), `${keys.length} items spread evenly`)
            }
          >
            {words}
          </Button>
        ))}
      </div>
      <p className="mt-1 text-sm text-soft">
        {keys.length < 3
          ? "Needs three items or more."
          : "The outermost two stay; the others move between them."}
      </p>
      <h3 className="mt-3 mb-1 font-medium">All of them</h3>
      <ActionButtons
        actions={selectionActions(d, keys)}
        edits={edits}
        onSelect={onSelect}
        onTogether={put}
        remove="Remove"
      />
    </section>
  );
}
