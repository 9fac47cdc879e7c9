import type { PlanDocument } from "../api/types";
import {
  against,
  extentOf,
  fixturesOf,
  furnishingsOf,
  thermostatsOf,
} from "../domain/plan/document";
import { show, type UnitSystem } from "../domain/units/units";
import { usePreferences } from "../ui/preferences";
import { Dimension, figureBox } from "./Dimension";
import type { From } from "./extents";
import type { Box } from "./labels";
import { useMoving } from "./live";
import type { Projection } from "./projection";

interface LiveDimensionProps {
  document: PlanDocument;
  projection: Projection;
  from: From;
  selected: string;
  /** Labels the figures keep clear of. */
  avoid: readonly Box[];
}

const LEAST_PX = 14;
const CLEAR_PX = 12;

/** A distance as it is drawn, px. */
interface Line {
  readonly key: string;
  readonly from: readonly [number, number];
  readonly to: readonly [number, number];
  readonly at: number;
  readonly text: string;
}

/** Distances of the selected lamp or probe: to what lies under it, to the nearest glass. */
export function LiveDimension(props: LiveDimensionProps) {
  const d = useMoving(props.document);
  const { units } = usePreferences();
  const lines = distances({ ...props, document: d }, units);
  if (lines.length === 0) return null;
  return (
    <g data-testid={`distances-${props.from}`}>
      {lines.map(({ key, ...line }, i) => (
        <Dimension key={key} {...line} avoid={avoided(lines, i, props.avoid)} />
      ))}
    </g>
  );
}

/** Where the figures of the distances are written, for others to keep clear of. */
export function distanceBoxes(props: LiveDimensionProps, units: UnitSystem): Box[] {
  const lines = distances(props, units);
  return lines.map((line, i) => figureBox({ ...line, avoid: avoided(lines, i, props.avoid) }));
}

/** What the figure of one distance keeps clear of: labels, and the figures before it. */
const avoided = (lines: readonly Line[], i: number, avoid: readonly Box[]): Box[] => [
  ...avoid,
  ...lines.slice(0, i).map((before) => figureBox({ ...before, avoid })),
];

function distances(
  { document: d, projection: p, from, selected }: Omit<LiveDimensionProps, "avoid">,
  units: UnitSystem,
): Line[] {
  const lamp = fixturesOf(d).find((f) => f.id === selected);
  const point =
    lamp && against(lamp) === null
      ? lamp.position_m
      : thermostatsOf(d).find((t) => t.id === selected)?.probe_m;
  if (!point) return [];
  const { x_m: x, y_m: y, z_m: z } = point;
  const side = x <= d.enclosure.length_m / 2 ? 0 : d.enclosure.length_m;
  const up = from === "front" ? z : y;
  const front = y <= d.enclosure.depth_m / 2 ? 0 : d.enclosure.depth_m;
  const end = from === "front" ? topBelow(d, x, y, z) : front;
  const [px, py] = [p.x(x), p.y(up)];
  const lines = [
    {
      key: "side",
      from: [px + Math.sign(p.x(side) - px) * CLEAR_PX, py] as const,
      to: [p.x(side), py] as const,
      at: 0.5,
      text: show(Math.abs(x - side), "length", units),
    },
    {
      key: "end",
      from: [px, py + Math.sign(p.y(end) - py) * CLEAR_PX] as const,
      to: [px, p.y(end) - (from === "front" ? 2 : 0)] as const,
      at: from === "front" ? 0.22 : 0.5,
      text: show(Math.abs(up - end), "length", units),
    },
  ];
  return lines.filter((l) => Math.hypot(l.to[0] - l.from[0], l.to[1] - l.from[1]) >= LEAST_PX);
}

/** The highest thing straight under a point, or the ground. */
function topBelow(d: PlanDocument, x: number, y: number, z: number): number {
  let below = d.substrate.depth_m;
  for (const item of furnishingsOf(d)) {
    if (item.type === "background") continue;
    const e = extentOf(d, item);
    const over = e.x0 <= x && x <= e.x1 && e.y0 <= y && y <= e.y1;
    if (over && e.z1 < z) below = Math.max(below, e.z1);
  }
  return below;
}
