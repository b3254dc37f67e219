/** The sheet bar of the place Reports: status reports, kept reports, the dashboards. */
import { type ReactNode, Suspense, useState } from "react";
import { Link, useNavigate } from "react-router";
import { useMe } from "../../data/hooks";
import { orTell } from "../../data/notes";
import { Menu, MenuItem, MenuLine } from "../../parts/basics";
import { later } from "../../parts/later";
import { type KeptSheet, keptLink, keptTab } from "../../shell/sheet-bar";
import { type Line, useDashboardActions, useDashboards } from "./dashboards";

const DashboardForm = later(() => import("./dashboard-form").then((module) => module.DashboardForm));

const PAGES = [
  { to: "/reports", name: "Status reports" },
  { to: "/reports/kept", name: "Kept reports" },
];

export const dashboardAddress = (id: string) => `/reports/dashboard/${id}`;

/** What the sheet bar shows; `here` is the id of the dashboard that is open, or the name of the page. */
export function useReportTabs(here: string) {
  const { data: every = [] } = useDashboards();
  const { person } = useMe();
  const kept: KeptSheet[] = every.map((one) => ({
    id: one.id,
    name: one.name,
    to: dashboardAddress(one.id),
    here: one.id === here,
    tab: <Tab line={one} every={every} here={one.id === here} />,
  }));
  const current = PAGES.some((one) => one.name === here) ? here : "";
  return { sheets: PAGES, current, kept, end: person.role === "guest" ? undefined : ((<KeepOne />) as ReactNode) };
}

/** The dashboards of a project, as tabs of its sheet bar. */
export function useProjectDashboards(code: string): KeptSheet[] {
  const { data: every = [] } = useDashboards();
  return every
    .filter((one) => one.code === code)
    .map((one) => ({
      id: one.id,
      name: one.name,
      to: dashboardAddress(one.id),
      here: false,
      tab: <Tab line={one} every={every} here={false} />,
    }));
}

function KeepOne() {
  const [keeping, setKeeping] = useState(false);
  return (
    <>
      <button
        type="button"
        className="flex-none px-3 font-[550] whitespace-nowrap text-rose hover:underline"
        onClick={() => setKeeping(true)}
      >
        + A dashboard
      </button>
      {keeping && (
        <Suspense fallback={null}>
          <DashboardForm close={() => setKeeping(false)} />
        </Suspense>
      )}
    </>
  );
}

function Tab({ line, every, here }: { line: Line; every: Line[]; here: boolean }) {
  const actions = useDashboardActions();
  const navigate = useNavigate();
  const index = every.indexOf(line);
  const move = (after_id: string | null) => orTell(actions.edit(line.id, { version: line.version, after_id }));
  return (
    <span className={keptTab(here)}>
      <Link to={dashboardAddress(line.id)} aria-current={here ? "page" : undefined} className={keptLink(here)}>
        {line.code && <span className="text-[11px] font-semibold tracking-wider text-rose">{line.code}</span>}
        {line.name}
      </Link>
      {here && (
        <Menu
          trigger={
            <button
              type="button"
              aria-label={`More for the dashboard ${line.name}`}
              className="px-2 text-ink-2 hover:text-ink"
            >
              ▾
            </button>
          }
        >
          {line.may_change && index > 0 && (
            <MenuItem onSelect={() => move(every[index - 2]?.id ?? null)}>Move to the left</MenuItem>
          )}
          {line.may_change && index < every.length - 1 && (
            <MenuItem onSelect={() => move(every[index + 1]?.id ?? null)}>Move to the right</MenuItem>
          )}
          <MenuItem
            onSelect={() =>
              orTell(
                actions
                  .keep({
                    name: `${line.name}, copy`,
                    code: line.code,
                    like: line.id,
                    seen_by: "private",
                    people: [],
                  })
                  .then((id) => navigate(dashboardAddress(id))),
              )
            }
          >
            Make a copy
          </MenuItem>
          {line.may_change && (
            <>
              <MenuLine />
              <MenuItem
                onSelect={() => {
                  navigate("/reports");
                  orTell(actions.remove(line.id));
                }}
              >
                Take it away
              </MenuItem>
            </>
          )}
        </Menu>
      )}
    </span>
  );
}
