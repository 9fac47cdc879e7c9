/** What follows every step while a lamp is dragged: lamps with their beams, and how far they are from things. */
import type { ReactNode } from "react";
import type { Catalog, Fixture, Lamp, PlanDocument } from "../api/types";
import { fixturesOf, withFixture } from "../domain/plan/document";
import { fixtureActions, makeStepRunner } from "../domain/plan/itemActions";
import { selectionActions, shifted } from "../domain/plan/selection";
import type { Axes } from "./EnclosureStage";
import type { StageEdits } from "./edits";
import { BeamEdges } from "./FixtureShape";
import { useMoving } from "./live";
import { Movable, type Spot } from "./Movable";
import type { Projection } from "./projection";
import { offset, together, useSelection } from "./selection";

interface LampsProps {
  document: PlanDocument;
  catalog: Catalog;
  axes: Axes;
  projection: Projection;
  selected: string;
  onSelect: (id: string) => void;
  edits: StageEdits;
  /** What the test ids of lamps begin with. */
  testId: string;
  shape: (fixture: Fixture, lamp: Lamp, selected: boolean) => ReactNode;
}

/** All lamps of a drawing: each can be selected, dragged, moved with the arrow keys, copied, removed. */
export function Lamps(props: LampsProps) {
  const { catalog, axes, projection, selected, onSelect, edits } = props;
  const d = useMoving(props.document);
  const selection = useSelection();
  return fixturesOf(d).map((f) => {
    const lamp = catalog.lamps.find((l) => l.id === f.lamp_id);
    if (!lamp) return null;
    const at = { x: f.position_m.x_m, z: f.position_m[axes.up] };
    const group = together(selection, f.id);
    const moved = (s: Spot) =>
      group
        ? shifted(d, catalog, group, offset(axes.from, at, s))
        : withFixture(d, f.id, { position_m: { ...f.position_m, x_m: s.x, [axes.up]: s.z } });
    const isSelected = group !== null || selected === f.id;
    return (
      <Movable
        key={f.id}
        label={`${f.label}, ${axes.where(at.x, at.z)}. Arrow keys move it, Space selects it with others.`}
        testId={`${props.testId}-${f.id}`}
        at={at}
        projection={projection}
        selected={isSelected}
        itemKey={f.id}
        onSelect={() => onSelect(f.id)}
        limitKeys={(s) => axes.lampLimit(f, lamp, s, "keys")}
        limit={(s) => axes.lampLimit(f, lamp, s, "drag")}
        onDrag={(s) => edits.preview(moved(s))}
        onDrop={(s) =>
          edits.commit(
            moved(s),
            group ? `${group.length} items moved` : `${f.label} to ${axes.where(s.x, s.z)}`,
          )
        }
        onCancel={edits.cancel}
        actions={group ? selectionActions(d, group) : fixtureActions(d, f)}
        onStep={makeStepRunner(edits.commit, onSelect, selection.put)}
      >
        {props.shape(f, lamp, isSelected)}
      </Movable>
    );
  });
}

/** Beams of all lamps, behind what they shine on. */
export function Beams(props: Pick<LampsProps, "document" | "catalog" | "projection">) {
  const d = useMoving(props.document);
  return fixturesOf(d).map((f) => {
    const lamp = props.catalog.lamps.find((l) => l.id === f.lamp_id);
    return lamp ? (
      <BeamEdges key={f.id} fixture={f} lamp={lamp} document={d} projection={props.projection} />
    ) : null;
  });
}
