import { type RefObject, useLayoutEffect, useState } from "react";

/** How wide an element is, and becomes. `there` says whether it is on the page by now. */
export function useWidth(ref: RefObject<HTMLElement | null>, first: number, there = true): number {
  const [width, setWidth] = useState(first);
  useLayoutEffect(() => {
    const node = ref.current;
    if (!there || !node) return;
    setWidth(node.clientWidth);
    const watch = new ResizeObserver(() => setWidth(node.clientWidth));
    watch.observe(node);
    return () => watch.disconnect();
  }, [ref, there]);
  return width;
}
