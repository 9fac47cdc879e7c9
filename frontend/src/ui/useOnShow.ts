import { type RefObject, useEffect, useState } from "react";

/** How far beyond the window something counts as on show, so that it is there when one comes to it. */
const MARGIN = "400px 0px";

/** Whether an element has come on show yet; `onShow` hears each time it comes or goes. */
export function useOnShow(
  element: RefObject<Element | null>,
  onShow: (isShown: boolean) => void,
): boolean {
  const [seen, setSeen] = useState(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: observed once, whoever listens
  useEffect(() => {
    const watched = element.current;
    if (!watched) return;
    const observer = new IntersectionObserver(
      ([entry]) => {
        const isShown = entry?.isIntersecting ?? false;
        if (isShown) setSeen(true);
        onShow(isShown);
      },
      { rootMargin: MARGIN },
    );
    observer.observe(watched);
    return () => {
      observer.disconnect();
      onShow(false);
    };
  }, []);
  return seen;
}
