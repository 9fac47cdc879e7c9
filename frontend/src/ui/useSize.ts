import { type RefObject, useLayoutEffect, useRef, useState } from "react";

export interface Size {
  readonly width: number;
  readonly height: number;
}

/** The width and height of an element as they change, px. */
export function useSize<T extends HTMLElement>(first: Size): [RefObject<T | null>, Size] {
  const frame = useRef<T>(null);
  const [size, setSize] = useState(first);
  // Measured before anything is painted, so that nothing jumps.
  useLayoutEffect(() => {
    const element = frame.current;
    if (!element) return;
    const put = (box: Size) => {
      const next = { width: Math.floor(box.width), height: Math.floor(box.height) };
      setSize((now) => (now.width === next.width && now.height === next.height ? now : next));
    };
    put(element.getBoundingClientRect());
    const observer = new ResizeObserver(([entry]) => entry && put(entry.contentRect));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [frame, size];
}
