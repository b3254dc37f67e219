/** The sheet bar: lenses, the rest of a project, and the sheets that people kept; at its right end whether what was
 * changed has arrived. What has no room in it is offered by a menu; on a phone one button names what is open. */
import { format } from "date-fns";
import { Undo2 } from "lucide-react";
import { type ReactNode, useLayoutEffect, useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { useSaveState } from "../data/save-status";
import { undo, useLastChange } from "../data/undo";
import { Menu, MenuHead, MenuLine, MenuLink } from "../parts/basics";
import { count } from "../parts/format";
import { useWide } from "../parts/use-wide";
import { keptParams } from "../views/scope";

export interface Sheet {
  to: string;
  name: string;
}

/** A sheet that somebody kept, with what may be done to it. */
export interface KeptSheet extends Sheet {
  id: string;
  here: boolean;
  tab: ReactNode;
}

const TAB = "flex h-9 flex-none items-center border-b-[3px] px-3.5 font-medium whitespace-nowrap";
const HERE = "-mt-px h-[37px] border-rose bg-sheet font-semibold text-ink";
const ELSEWHERE = "border-transparent text-ink-2 hover:text-ink";

/** How the tab of something kept looks: its frame, and the link in it. */
export const keptTab = (here: boolean) =>
  `flex items-center border-b-[3px] ${here ? "-mt-px h-[37px] border-rose bg-sheet text-ink" : "h-9 border-transparent text-ink-2"}`;
export const keptLink = (here: boolean) =>
  `flex h-full items-center gap-1.5 pl-3 whitespace-nowrap hover:text-ink ${here ? "font-semibold" : "pr-3 font-medium"}`;

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

interface Tab extends Sheet {
  key: string;
  here: boolean;
  tab: ReactNode;
}

/** Tabs as far as there is room; a menu offers the rest. */
function Fitting({
  label,
  what: [one, several],
  tabs,
  grows,
}: {
  label: string;
  what: [one: string, several: string];
  tabs: Tab[];
  /** how it takes its room in the bar */
  grows: string;
}) {
  const nav = useRef<HTMLElement>(null);
  const [fit, setFit] = useState(tabs.length);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what the tabs are changes how many fit
  useLayoutEffect(() => {
    const element = nav.current;
    if (!element) return;
    const measure = () => {
      const all = [...element.children] as HTMLElement[];
      const first = all.findIndex((one) => one.offsetTop > (all[0]?.offsetTop ?? 0) + 9);
      setFit(first < 0 ? all.length : first);
    };
    measure();
    const watch = new ResizeObserver(measure);
    watch.observe(element);
    for (const one of element.children) watch.observe(one); // a tab grows when its sheet is shown otherwise than kept
    return () => watch.disconnect();
  }, [tabs.map((one) => one.name + one.here).join("|")]);
  const rest = tabs.slice(fit);
  const here = rest.find((one) => one.here);
  return (
    <>
      <nav
        ref={nav}
        aria-label={label}
        className={`flex h-[37px] flex-wrap gap-0.5 overflow-hidden ${grows} -mt-px pt-px`}
      >
        {tabs.map((one, index) => (
          <span key={one.key} className={`flex-none ${index < fit ? "" : "invisible"}`}>
            {one.tab}
          </span>
        ))}
      </nav>
      {rest.length > 0 && (
        <Menu
          trigger={
            <button type="button" className={`${TAB} ${ELSEWHERE}`}>
              {rest.length} more {rest.length === 1 ? one : several} ▾
            </button>
          }
        >
          {rest.map((one) => (
            <MenuLink key={one.key} to={one.to} chosen={one.here}>
              {one.name}
            </MenuLink>
          ))}
        </Menu>
      )}
      {/* the one that is open stays in sight, with what may be done to it */}
      {here && <span className="flex-none">{here.tab}</span>}
    </>
  );
}

interface Bar {
  /** the lenses that stand in the bar */
  sheets: Sheet[];
  /** the name of the one that is open */
  current: string;
  /** a way to those that do not */
  more?: ReactNode;
  /** the pages on the project itself, behind one menu */
  project?: Sheet[];
  kept?: KeptSheet[];
  /** what stands behind the sheets: keeping one */
  end?: ReactNode;
}

export function SheetBar({ sheets, current, more, project = [], kept = [], end }: Bar) {
  const [params] = useSearchParams();
  const last = useLastChange();
  const wide = useWide();
  const query = keptParams(params);
  const within = project.find((one) => one.name === current);
  const open = kept.find((one) => one.here);
  return (
    <footer className="flex h-9 flex-none items-stretch gap-0.5 border-t border-rule-2 bg-band px-3">
      {wide ? (
        <div className="flex min-w-0 flex-1 items-stretch gap-0.5">
          <Fitting
            label="Lenses"
            what={["lens", "lenses"]}
            grows="max-w-[calc(100%-380px)] flex-none"
            tabs={sheets.map((one) => ({
              ...one,
              key: one.to,
              to: one.to + query,
              here: one.name === current,
              tab: (
                <Link
                  to={one.to + query}
                  aria-current={one.name === current ? "page" : undefined}
                  className={`${TAB} ${one.name === current ? HERE : ELSEWHERE}`}
                >
                  {one.name}
                </Link>
              ),
            }))}
          />
          {more}
          {project.length > 0 && (
            <Menu
              trigger={
                <button type="button" className={`${TAB} ml-2 ${within ? HERE : ELSEWHERE}`}>
                  {within ? `Project: ${within.name}` : "Project"} ▾
                </button>
              }
            >
              {project.map((one) => (
                <MenuLink key={one.to} to={one.to + query} chosen={one === within}>
                  {one.name}
                </MenuLink>
              ))}
            </Menu>
          )}
          {(kept.length > 0 || end) && <span aria-hidden="true" className="mx-2 my-2 w-px flex-none bg-rule-2" />}
          {kept.length > 0 && (
            <Fitting
              label="Sheets"
              what={["sheet", "sheets"]}
              grows="min-w-0"
              tabs={kept.map((one) => ({ ...one, key: one.id }))}
            />
          )}
          {end}
        </div>
      ) : (
        <div className="flex min-w-0 flex-1 items-stretch gap-0.5 overflow-x-auto overflow-y-hidden">
          <OnePhone {...{ sheets, project, kept, query, current }} />
          {open?.tab}
          {more}
          {end}
        </div>
      )}
      <span className="ml-auto flex flex-none items-center gap-3.5 pl-3 text-[12px] text-ink-2">
        {last && (
          <button
            type="button"
            onMouseDown={(event) => event.preventDefault()} // whoever types goes on typing
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

/** On a phone: one button that names what is open, and offers all the rest. */
function OnePhone({
  sheets,
  project,
  kept,
  current,
  query,
}: Required<Pick<Bar, "sheets" | "project" | "kept" | "current">> & { query: string }) {
  return (
    <Menu
      trigger={
        <button type="button" className={`${TAB} ${current ? HERE : ELSEWHERE}`}>
          {current || "Lenses"} ▾
        </button>
      }
    >
      {sheets.map((one) => (
        <MenuLink key={one.to} to={one.to + query} chosen={one.name === current}>
          {one.name}
        </MenuLink>
      ))}
      {project.length > 0 && <MenuLine />}
      {project.map((one) => (
        <MenuLink key={one.to} to={one.to + query} chosen={one.name === current}>
          {one.name}
        </MenuLink>
      ))}
      {kept.length > 0 && <MenuHead>Sheets</MenuHead>}
      {kept.map((one) => (
        <MenuLink key={one.id} to={one.to} chosen={one.here}>
          {one.name}
        </MenuLink>
      ))}
    </Menu>
  );
}
