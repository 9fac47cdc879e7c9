import type { PlanDocument } from "../api/types";
import { thermostatsOf, withThermostat } from "../domain/plan/document";
import { clamp, onGrid, tidy } from "../domain/plan/lengths";
import type { StageEdits } from "./edits";
import type { From } from "./extents";
import { Movable, type Spot } from "./Movable";
import type { Projection } from "./projection";

interface ProbesProps {
  document: PlanDocument;
  projection: Projection;
  from: From;
  selected: string;
  onSelect: (id: string) => void;
  edits: StageEdits;
  where: (x: number, z: number) => string;
}

/** The probes of all thermostats, to be dragged to where they hang. */
export function Probes({
  document: d,
  projection: p,
  from,
  selected,
  onSelect,
  edits,
  where,
}: ProbesProps) {
  const front = from === "front";
  const [low, high] = front ? [0, d.enclosure.height_m] : [0, d.enclosure.depth_m];
  return thermostatsOf(d).map((t) => {
    const { x_m: x, y_m: y, z_m: z } = t.probe_m;
    const at = { x, z: front ? z : y };
    const moved = (s: Spot) =>
      withThermostat(d, t.id, {
        probe_m: { ...t.probe_m, x_m: s.x, ...(front ? { z_m: s.z } : { y_m: s.z }) },
      });
    return (
      <Movable
        key={t.id}
        label={`Probe of ${t.label}, ${where(at.x, at.z)}. Arrow keys move it.`}
        testId={`${front ? "move" : "above"}-probe-${t.id}`}
        at={at}
        projection={p}
        selected={selected === t.id}
        onSelect={() => onSelect(t.id)}
        limit={(s) => ({
          x: tidy(clamp(onGrid(s.x), 0, d.enclosure.length_m)),
          z: tidy(clamp(onGrid(s.z), low, high)),
        })}
        onDrag={(s) => edits.preview(moved(s))}
        onDrop={(s) => edits.commit(moved(s), `Probe to ${where(s.x, s.z)}`)}
        onCancel={edits.cancel}
      >
        <Probe x={p.x(at.x)} y={p.y(at.z)} tall={front} selected={selected === t.id} />
      </Movable>
    );
  });
}

/** A capsule from the front, its round end from above. */
function Probe({
  x,
  y,
  tall,
  selected,
}: {
  x: number;
  y: number;
  tall: boolean;
  selected: boolean;
}) {
  const half = tall ? 8 : 5;
  return (
    <g>
      <rect
        x={x - 5}
        y={y - half}
        width={10}
        height={2 * half}
        rx={5}
        className={`fill-raised ${selected ? "stroke-accent" : "stroke-ink"}`}
        strokeWidth={selected ? 3 : 2}
      />
      <rect
        className="focus-ring fill-none stroke-accent"
        opacity={0}
        strokeWidth={3}
        x={x - 12}
        y={y - half - 7}
        width={24}
        height={2 * half + 14}
        rx={9}
      />
      <circle cx={x} cy={y} r={16} fill="transparent" />
    </g>
  );
}
