/** A dashboard: its sentence, and its panels on the grid. */
import { Suspense, useEffect, useMemo, useState } from "react";
import { useParams, useSearchParams } from "react-router";
import { useMe, usePeople } from "../../data/hooks";
import { orTell } from "../../data/notes";
import { Button, Empty, Failed, Loading, Menu, MenuItem } from "../../parts/basics";
import { count } from "../../parts/format";
import { later } from "../../parts/later";
import { OpenedTask } from "../../shell/opened-task";
import { SheetBar } from "../../shell/sheet-bar";
import { TitleLine } from "../../shell/title-line";
import { readScope, type Scope, writeScope } from "../../views/scope";
import { ScopeSentence } from "../../views/scope-sentence";
import { ALL_PROJECTS } from "../../views/view";
import { type Dashboard, type Panel, type PanelNew, useAnswers, useDashboard, useDashboardActions } from "./dashboards";
import { Grid } from "./grid";
import { KINDS, newPanel } from "./kinds";
import { useReportTabs } from "./tabs";

const PanelForm = later(() => import("./panel-form").then((module) => module.PanelForm));
const DashboardForm = later(() => import("./dashboard-form").then((module) => module.DashboardForm));
const Wall = later(() => import("./wall").then((module) => module.Wall));

export default function DashboardPlace() {
  const { id = "" } = useParams();
  const { data, error, refetch } = useDashboard(id);
  const tabs = useReportTabs(id);
  return (
    <>
      {error && !data ? (
        <>
          <TitleLine title="Dashboard" />
          <Failed error={error} retry={refetch} />
        </>
      ) : !data ? (
        <>
          <TitleLine title="…" />
          <Loading what="the dashboard" rows={14} />
        </>
      ) : (
        <Shown key={data.id} dashboard={data} />
      )}
      <SheetBar {...tabs} />
    </>
  );
}

/** The sentence that panels follow: the one that is kept, or another that is tried in the address. */
function useSentence(dashboard: Dashboard) {
  const [params, setParams] = useSearchParams();
  const text = params.toString();
  // biome-ignore lint/correctness/useExhaustiveDependencies: the text is what changes
  const tried = useMemo(() => (params.get("tried") ? readScope(params) : null), [text]);
  const kept: Scope = dashboard.scope;
  const shown = tried ?? kept;
  const set = (scope: Scope | null) =>
    setParams(
      (now) => {
        const next = writeScope(now, scope ?? readScope(new URLSearchParams()));
        if (scope) next.set("tried", "1");
        else next.delete("tried");
        return next;
      },
      { replace: true },
    );
  const change = (part: Partial<Scope>) => {
    const next = { ...shown, ...part };
    set(JSON.stringify(next) === JSON.stringify({ ...next, ...kept }) ? null : next);
  };
  return { shown, tried, change, putBack: () => set(null) };
}

