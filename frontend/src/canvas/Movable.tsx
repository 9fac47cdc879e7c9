import { type ReactNode, useEffect, useRef } from "react";
import { type ItemActions, type Step, stepFor } from "../domain/plan/itemActions";
import type { Projection } from "./projection";
import { useSelection } from "./selection";

export interface Spot {
  x: number;
  z: number;
}

interface MovableProps {
  /** What it is and where, for screen readers. */
  label: string;
  testId: string;
  at: Spot;
  projection: Projection;
  selected: boolean;
  onSelect: () => void;
  /** What it is called among things that are selected together; nothing if it never is. */
  itemKey?: string;
  /** Where it may go: clamp and snap. */
  limit: (spot: Spot) => Spot;
  /** The same for the arrow keys, where snapping would hold it back. */
  limitKeys?: (spot: Spot) => Spot;
  onDrag: (spot: Spot) => void;
  onDrop: (spot: Spot) => void;
  onCancel: () => void;
  /** What else keys do with it; if it is locked it can be selected, but stays where it is. */
  actions?: ItemActions;
  onStep?: (step: Step) => void;
  children: ReactNode;
}

const STEP_M = 0.01;
const BIG_STEP_M = 0.05;

/** A thing on the drawing that can be dragged, or moved with the arrow keys. */
export function Movable(props: MovableProps) {
  const { at, projection: p, limit, onDrag, onDrop, onCancel, onSelect } = props;
  const grip = useRef<{ dx: number; dz: number; spot: Spot; moved: boolean } | null>(null);

  const selection = useSelection();
  const { itemKey } = props;
  const isOneOf = itemKey !== undefined && selection.keys.includes(itemKey);
  /** Whether a press adds it to what is selected, or takes it out. */
  const adds = (e: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) =>
    itemKey !== undefined && (selection.adding || e.shiftKey || e.ctrlKey || e.metaKey);

  const shape = useRef<SVGGElement>(null);
  const fixed = props.actions?.locked ?? false;
  const draggable = props.selected && !fixed;
  useEffect(() => {
    // A finger on what is selected drags it and does not scroll the page.
    const hold = (event: TouchEvent) => draggable && event.preventDefault();
    const g = shape.current;
    g?.addEventListener("touchstart", hold, { passive: false });
    return () => g?.removeEventListener("touchstart", hold);
  }, [draggable]);

  const pointer = (event: React.PointerEvent<SVGGElement>): Spot => {
    const svg = event.currentTarget.ownerSVGElement;
    const rect = svg?.getBoundingClientRect();
    return {
      x: p.toX(event.clientX - (rect?.left ?? 0)),
      z: p.toZ(event.clientY - (rect?.top ?? 0)),
    };
  };

  return (
    // biome-ignore lint/a11y/useSemanticElements: a group of SVG shapes cannot be a <button>
    <g
      ref={shape}
      role="button"
      tabIndex={0}
      aria-label={props.label}
      aria-roledescription={fixed ? "locked" : "movable"}
      aria-pressed={selection.keys.length > 0 && itemKey ? isOneOf : props.selected}
      data-testid={props.testId}
      className={fixed ? "movable cursor-default" : "movable"}
      onFocus={onSelect}
      onMouseDown={(e) => {
        // It would get the focus, and be selected alone.
        if (adds(e)) e.preventDefault();
      }}
      onClick={(e) => {
        if (!adds(e)) e.currentTarget.focus();
        else if (itemKey) selection.toggle(itemKey);
      }}
      onPointerDown={(e) => {
        if (e.button !== 0 || adds(e)) return;
        if (!isOneOf) selection.clear();
        // A finger that scrolls past must not move anything: it selects first, and drags what is selected.
        if (e.pointerType === "touch" && !props.selected) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        e.currentTarget.focus();
        if (fixed) return;
        const from = pointer(e);
        grip.current = { dx: at.x - from.x, dz: at.z - from.z, spot: at, moved: false };
      }}
      onPointerMove={(e) => {
        const gripped = grip.current;
        if (!gripped) return;
        const to = pointer(e);
        const spot = limit({ x: to.x + gripped.dx, z: to.z + gripped.dz });
        if (spot.x === gripped.spot.x && spot.z === gripped.spot.z) return;
        grip.current = { ...gripped, spot, moved: true };
        onDrag(spot);
      }}
      onPointerUp={() => {
        const gripped = grip.current;
        grip.current = null;
        if (gripped?.moved) onDrop(gripped.spot);
      }}
      onPointerCancel={() => {
        grip.current = null;
        onCancel();
      }}
      onKeyDown={(e) => {
        if (e.key === " " && itemKey) {
          e.preventDefault();
          e.stopPropagation();
          selection.toggle(itemKey);
          return;
        }
        if (e.key === "Escape" && grip.current) {
          e.stopPropagation();
          grip.current = null;
          onCancel();
          return;
        }
        const step = props.actions ? stepFor(e, props.actions) : null;
        if (step) {
          e.preventDefault();
          props.onStep?.(step);
          return;
        }
        if (fixed) return;
        const far = e.shiftKey ? BIG_STEP_M : STEP_M;
        const moves: Record<string, [number, number]> = {
          ArrowLeft: [-far, 0],
          ArrowRight: [far, 0],
          ArrowUp: [0, far],
          ArrowDown: [0, -far],
        };
        const move = moves[e.key];
        if (!move) return;
        e.preventDefault();
        const spot = (props.limitKeys ?? limit)({ x: at.x + move[0], z: at.z + move[1] });
        if (spot.x !== at.x || spot.z !== at.z) onDrop(spot);
      }}
    >
      {props.children}
    </g>
  );
}
