import { useCallback, useState } from "react";

/** The width of an element as it is laid out, for drawing to the pixel. */
export function useWidth(): [(node: HTMLElement | null) => (() => void) | undefined, number] {
  const [width, setWidth] = useState(0);
  const ref = useCallback((node: HTMLElement | null) => {
    if (!node) return undefined;
    setWidth(Math.floor(node.clientWidth));
    const observer = new ResizeObserver(() => setWidth(Math.floor(node.clientWidth)));
    observer.observe(node);
    return () => observer.disconnect();
  }, []);
  return [ref, width];
}
