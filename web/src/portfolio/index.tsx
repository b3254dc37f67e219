import type { Project } from "../data/api";
import { may } from "../data/hooks";
import { Empty, Failed, Loading, Tick } from "../parts/basics";
import { count } from "../parts/format";
import { AsTable } from "../parts/table-file";
import { useAddress } from "../parts/use-address";
import { OpenedTask, useOpened } from "../shell/opened-task";
import { Bars } from "./bars";
import { Cards } from "./cards";
import { ItemList } from "./list";
import { JoinPart } from "./part-head";
import { type PortfolioAnswer, type Shown, usePortfolio } from "./portfolio";

const VIEWS: [Shown, string][] = [
  ["board", "board"],
  ["list", "list"],
  ["schedule", "schedule"],
];

export default function Portfolio({ project }: { project: Project }) {
  const { data, error, refetch } = usePortfolio(project.code);
  const [params, set] = useAddress();
  const { id: opened, open } = useOpened();
  const shown = VIEWS.find(([one]) => one === params.get("as"))?.[0] ?? "board";
  const troubled = params.get("only") === "troubled";
  const manages = may(project, "manage");
  const canEdit = may(project, "edit");
  if (error) return <Failed error={error} retry={refetch} />;
  if (!data) return <Loading what="the portfolio" rows={14} />;
  const items = troubled ? data.items.filter((one) => one.troubled) : data.items;
  const view = { project, answer: data, items, canEdit, manages, opened, open };
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col">
        <div className="flex flex-none flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule bg-paper px-3 py-1.5">
          <span role="group" aria-label="Shown as" className="flex">
            {VIEWS.map(([one, words]) => (
              <button
                key={one}
                type="button"
                aria-pressed={shown === one}
                onClick={() => set({ as: one === "board" ? null : one })}
                className={`border border-rule-2 px-2.5 py-0.5 not-first:-ml-px ${shown === one ? "bg-ink text-paper" : "bg-sheet hover:bg-band"}`}
              >
                {words}
              </button>
            ))}
          </span>
          <Tick checked={troubled} onChange={(on) => set({ only: on ? "troubled" : null })}>
            only what is late, held, slipping or past what was promised
          </Tick>
          <span className="text-[12px] text-ink-2">
            {count(items.length, "item")} of {count(data.parts.length, "part")}
            {hiddenWords(data)}
          </span>
          <span className="ml-auto text-[12px] text-ink-2">
            <AsTable address={(kind) => `/api/projects/${project.code}/portfolio.${kind}`} /> or{" "}
            <a
              className="underline decoration-rule-2 hover:text-ink"
              href={`/api/projects/${project.code}/portfolio.pdf`}
              download
            >
              PDF
            </a>
          </span>
          {manages && <JoinPart project={project} parts={data.parts} />}
        </div>
        {!data.parts.length && !data.items.length && !data.hidden_parts ? (
          <Empty title="See many projects at once">
            <p className="mb-3">
              A portfolio joins projects and shows their deliverables, with what holds each up. Larger items of its own
              are tied to deliverables of several projects, and go on with them.
            </p>
            {manages && <JoinPart project={project} parts={data.parts} />}
          </Empty>
        ) : shown === "list" ? (
          <ItemList {...view} />
        ) : shown === "schedule" ? (
          <Bars {...view} />
        ) : (
          <Cards {...view} />
        )}
      </div>
      <OpenedTask />
    </>
  );
}

/** How much more there is that one may not see. */
const hiddenWords = ({ hidden_parts, hidden_items }: PortfolioAnswer) =>
  hidden_parts ? `, and ${count(hidden_parts, "part")} with ${count(hidden_items, "item")} that you may not see` : "";
