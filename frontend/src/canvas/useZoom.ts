import { type RefObject, useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Projection } from "./projection";
import { panned, WHOLE, zoomed, zoomedAt } from "./zoom";

export interface ZoomControl {
  /** How much the drawing is enlarged. */
  readonly factor: number;
  /** Enlarge by a ratio around the middle. */
  by: (ratio: number) => void;
  /** Move what is seen, px. */
  pan: (dx: number, dy: number) => void;
  /** All of it again. */
  whole: () => void;
}

const WHEEL_RATE = 0.0016;

/** The projection of the part of a drawing that is looked at: the wheel and two fingers enlarge it, a hand moves it. */
export function useZoom(
  base: Projection,
  frame: RefObject<HTMLElement | null>,
): [Projection, ZoomControl] {
  const [zoom, setZoom] = useState(WHOLE);
  const size = useRef(base);
  size.current = base;
  const at = useCallback((ratio: number, x: number, y: number) => {
    setZoom((before) => zoomedAt(before, ratio, x, y, size.current));
  }, []);
  const pan = useCallback((dx: number, dy: number) => {
    setZoom((before) => (before.factor === 1 ? before : panned(before, dx, dy, size.current)));
  }, []);
  useEffect(() => {
    const element = frame.current;
    if (!element) return;
    // Where in the drawing, which stands in the middle of its frame.
    const spot = (clientX: number, clientY: number) => {
      const box = element.getBoundingClientRect();
      const top = box.top + (box.height - size.current.height) / 2;
      return [clientX - box.left, clientY - top] as const;
    };
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      if (event.shiftKey) return pan(-event.deltaX - event.deltaY, 0);
      at(Math.exp(-WHEEL_RATE * event.deltaY), ...spot(event.clientX, event.clientY));
    };
    const fingers = new Map<number, readonly [number, number]>();
    let hand: number | null = null;
    const down = (event: PointerEvent) => {
      fingers.set(event.pointerId, [event.clientX, event.clientY]);
      // A thing is dragged itself; anywhere else the drawing is, or a rectangle with Shift.
      const thing = event.target instanceof Element && event.target.closest(".movable, button");
      hand = thing || event.shiftKey || fingers.size > 1 ? null : event.pointerId;
    };
    const move = (event: PointerEvent) => {
      const before = fingers.get(event.pointerId);
      if (!before) return;
      const now = [event.clientX, event.clientY] as const;
      const other = [...fingers].find(([id]) => id !== event.pointerId)?.[1];
      fingers.set(event.pointerId, now);
      if (other) {
        const apart = (p: readonly [number, number]) =>
          Math.hypot(p[0] - other[0], p[1] - other[1]);
        const middle = spot((now[0] + other[0]) / 2, (now[1] + other[1]) / 2);
        if (apart(before) > 0) at(apart(now) / apart(before), ...middle);
      } else if (hand === event.pointerId) {
        pan(now[0] - before[0], now[1] - before[1]);
      }
    };
    const up = (event: PointerEvent) => {
      fingers.delete(event.pointerId);
      hand = null;
    };
    element.addEventListener("wheel", wheel, { passive: false });
    element.addEventListener("pointerdown", down);
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", up);
    window.addEventListener("pointercancel", up);
    return () => {
      element.removeEventListener("wheel", wheel);
      element.removeEventListener("pointerdown", down);
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", up);
      window.removeEventListener("pointercancel", up);
    };
  }, [frame, at, pan]);
  const projection = useMemo(() => zoomed(base, zoom), [base, zoom]);
  const control = useMemo<ZoomControl>(
    () => ({
      factor: zoom.factor,
      by: (ratio) => at(ratio, size.current.width / 2, size.current.height / 2),
      pan,
      whole: () => setZoom(WHOLE),
    }),
    [zoom.factor, at, pan],
  );
  return [projection, control];
}
