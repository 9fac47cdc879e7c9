import { type ReactNode, type RefObject, useMemo, useState } from "react";
import type { Evaluation } from "../api/types";
import { usePreferences } from "../ui/preferences";
import { Contours } from "./Contours";
import type { From } from "./extents";
import { FieldCanvas } from "./FieldCanvas";
import type { Field, FieldName, FieldScale, InGround } from "./fields";
import { fieldFormat } from "./Legend";
import type { Spot } from "./Movable";
import { PointerReading } from "./PointerReading";
import type { Projection } from "./projection";
import { Shade } from "./ShadeAndReach";

interface StageFrameProps {
  frame: RefObject<HTMLDivElement | null>;
  projection: Projection;
  from: From;
  /** The enclosure without its walls, m. */
  size: { readonly across: number; readonly up: number };
  label: string;
  testId: string;
  name: FieldName;
  /** The field that is drawn; null where there is none or it is drawn otherwise. */
  field: Field | null;
  fields: Record<FieldName, Field> | null;
  scale: FieldScale | null;
  evaluation: Evaluation | null;
  shade: boolean;
  where: (x: number, z: number) => string;
  inGround?: ((x: number, z: number) => InGround | null) | undefined;
  /** What is said while nothing is pointed at. */
  hint: string;
  onPin: (x: number, z: number) => void;
  children: ReactNode;
}

/** A view of the enclosure: its field with contour lines, what is drawn over it, and what is under the pointer. */
export function StageFrame({
  frame,
  projection: p,
  from,
  size,
  label,
  testId,
  name,
  field,
  fields,
  scale,
  evaluation,
  shade,
  where,
  inGround,
  hint,
  onPin,
  children,
}: StageFrameProps) {
  const { units } = usePreferences();
  const [pointer, setPointer] = useState<Spot | null>(null);
  const format = useMemo(() => fieldFormat(name, units), [name, units]);
  const spot = (e: React.PointerEvent | React.MouseEvent): Spot => {
    const rect = e.currentTarget.getBoundingClientRect();
    return { x: p.toX(e.clientX - rect.left), z: p.toZ(e.clientY - rect.top) };
  };
  return (
    <div>
      <div ref={frame} className="relative" style={{ height: p.height }}>
        <FieldCanvas field={field} scale={scale} projection={p} />
        {/* biome-ignore lint/a11y/useSemanticElements: an SVG cannot be a <fieldset> */}
        <svg
          className="absolute inset-0"
          width={p.width}
          height={p.height}
          role="group"
          aria-label={label}
          data-testid={testId}
          onPointerMove={(e) => {
            // While something is dragged nothing is read off.
            setPointer(e.buttons === 0 ? spot(e) : null);
          }}
          onPointerLeave={() => setPointer(null)}
          onDoubleClick={(e) => {
            const { x, z } = spot(e);
            onPin(x, z);
          }}
        >
          {!field && (
            <rect
              x={p.x(0)}
              y={p.y(size.up)}
              width={p.scale * size.across}
              height={p.scale * size.up}
              className="fill-air"
            />
          )}
          {field && scale && (
            <Contours field={field} scale={scale} projection={p} format={format} />
          )}
          {shade && fields && evaluation && (
            <Shade uvi={fields.uvi} below={evaluation.uv_free_below} projection={p} from={from} />
          )}
          {children}
        </svg>
      </div>
      <p
        className="min-h-6 px-3 pb-1 text-sm text-soft"
        data-testid={from === "front" ? "pointer-reading" : "pointer-reading-above"}
      >
        {pointer && fields ? (
          <PointerReading
            spot={pointer}
            fields={fields}
            where={where}
            inGround={inGround}
            surface={from === "above"}
          />
        ) : (
          hint
        )}
      </p>
    </div>
  );
}
