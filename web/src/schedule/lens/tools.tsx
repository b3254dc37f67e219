/** What stands over the columns of the schedule: the scales, fit, and which columns are shown. */
import { Columns3 } from "lucide-react";
import { type ReactNode, useCallback, useEffect, useLayoutEffect, useMemo, useState } from "react";
import { Menu, MenuItem } from "../../parts/basics";
import { Select } from "../../parts/select";
import { COLUMNS, type Column, type ColumnId } from "../../tasks/outline/columns";
import { SCALE_NAMES, type Scale } from "./axis";

const OFFERED: ColumnId[] = ["owner", "start", "finish", "duration", "slack", "waits", "percent", "agreed", "variance"];
const FIRST: ColumnId[] = ["owner", "start", "finish", "slack"];
const KEY = "rhodonite.schedule-columns";
const WIDTHS: Partial<Record<ColumnId, number>> = { owner: 46, start: 70, finish: 78, slack: 62, percent: 54 };

const widthOf = (id: ColumnId) => WIDTHS[id] ?? COLUMNS.find((one) => one.id === id)?.width ?? 80;
/** What stays longest where room gets scarce. */
const WORTH: ColumnId[] = ["finish", "start", "slack", "duration", "owner", "variance", "waits", "percent", "agreed"];

const read = (): ColumnId[] => {
  const kept = localStorage.getItem(KEY);
  return kept ? OFFERED.filter((one) => kept.split(",").includes(one)) : FIRST;
};

/** Chosen columns in the order in which they stand. */
export const inOrder = (chosen: ColumnId[]) => OFFERED.filter((one) => chosen.includes(one));

/** The columns that are shown, the width of all of them with the title, and the part of the schedule in view. */
export function useColumns(scroller: React.RefObject<HTMLDivElement | null>) {
  const [shown, set] = useState(read);
  const [view, setView] = useState({ left: 0, width: 1280, height: 600 });
  useLayoutEffect(() => {
    const node = scroller.current;
    if (!node) return;
    const look = () =>
      setView((now) =>
        Math.abs(now.left - node.scrollLeft) < 1 && now.width === node.clientWidth && now.height === node.clientHeight
          ? now
          : { left: node.scrollLeft, width: node.clientWidth, height: node.clientHeight },
      );
    look();
    const watch = new ResizeObserver(look);
    watch.observe(node);
    node.addEventListener("scroll", look, { passive: true });
    return () => {
      watch.disconnect();
      node.removeEventListener("scroll", look);
    };
  }, [scroller]);
  useEffect(() => localStorage.setItem(KEY, shown.join(",")), [shown]);
  const { width } = view;
  const columns = useMemo(() => {
    // where there is little room the bars come first
    const room = width * (width < 900 ? 0.5 : 0.62) - 200;
    let used = 0;
    const fits = new Set(
      WORTH.filter((id) => shown.includes(id)).filter((id) => {
        used += widthOf(id);
        return used <= room;
      }),
    );
    return inOrder(shown)
      .filter((id) => fits.has(id))
      .map((id) => COLUMNS.find((one) => one.id === id))
      .filter((one): one is Column => one !== undefined)
      .map((one) => ({ ...one, width: widthOf(one.id) }));
  }, [shown, width]);
  const title = Math.max(190, Math.min(300, width * 0.21));
  const grid = Math.round(title + columns.reduce((sum, one) => sum + one.width, 0) + 8);
  const setShown = (id: ColumnId) => set((now) => (now.includes(id) ? now.filter((one) => one !== id) : [...now, id]));
  /** Where the view will be scrolled to, known before the browser tells: so that a zoom is drawn once. */
  const setLeft = useCallback((to: number) => setView((now) => ({ ...now, left: Math.max(0, to) })), []);
  return { columns, shown, setShown, grid, width, left: view.left, setLeft, height: view.height };
}

export function ChooseColumns({ shown, setShown }: { shown: ColumnId[]; setShown: (id: ColumnId) => void }) {
  return (
    <Menu
      trigger={
        <button
          type="button"
          aria-label="Columns"
          title="Columns"
          className="ml-auto inline-grid h-[20px] w-6 place-items-center text-ink-2 hover:bg-band"
        >
          <Columns3 size={14} aria-hidden="true" />
        </button>
      }
    >
      {OFFERED.map((id) => (
        <MenuItem
          key={id}
          chosen={shown.includes(id)}
          onSelect={(event) => {
            event.preventDefault();
            setShown(id);
          }}
        >
          {COLUMNS.find((one) => one.id === id)?.head}
        </MenuItem>
      ))}
    </Menu>
  );
}

/** The scales from hours to quarters. */
export function Scales({
  scale,
  choose,
  fit,
  narrow,
  children,
}: {
  /** there is no room for a button for each */
  narrow: boolean;
  scale: Scale;
  choose: (scale: Scale) => void;
  fit: () => void;
  children: ReactNode;
}) {
  const look = "h-[20px] px-1.5 text-[11.5px]";
  return (
    <div className="absolute top-0.5 right-1.5 left-2.5 flex items-center gap-px">
      {narrow && (
        <Select
          className="!h-[20px] w-[88px] text-[11.5px]"
          aria-label="Scale"
          value={scale}
          onChange={(event) => choose(event.target.value as Scale)}
        >
          {SCALE_NAMES.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </Select>
      )}
      <fieldset className={narrow ? "hidden" : "flex gap-px"}>
        <legend className="sr-only">Scale</legend>
        {SCALE_NAMES.map((one) => (
          <button
            key={one}
            type="button"
            aria-pressed={scale === one}
            className={`${look} ${scale === one ? "bg-ink text-paper" : "text-ink-2 hover:bg-band"}`}
            onClick={() => choose(one)}
          >
            {one}
          </button>
        ))}
      </fieldset>
      <button type="button" className={`${look} ml-1 text-ink-2 hover:bg-band`} title="Fit all work (0)" onClick={fit}>
        fit
      </button>
      {children}
    </div>
  );
}
