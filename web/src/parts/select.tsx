import { ChevronDown } from "lucide-react";
import type { ComponentProps } from "react";

/**
 * One of a few: the browser's own list, which keyboards, screen readers and phones know, in our look.
 *
 * `className` sets the width of the whole.
 */
export function Select({ className = "", ...rest }: ComponentProps<"select">) {
  return (
    <span className={`relative inline-flex ${/(^|\s)!?h-/.test(className) ? "" : "h-[30px]"} ${className}`}>
      <select className="input h-full! w-full min-w-0 appearance-none truncate pr-6" {...rest} />
      <ChevronDown
        size={13}
        aria-hidden="true"
        className="pointer-events-none absolute top-1/2 right-1.5 -translate-y-1/2 text-ink-2"
      />
    </span>
  );
}
