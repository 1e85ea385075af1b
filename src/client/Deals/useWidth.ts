import { useLayoutEffect, useState, type RefObject } from "react";

/** The width of an element, kept as it changes. */
export function useWidth(ref: RefObject<HTMLElement | null>, first = 700) {
  const [width, setWidth] = useState(first);
  useLayoutEffect(() => {
    if (!ref.current) return;
    // Measured before the first picture, so that nothing moves after it.
    setWidth(ref.current.clientWidth || first);
    const observer = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width));
    observer.observe(ref.current);
    return () => observer.disconnect();
  }, [ref, first]);
  return width;
}
