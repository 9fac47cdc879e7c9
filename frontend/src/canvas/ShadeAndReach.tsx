import { memo, useMemo } from "react";
import type { Evaluation, PlanDocument } from "../api/types";
import { furnishingsOf } from "../domain/plan/document";
import { extentOfThing, type From, onDrawing } from "./extents";
import { contourLines, type Field } from "./fields";
import type { Projection } from "./projection";

interface ShadeProps {
  /** The UV field of the view. */
  uvi: Field;
  /** UV facing the light at or below this is none. */
  below: number;
  projection: Projection;
  from: From;
}

/** Where there is no UV, dotted. */
export const Shade = memo(function Shade({ uvi, below, projection: p, from }: ShadeProps) {
  const path = useMemo(() => {
    const less = { ...uvi, values: uvi.values.map((v) => -v) };
    return contourLines(less, [-below])
      .flatMap((line) => line.rings)
      .map(
        (ring) =>
          `M${ring.map(([x, z]) => `${p.x(x).toFixed(1)} ${p.y(z).toFixed(1)}`).join("L")}Z`,
      )
      .join("");
  }, [uvi, below, p]);
  return (
    <g aria-hidden="true" className="pointer-events-none" data-testid="shade">
      <defs>
        <pattern id={`shade-${from}`} width={8} height={8} patternUnits="userSpaceOnUse">
          <circle cx={2} cy={2} r={1.3} fill="white" opacity={0.8} />
          <circle cx={6} cy={6} r={1.3} fill="white" opacity={0.8} />
        </pattern>
      </defs>
      <path
        d={path}
        fillRule="evenodd"
        fill={`url(#shade-${from})`}
        stroke="white"
        strokeOpacity={0.8}
        strokeDasharray="2 3"
      />
    </g>
  );
});

interface ReachProps {
  document: PlanDocument;
  evaluation: Evaluation;
  projection: Projection;
  from: From;
}

/** What the animal can stand on or climb, edged. */
export function Reach({ document: d, evaluation, projection: p, from }: ReachProps) {
  const { things, faces } = evaluation.reach;
  const ground = p.y(d.substrate.depth_m);
  const [left, right] = [p.x(0), p.x(d.enclosure.length_m)];
  const [top, bottom] =
    from === "front" ? [p.y(d.enclosure.height_m), ground] : [p.y(d.enclosure.depth_m), p.y(0)];
  const sides = from === "front" ? ["left", "right", "top"] : ["left", "right", "back", "front"];
  const edge: Record<string, string> = {
    left: `M${left + 4} ${top}V${bottom}`,
    right: `M${right - 4} ${top}V${bottom}`,
    top: `M${left} ${top + 4}H${right}`,
    back: `M${left} ${top + 4}H${right}`,
    front: `M${left} ${bottom - 4}H${right}`,
  };
  const lines = [
    ...(from === "front" ? [`M${left} ${ground - 2}H${right}`] : []),
    ...faces.filter((f) => sides.includes(f)).map((f) => edge[f] ?? ""),
    ...furnishingsOf(d)
      .filter((item) => things.includes(item.id))
      .map((item) => {
        if (item.type === "branch") {
          const { start_m: a, end_m: b } = item;
          const lift = from === "front" ? (p.scale * item.diameter_m) / 2 + 3 : 0;
          const [za, zb] = from === "front" ? [a.z_m, b.z_m] : [a.y_m, b.y_m];
          return `M${p.x(a.x_m)} ${p.y(za) - lift}L${p.x(b.x_m)} ${p.y(zb) - lift}`;
        }
        const extent = extentOfThing(item.id, d, evaluation);
        if (!extent) return "";
        const r = onDrawing(extent, p, from, 3);
        return from === "front"
          ? `M${r.x} ${r.y}H${r.x + r.width}`
          : `M${r.x} ${r.y}h${r.width}v${r.height}h${-r.width}Z`;
      }),
  ];
  return (
    <g aria-hidden="true" className="pointer-events-none fill-none" data-testid="reach">
      <path d={lines.join("")} stroke="white" strokeWidth={5} strokeOpacity={0.8} />
      <path d={lines.join("")} className="stroke-fit" strokeWidth={3} />
    </g>
  );
}