function Shown({ dashboard }: { dashboard: Dashboard }) {
  const actions = useDashboardActions();
  const { shown, tried, change, putBack } = useSentence(dashboard);
  const answers = useAnswers(dashboard.id, tried);
  const [arranging, setArranging] = useState(false);
  const [editing, setEditing] = useState<Panel | PanelNew | null>(null);
  const [sharing, setSharing] = useState(false);
  const [onWall, setOnWall] = useState(false);
  useEffect(() => {
    document.title = `${dashboard.name} · Reports`;
  }, [dashboard.name]);
  return (
    <>
      <TitleLine code={dashboard.code ?? undefined} title={dashboard.name}>
        <SeenByWords dashboard={dashboard} />
        <span className="flex items-baseline gap-x-[18px]">
          <button type="button" className="hover:text-ink hover:underline" onClick={() => setOnWall(true)}>
            full screen
          </button>
          <a href={`/api/dashboards/${dashboard.id}.pdf`} download className="hover:text-ink hover:underline">
            as PDF
          </a>
          {dashboard.may_change && (
            <>
              <button
                type="button"
                className="hover:text-ink hover:underline max-md:hidden"
                onClick={() => setSharing(true)}
              >
                name and readers
              </button>
              <button
                type="button"
                aria-pressed={arranging}
                className={`hover:text-ink hover:underline max-md:hidden ${arranging ? "font-semibold text-rose" : ""}`}
                onClick={() => setArranging(!arranging)}
              >
                {arranging ? "done arranging" : "arrange"}
              </button>
              <AddPanel add={(kind) => setEditing(newPanel(kind))} />
            </>
          )}
        </span>
      </TitleLine>
      <ScopeSentence
        project={ALL_PROJECTS}
        held={[shown, change]}
        lead={dashboard.code ? `Of ${dashboard.code}, showing` : "Showing"}
        label="What all panels show"
      >
        {tried && (
          <span className="ml-2 text-[12px]">
            other than kept:{" "}
            {dashboard.may_change && (
              <button
                type="button"
                className="mr-2 font-semibold text-rose hover:underline"
                onClick={() =>
                  orTell(actions.edit(dashboard.id, { version: dashboard.version, scope: tried }).then(putBack))
                }
              >
                keep
              </button>
            )}
            <button type="button" className="text-rose hover:underline" onClick={putBack}>
              put back
            </button>
          </span>
        )}
      </ScopeSentence>
      <div className="relative flex min-h-0 flex-1 border-t border-rule-2 bg-sheet">
        <div className="min-w-0 flex-1 overflow-auto" tabIndex={-1}>
          {dashboard.panels.length ? (
            <Grid
              dashboard={dashboard}
              answers={answers.data}
              failed={answers.error && !answers.data ? answers.error : null}
              arranging={arranging}
              edit={dashboard.may_change ? setEditing : undefined}
            />
          ) : (
            <Empty title="Nothing stands here yet">
              {dashboard.may_change ? (
                <FirstPanels add={(kind) => setEditing(newPanel(kind))} />
              ) : (
                <p>Whoever keeps this dashboard has put no panel on it.</p>
              )}
            </Empty>
          )}
        </div>
        <OpenedTask />
      </div>
      <Suspense fallback={null}>
        {editing && <PanelForm dashboard={dashboard} panel={editing} close={() => setEditing(null)} />}
        {sharing && <DashboardForm dashboard={dashboard} close={() => setSharing(false)} />}
        {onWall && <Wall first={dashboard.id} close={() => setOnWall(false)} />}
      </Suspense>
    </>
  );
}

function SeenByWords({ dashboard }: { dashboard: Dashboard }) {
  const { byId } = usePeople();
  const { person: me } = useMe();
  const keeper = dashboard.mine ? "" : `kept by ${byId.get(dashboard.person_id)?.short ?? "somebody"}, `;
  const others = dashboard.people.filter((one) => one !== me.id).map((one) => byId.get(one)?.short ?? "somebody");
  const readers =
    dashboard.seen_by === "everyone"
      ? dashboard.code
        ? "seen by all in the project"
        : "seen by everybody"
      : dashboard.seen_by === "people" && dashboard.people.length
        ? `seen by ${count(dashboard.people.length + 1, "person", "people")}`
        : dashboard.mine
          ? "seen by you alone"
          : "seen by few";
  return (
    <span title={others.length && dashboard.seen_by === "people" ? others.join(", ") : undefined}>
      {keeper}
      {readers}
    </span>
  );
}

function AddPanel({ add }: { add: (kind: (typeof KINDS)[number]["id"]) => void }) {
  return (
    <Menu
      align="end"
      trigger={
        <Button look="go" className="sm:-my-1.5">
          Add a panel
        </Button>
      }
    >
      {KINDS.map((one) => (
        <MenuItem key={one.id} onSelect={() => add(one.id)}>
          <span className="py-0.5">
            <b className="font-semibold">{one.name}</b>
            <span className="block text-[12px] text-ink-2">{one.use}</span>
          </span>
        </MenuItem>
      ))}
    </Menu>
  );
}

function FirstPanels({ add }: { add: (kind: (typeof KINDS)[number]["id"]) => void }) {
  return (
    <div className="mt-2 grid max-w-3xl gap-2 sm:grid-cols-2 lg:grid-cols-3">
      {KINDS.map((one) => (
        <button
          key={one.id}
          type="button"
          className="border border-rule-2 bg-sheet p-2.5 hover:border-ink"
          onClick={() => add(one.id)}
        >
          <b className="font-semibold text-ink">{one.name}</b>
          <span className="block text-[12px] text-ink-2">{one.use}</span>
        </button>
      ))}
    </div>
  );
}
