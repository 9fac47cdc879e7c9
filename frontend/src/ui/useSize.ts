import { type RefObject, useEffect, useRef, useState } from "react";

export interface Size {
  readonly width: number;
  readonly height: number;
}

/** The width and height of an element as they change, px. */
export function useSize<T extends HTMLElement>(first: Size): [RefObject<T | null>, Size] {
  const frame = useRef<T>(null);
  const [size, setSize] = useState(first);
  useEffect(() => {
    const element = frame.current;
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => {
      if (!entry) return;
      const { width, height } = entry.contentRect;
      setSize({ width: Math.floor(width), height: Math.floor(height) });
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [frame, size];
}
