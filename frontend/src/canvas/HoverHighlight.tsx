import type { Evaluation, PlanDocument } from "../api/types";
import { extentOfThing, type From, onDrawing } from "./extents";
import type { Projection } from "./projection";

interface PointedProps {
  /** An assessed place, a furnishing, a lamp or a thermostat. */
  id: string | null;
  document: PlanDocument;
  evaluation: Evaluation | null;
  projection: Projection;
  from: From;
}

const MARGIN_PX = 8;

/** A ring in the drawing around what a line beside it is about. */
export function HoverHighlight({ id, document: d, evaluation, projection: p, from }: PointedProps) {
  const extent = id === null ? null : extentOfThing(id, d, evaluation);
  if (!extent) return null;
  const ring = { ...onDrawing(extent, p, from, MARGIN_PX), rx: 8 };
  return (
    <g aria-hidden="true" className="pointer-events-none fill-none" data-testid="pointed">
      <rect {...ring} className="stroke-panel" strokeWidth={5} />
      <rect {...ring} className="stroke-ink" strokeWidth={2} strokeDasharray="7 4" />
    </g>
  );
}
