import type { Check, Evaluation, PlanDocument } from "../api/types";
import { fails } from "../domain/units/needs";
import { extentOfThing, type From, onDrawing } from "./extents";
import type { FieldName } from "./fields";
import type { Projection } from "./projection";

const ASSESSED: Record<FieldName, readonly Check["need"]["quantity"][]> = {
  uvi: ["uvi", "uv_free_share"],
  air: ["air_temperature", "surface_temperature"],
  surface: ["surface_temperature"],
  irradiance: [],
  light: [],
  humidity: ["humidity"],
};

interface NeedZonesProps {
  document: PlanDocument;
  evaluation: Evaluation | null;
  field: FieldName;
  projection: Projection;
  from: From;
}

/** Places where what is shown is outside the need, hatched: lines fall for too little, rise for too much. */
export function NeedZones({ document: d, evaluation, field, projection: p, from }: NeedZonesProps) {
  const failing = (evaluation?.checks ?? []).filter(
    (v) => fails(v.severity) && ASSESSED[field].includes(v.need.quantity),
  );
  if (failing.length === 0) return null;
  return (
    <g aria-hidden="true" className="pointer-events-none" data-testid="outside-need">
      <defs>
        {(["low", "high"] as const).map((way) => (
          <pattern
            key={way}
            id={`outside-${way}-${from}`}
            width={9}
            height={9}
            patternUnits="userSpaceOnUse"
            patternTransform={`rotate(${way === "low" ? -45 : 45})`}
          >
            <rect
              width={9}
              height={9}
              className={way === "low" ? "fill-low" : "fill-high"}
              opacity={0.25}
            />
            <line y2={9} className="stroke-panel" strokeWidth={5} />
            <line y2={9} className={way === "low" ? "stroke-low" : "stroke-high"} strokeWidth={3} />
          </pattern>
        ))}
      </defs>
      {failing.map((v) => {
        const extent = extentOfThing(v.place_id, d, evaluation);
        if (!extent) return null;
        const way = v.status === "low" ? "low" : "high";
        const zone = onDrawing(extent, p, from, 2);
        return (
          <g key={v.id}>
            <rect {...zone} rx={6} fill={`url(#outside-${way}-${from})`} opacity={0.6} />
            <rect
              {...zone}
              rx={6}
              className={`fill-none ${way === "low" ? "stroke-low" : "stroke-high"}`}
              strokeWidth={2.5}
            />
          </g>
        );
      })}
    </g>
  );
}
