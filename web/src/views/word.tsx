/** A dotted word of a sentence, behind which a chooser opens. */
import type { ReactNode } from "react";
import { Pop } from "../parts/basics";

export const WORD =
  "border-b-[1.5px] border-dotted border-rose pb-px font-[550] text-ink hover:bg-rose-soft data-[state=open]:bg-rose-soft";

export function Word({
  label,
  children,
  chooser,
  className = "",
}: {
  label: string;
  children: ReactNode;
  chooser: ReactNode;
  className?: string;
}) {
  return (
    <Pop
      label={label}
      className={className}
      trigger={
        <button type="button" className={WORD}>
          {children}
        </button>
      }
    >
      {chooser}
    </Pop>
  );
}
