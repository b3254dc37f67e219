/** What is heavy is drawn once it comes near to being seen; until then there is room for it. */
import { type ReactNode, useEffect, useRef, useState } from "react";

/** How near the edge of the window it may be, in pixels: so it is there before it is seen, and where a page is printed. */
const NEAR = 600;

export function InView({ height, children }: { height: number; children: ReactNode }) {
  const place = useRef<HTMLDivElement>(null);
  const [isIn, setIn] = useState(false);
  useEffect(() => {
    const node = place.current;
    if (!node) return;
    const watch = new IntersectionObserver((seen) => seen.some((one) => one.isIntersecting) && setIn(true), {
      rootMargin: `${NEAR}px`,
    });
    watch.observe(node);
    return () => watch.disconnect();
  }, []);
  return isIn ? children : <div ref={place} style={{ height }} />;
}
