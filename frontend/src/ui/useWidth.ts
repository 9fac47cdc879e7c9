import { type RefObject, useEffect, useRef, useState } from "react";

/** The width of an element as it changes, px. */
export function useWidth<T extends HTMLElement>(first: number): [RefObject<T | null>, number] {
  const frame = useRef<T>(null);
  const [width, setWidth] = useState(first);
  useEffect(() => {
    const element = frame.current;
    if (!element) return;
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setWidth(Math.max(300, Math.floor(entry.contentRect.width)));
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [frame, width];
}
