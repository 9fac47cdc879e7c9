import type { ReactNode } from "react";
import type { Catalog, Furnishing, PlanDocument } from "../api/types";
import { against, extentOf, fixturesOf, furnishingsOf } from "../domain/plan/document";
import {
  furnishingKey,
  handlesOf,
  isPlaced,
  movedTo,
  type Place,
  placeOf,
  withFurnishing,
} from "../domain/plan/furnishings";
import { furnishingActions, makeStepRunner } from "../domain/plan/itemActions";
import { onGrid } from "../domain/plan/lengths";
import { selectionActions, shifted } from "../domain/plan/selection";
import { snapped } from "../domain/plan/snap";
import { show } from "../domain/units/units";
import { usePreferences } from "../ui/preferences";
import { Dimension } from "./Dimension";
import type { StageEdits } from "./edits";
import type { From } from "./extents";
import type { Box } from "./labels";
import { Movable, type Spot } from "./Movable";
import type { Projection } from "./projection";
import { offset, together, useSelection } from "./selection";

interface FurnishingsProps {
  document: PlanDocument;
  catalog: Catalog;
  projection: Projection;
  from: From;
  selected: string;
  onSelect: (key: string) => void;
  edits: StageEdits;
  /** Names and figures that distances keep clear of. */
  avoid: readonly Box[];
  /** How one looks from there. */
  shape: (item: Furnishing) => ReactNode;
}

const LEAST_GRIP_PX = 14;
const HANDLE_PX = 6;

/** All furnishings of a drawing: each can be selected, dragged, moved with the arrow keys, copied, removed. */
export function Furnishings(props: FurnishingsProps) {
  const { document: d, projection: p, from, selected, onSelect, edits } = props;
  const items = furnishingsOf(d);
  const { keys } = useSelection();
  // Several have no distances and no handles of one.
  const chosen =
    keys.length > 1 ? undefined : items.find((item) => furnishingKey(item.id) === selected);
  return (
    <>
      {items.map((item) =>
        isPlaced(item) ? (
          <OneFurnishing
            key={item.id}
            {...props}
            item={item}
            selected={
              keys.length > 1
                ? keys.includes(furnishingKey(item.id))
                : furnishingKey(item.id) === selected
            }
          />
        ) : (
          <g key={item.id} aria-hidden="true" className="pointer-events-none">
            {props.shape(item)}
          </g>
        ),
      )}
      {chosen && isPlaced(chosen) && (
        <>
          <Dimensions
            document={d}
            catalog={props.catalog}
            item={chosen}
            projection={p}
            from={from}
            avoid={props.avoid}
          />
          {!chosen.locked && (
            <Handles
              document={d}
              item={chosen}
              projection={p}
              from={from}
              edits={edits}
              onSelect={() => onSelect(furnishingKey(chosen.id))}
            />
          )}
        </>
      )}
    </>
  );
}

interface OneProps extends Omit<FurnishingsProps, "selected"> {
  item: Furnishing;
  selected: boolean;
}

function OneFurnishing(props: OneProps) {
  const { document: d, item, projection: p, from, selected, onSelect, edits } = props;
  const { units } = usePreferences();
  const selection = useSelection();
  const group = together(selection, furnishingKey(item.id));
  const place = placeOf(d, item);
  const after = (s: Spot) =>
    group
      ? shifted(d, props.catalog, group, offset(from, seen(place, from), s))
      : withFurnishing(d, moved(s));
  const moved = (s: Spot) => movedTo(d, item, spotted(place, s, from));
  const limit = (s: Spot): Spot => {
    const snap = movedTo(d, item, snapped(d, moved(s)));
    return seen(placeOf(d, snap), from);
  };
  const e = extentOf(d, item);
  return (
    <Movable
      label={`${item.label}${item.locked ? ", locked" : ""}, ${described(d, item, from, units)}. ${
        item.locked
          ? "L unlocks it."
          : "Arrow keys move it, R turns, Delete removes it, Space selects it with others."
      }`}
      testId={from === "front" ? `move-${item.id}` : `above-${item.id}`}
      at={seen(place, from)}
      projection={p}
      selected={selected}
      itemKey={furnishingKey(item.id)}
      onSelect={() => onSelect(furnishingKey(item.id))}
      limit={limit}
      limitKeys={(s) => seen(placeOf(d, moved(s)), from)}
      onDrag={(s) => edits.preview(after(s))}
      onDrop={(s) =>
        edits.commit(
          after(s),
          group
            ? `${group.length} items moved`
            : `${item.label} to ${described(d, moved(s), from, units)}`,
        )
      }
      onCancel={edits.cancel}
      actions={group ? selectionActions(d, group) : furnishingActions(d, item)}
      onStep={makeStepRunner(edits.commit, onSelect, selection.put)}
    >
      {props.shape(item)}
      <Grip item={item} extent={e} p={p} from={from} selected={selected} />
    </Movable>
  );
}

