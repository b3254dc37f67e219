/** What is heavy is drawn once it comes into view, or is printed; until then there is room for it. */
import { type ReactNode, useEffect, useRef, useState } from "react";

/** How near the edge of the window it may be, in pixels: so it is mostly there before it is seen. */
const NEAR = 200;

export function InView({ height, children }: { height: number; children: ReactNode }) {
  const place = useRef<HTMLDivElement>(null);
  const [isIn, setIn] = useState(false);
  useEffect(() => {
    const node = place.current;
    if (!node) return;
    const show = () => setIn(true);
    const watch = new IntersectionObserver((seen) => seen.some((one) => one.isIntersecting) && show(), {
      rootMargin: `${NEAR}px`,
    });
    watch.observe(node);
    window.addEventListener("beforeprint", show);
    return () => {
      watch.disconnect();
      window.removeEventListener("beforeprint", show);
    };
  }, []);
  return isIn ? children : <div ref={place} style={{ height }} />;
}
