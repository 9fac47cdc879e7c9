import type { PlanDocument } from "../api/types";
import { makeStepRunner } from "../domain/plan/itemActions";
import { clamp, onGrid, tidy } from "../domain/plan/lengths";
import {
  moved,
  ventActions,
  ventAt,
  ventKey,
  ventName,
  ventSize,
  ventsOf,
} from "../domain/plan/vents";
import { show } from "../domain/units/units";
import { usePreferences } from "../ui/preferences";
import type { StageEdits } from "./edits";
import { Movable, type Spot } from "./Movable";
import type { Projection } from "./projection";

interface VentsProps {
  document: PlanDocument;
  projection: Projection;
  selected: string;
  onSelect: (key: string) => void;
  edits: StageEdits;
}

/** Vents in the walls, moved up and down, those in the front and back along it too. */
export function Vents({ document: d, projection: p, selected, onSelect, edits }: VentsProps) {
  const { units } = usePreferences();
  return ventsOf(d).map((vent, i) => {
    const side = vent.side === "left" || vent.side === "right";
    const inLid = vent.side === "top";
    const { x, z } = ventAt(d, vent);
    const size = ventSize(vent) * p.scale;
    const wide = side ? 10 : size;
    const h = inLid ? 8 : Math.max(8, size);
    const chosen = selected === ventKey(i);
    const [px, py] = [p.x(x), p.y(z)];
    const at = (s: Spot) => moved(d, i, s);
    return (
      <Movable
        key={i}
        label={`${ventName(vent)}, ${show(z, "length", units)} above the floor. Arrow keys move it.`}
        testId={`move-vent-${i}`}
        at={{ x, z }}
        projection={p}
        selected={chosen}
        onSelect={() => onSelect(ventKey(i))}
        limit={(s) => ({
          x: side ? x : tidy(clamp(onGrid(s.x), 0, d.enclosure.length_m)),
          z: inLid ? z : tidy(clamp(onGrid(s.z), 0, d.enclosure.height_m)),
        })}
        onDrag={(s) => edits.preview(at(s))}
        onDrop={(s) =>
          edits.commit(
            at(s),
            inLid
              ? `${ventName(vent)} to ${show(s.x, "length", units)} from the left`
              : `${ventName(vent)} to ${show(s.z, "length", units)} up`,
          )
        }
        onCancel={edits.cancel}
        actions={ventActions(d, i)}
        onStep={makeStepRunner(edits.commit, onSelect)}
      >
        <rect
          x={px - wide / 2}
          y={py - h / 2}
          width={wide}
          height={h}
          className={`fill-ground ${chosen ? "stroke-accent" : "stroke-ink"}`}
          strokeWidth={chosen ? 2.5 : 1.25}
          strokeDasharray="3 2"
          fillOpacity={side || inLid ? 1 : 0.35}
        />
        <rect
          className="focus-ring fill-none stroke-accent"
          opacity={0}
          strokeWidth={3}
          x={px - wide / 2 - 5}
          y={py - h / 2 - 5}
          width={wide + 10}
          height={h + 10}
          rx={5}
        />
        <rect
          x={px - Math.max(wide, 24) / 2}
          y={py - Math.max(h, 24) / 2}
          width={Math.max(wide, 24)}
          height={Math.max(h, 24)}
          fill="transparent"
        />
      </Movable>
    );
  });
}
