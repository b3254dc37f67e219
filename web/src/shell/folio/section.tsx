import type { ReactNode } from "react";

/** One part of the folio under its heading. */
export function Section({
  title,
  heading,
  aside,
  end,
  children,
}: {
  title: string;
  /** in place of the title, where that can be changed */
  heading?: ReactNode;
  aside?: ReactNode;
  end?: ReactNode;
  children: ReactNode;
}) {
  return (
    <section aria-label={title} className="mt-5">
      <div className="mb-1 flex items-baseline gap-2">
        <h2 className="font-sans text-[13px] font-semibold">{heading ?? title}</h2>
        {aside && <span className="text-[12px] text-ink-2">{aside}</span>}
        {end && <span className="ml-auto text-[12px]">{end}</span>}
      </div>
      {children}
    </section>
  );
}
