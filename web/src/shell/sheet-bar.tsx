/** The sheet bar: the lenses at the foot, and at its right end whether what was changed has arrived. */
import { format } from "date-fns";
import { Undo2 } from "lucide-react";
import { Link, useSearchParams } from "react-router";
import { useSaveState } from "../data/save-status";
import { keptParams } from "../data/scope";
import { undo, useLastChange } from "../data/undo";
import { count } from "../parts/say";

export interface Sheet {
  to: string;
  name: string;
  apart?: boolean;
}

function SaveState() {
  const state = useSaveState();
  const words = state.offline
    ? `Offline: ${count(state.waiting, "change")} waiting`
    : state.waiting
      ? `Saving ${count(state.waiting, "change")}`
      : state.savedAt
        ? `All saved · ${format(state.savedAt, "HH:mm")}`
        : "";
  return (
    <span role="status" className={`whitespace-nowrap ${state.offline ? "font-semibold text-ember" : ""}`}>
      {words}
    </span>
  );
}

export function SheetBar({ sheets, current, kept: own }: { sheets: Sheet[]; current: string; kept?: React.ReactNode }) {
  const [params] = useSearchParams();
  const last = useLastChange();
  const kept = keptParams(params);
  return (
    <footer className="flex h-9 flex-none items-stretch gap-0.5 overflow-x-auto overflow-y-hidden border-t border-rule-2 bg-band px-3">
      <nav aria-label="Lenses" className="flex items-stretch gap-0.5">
        {sheets.map((sheet) => (
          <Link
            key={sheet.to}
            to={sheet.to + kept}
            aria-current={sheet.name === current ? "page" : undefined}
            className={`flex items-center border-b-[3px] px-3.5 font-medium whitespace-nowrap ${sheet.apart ? "ml-4" : ""} ${
              sheet.name === current
                ? "-mt-px border-rose bg-sheet font-semibold text-ink"
                : "border-transparent text-ink-2 hover:text-ink"
            }`}
          >
            {sheet.name}
          </Link>
        ))}
      </nav>
      {own}
      <span className="ml-auto flex items-center gap-3.5 pl-3 text-[12px] text-ink-2">
        {last && (
          <button
            type="button"
            onClick={undo}
            className="flex items-center gap-1 whitespace-nowrap hover:text-ink"
            title={`Take back: ${last} (Ctrl Z)`}
          >
            <Undo2 size={13} aria-hidden="true" /> Undo
          </button>
        )}
        <SaveState />
      </span>
    </footer>
  );
}