/** What can be taken hold of, and the ring around what is selected or focused. */
function Grip({
  item,
  extent: e,
  p,
  from,
  selected,
}: {
  item: Furnishing;
  extent: ReturnType<typeof extentOf>;
  p: Projection;
  from: From;
  selected: boolean;
}) {
  if (item.type === "branch") {
    const { start_m: a, end_m: b } = item;
    const v = (q: typeof a) => (from === "front" ? q.z_m : q.y_m);
    const line = { x1: p.x(a.x_m), y1: p.y(v(a)), x2: p.x(b.x_m), y2: p.y(v(b)) };
    const wide = Math.max(LEAST_GRIP_PX, p.scale * item.diameter_m);
    return (
      <g strokeLinecap="round">
        {selected && (
          <line {...line} className="stroke-accent" strokeWidth={wide + 4} strokeOpacity={0.35} />
        )}
        <line
          {...line}
          className="focus-ring stroke-accent"
          opacity={0}
          strokeWidth={wide + 8}
          strokeOpacity={0.5}
        />
        <line {...line} stroke="transparent" strokeWidth={wide} />
      </g>
    );
  }
  const [low, high] = from === "front" ? [e.z0, e.z1] : [e.y0, e.y1];
  const [x, y] = [p.x(e.x0), p.y(high)];
  const [width, height] = [p.scale * (e.x1 - e.x0), p.scale * (high - low)];
  const more = Math.max(0, (LEAST_GRIP_PX - height) / 2);
  return (
    <>
      <rect x={x} y={y - more} width={width} height={height + 2 * more} fill="transparent" />
      {selected && (
        <rect
          x={x - 3}
          y={y - 3}
          width={width + 6}
          height={height + 6}
          rx={4}
          className="fill-none stroke-accent"
          strokeWidth={2}
        />
      )}
      <rect
        className="focus-ring fill-none stroke-accent"
        opacity={0}
        strokeWidth={3}
        x={x - 6}
        y={y - 6}
        width={width + 12}
        height={height + 12}
        rx={6}
      />
    </>
  );
}

interface HandlesProps {
  document: PlanDocument;
  item: Furnishing;
  projection: Projection;
  from: From;
  edits: StageEdits;
  onSelect: () => void;
}

/** Points to stretch the selected furnishing by. */
function Handles({ document: d, item, projection: p, from, edits, onSelect }: HandlesProps) {
  const { units } = usePreferences();
  const hidden = from === "front" ? ["Front edge", "Back edge"] : ["Top"];
  return (
    <>
      {handlesOf(d, item)
        .filter((handle) => !hidden.includes(handle.name))
        .map((handle) => {
          const at = seen(handle.at, from);
          const to = (s: Spot) => handle.to(spotted(handle.at, s, from));
          const name = handle.name.toLowerCase();
          return (
            <Movable
              key={handle.name}
              label={`${handle.name} of ${item.label}. Arrow keys stretch it.`}
              testId={`stretch-${item.id}-${name.replaceAll(" ", "-")}`}
              at={at}
              projection={p}
              selected
              onSelect={onSelect}
              limit={(s) => {
                const after = to({ x: onGrid(s.x), z: onGrid(s.z) });
                const same = handlesOf(d, after).find((h) => h.name === handle.name);
                return same ? seen(same.at, from) : at;
              }}
              onDrag={(s) => edits.preview(withFurnishing(d, to(s)))}
              onDrop={(s) =>
                edits.commit(
                  withFurnishing(d, to(s)),
                  `${item.label}: ${name} to ${show(
                    handle.name === "Top" || handle.name.endsWith("end")
                      ? s.z
                      : along(handle.name, s),
                    "length",
                    units,
                  )}`,
                )
              }
              onCancel={edits.cancel}
            >
              <rect
                x={p.x(at.x) - HANDLE_PX}
                y={p.y(at.z) - HANDLE_PX}
                width={2 * HANDLE_PX}
                height={2 * HANDLE_PX}
                rx={3}
                className="fill-raised stroke-accent"
                strokeWidth={2}
              />
              <rect
                className="focus-ring fill-none stroke-accent"
                opacity={0}
                strokeWidth={3}
                x={p.x(at.x) - HANDLE_PX - 4}
                y={p.y(at.z) - HANDLE_PX - 4}
                width={2 * HANDLE_PX + 8}
                height={2 * HANDLE_PX + 8}
                rx={5}
              />
              <circle cx={p.x(at.x)} cy={p.y(at.z)} r={11} fill="transparent" />
            </Movable>
          );
        })}
    </>
  );
}

const along = (name: string, s: Spot) => (/Left|Right/.test(name) ? s.x : s.z);

interface DimensionsProps {
  avoid: readonly Box[];
  document: PlanDocument;
  catalog: Catalog;
  item: Furnishing;
  projection: Projection;
  from: From;
}

/** Clear distances of the selected furnishing to the walls, the ground and the lamp above it. */
function Dimensions(props: DimensionsProps) {
  const { document: d, catalog, item, projection: p, from, avoid } = props;
  const { units } = usePreferences();
  const e = extentOf(d, item);
  const front = from === "front";
  const [low, high] = front ? [e.z0, e.z1] : [e.y0, e.y1];
  const [bottom, top] = front
    ? [d.substrate.depth_m, d.enclosure.height_m]
    : [0, d.enclosure.depth_m];
  const [x, v] = [(e.x0 + e.x1) / 2, (low + high) / 2];
  const lamp = lampOver(d, catalog, e);
  const lines: [number, number, number, number][] = [
    [0, v, e.x0, v],
    [e.x1, v, d.enclosure.length_m, v],
    [x, bottom, x, low],
  ];
  if (front && lamp) lines.push([lamp.x, high, lamp.x, lamp.z]);
  else lines.push([x, high, x, top]);
  return (
    <g data-testid="dimensions">
      {lines.map(([x0, v0, x1, v1]) => {
        const long = Math.hypot(x1 - x0, v1 - v0);
        if (long * p.scale < 22) return null;
        return (
          <Dimension
            key={`${x0} ${v0} ${x1} ${v1}`}
            from={[p.x(x0), p.y(v0)]}
            to={[p.x(x1), p.y(v1)]}
            text={show(long, "length", units)}
            avoid={avoid}
          />
        );
      })}
    </g>
  );
}

/** The lowest lamp that hangs over some extent, a tube over its whole length: where, and how high. */
function lampOver(d: PlanDocument, catalog: Catalog, e: ReturnType<typeof extentOf>) {
  const reaches = fixturesOf(d)
    .filter((f) => against(f) === null && f.position_m.z_m > e.z1)
    .flatMap((f) => {
      const long = catalog.lamps.find((l) => l.id === f.lamp_id)?.length_m ?? 0;
      const turn = (f.turn_deg * Math.PI) / 180;
      const [dx, dy] = [(long / 2) * Math.cos(turn), (long / 2) * Math.sin(turn)];
      // Along it, in steps, whichever way it lies.
      return [-1, -0.75, -0.5, -0.25, 0, 0.25, 0.5, 0.75, 1].map((t) => ({
        x: f.position_m.x_m + t * dx,
        y: f.position_m.y_m + t * dy,
        z: f.position_m.z_m,
        off: Math.abs(f.position_m.x_m + t * dx - (e.x0 + e.x1) / 2),
      }));
    })
    .filter((q) => q.x >= e.x0 && q.x <= e.x1 && q.y >= e.y0 && q.y <= e.y1)
    .sort((a, b) => a.z - b.z || a.off - b.off);
  return reaches[0] ?? null;
}

const seen = (place: Place, from: From): Spot => ({
  x: place.x,
  z: from === "front" ? place.z : place.y,
});

const spotted = (place: Place, s: Spot, from: From): Place =>
  from === "front" ? { ...place, x: s.x, z: s.z } : { ...place, x: s.x, y: s.z };

function described(
  d: PlanDocument,
  item: Furnishing,
  from: From,
  units: ReturnType<typeof usePreferences>["units"],
): string {
  const at = placeOf(d, item);
  const length = (m: number) => show(m, "length", units);
  return from === "front"
    ? `${length(at.x)} from the left, ${length(at.z)} above the floor`
    : `${length(at.x)} from the left, ${length(at.y)} from the front`;
}
