/** Status reports of a project: the newest, what was told before, two side by side, and the draft of the next. */
import { useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Project } from "../data/api";
import { useMe, usePeople } from "../data/hooks";
import { Button, Empty, Failed, Loading } from "../parts/basics";
import { sayDay } from "../parts/format";
import { Health } from "../parts/health";
import { Select } from "../parts/select";
import { Tile } from "../parts/tile";
import { DraftReport } from "./draft";
import { type IndicatorKey, type Reports, type SectionKey, useReport, useReportActions, useReports } from "./reports";
import { ReportsSettings } from "./settings";
import { Figures, FinishTold, ToldBefore } from "./told";

export default function ProjectReports({ project, which }: { project: Project; which: string | undefined }) {
  const { data, error, refetch } = useReports(project.code);
  const number = which && /^\d+$/.test(which) ? Number(which) : null;
  return (
    <div className="min-w-0 flex-1 overflow-auto" role="region" aria-label="Status reports" tabIndex={0}>
      {error ? (
        <Failed error={error} retry={refetch} />
      ) : !data ? (
        <Loading what="the status reports" rows={8} />
      ) : which === "draft" && data.may_write ? (
        <DraftReport project={project} page={data} />
      ) : (
        <History project={project} page={data} number={number ?? data.reports[0]?.number ?? null} />
      )}
    </div>
  );
}

function History({ project, page, number }: { project: Project; page: Reports; number: number | null }) {
  const { now } = useMe();
  const [beside, setBeside] = useState<number | null>(null);
  const [settling, setSettling] = useState(false);
  const navigate = useNavigate();
  return (
    <div className="grid lg:grid-cols-[minmax(0,1.6fr)_minmax(0,1fr)]">
      <section className="min-w-0 px-3 py-4 sm:px-[18px] lg:border-r lg:border-rule-2" aria-label="The report">
        {number === null ? (
          <Empty title="Nothing was reported yet">
            A report drafts itself from the plan: how it stands, what was done, what comes next. You add the judgement.
          </Empty>
        ) : (
          <div className={beside === null ? "" : "grid gap-8 xl:grid-cols-2"}>
            <Published project={project} number={number} page={page} />
            {beside !== null && <Published project={project} number={beside} page={page} />}
          </div>
        )}
      </section>
      <aside className="px-3 py-4 sm:px-[18px]" aria-label="Other reports">
        {page.may_write && (
          <div className="mb-4 flex flex-wrap items-center gap-2">
            <Button look="go" onClick={() => navigate(`/p/${project.code}/reports/draft`)}>
              Write this week’s report
            </Button>
            <Button look="quiet" onClick={() => setSettling(!settling)} aria-expanded={settling}>
              What they hold
            </Button>
          </div>
        )}
        {page.due && (
          <p className={`mb-3 ${page.is_due ? "font-semibold text-ember" : "text-ink-2"}`}>
            The next is due {page.is_due ? "since" : "on"} {sayDay(page.due, now)}.
          </p>
        )}
        {settling && <ReportsSettings project={project} page={page} done={() => setSettling(false)} />}
        <ToldBefore code={project.code} page={page} />
        <FinishTold page={page} />
        {page.reports.length > 1 && number !== null && (
          <>
            <h2 className="mt-5 mb-1 text-[15px]">All reports</h2>
            <ul>
              {page.reports.map((one) => (
                <li key={one.id} className="flex min-h-8 items-center gap-2 border-b border-rule">
                  <Link
                    to={`/p/${project.code}/reports/${one.number}`}
                    aria-current={one.number === number ? "page" : undefined}
                    className={`min-w-0 flex-1 truncate hover:underline ${one.number === number ? "font-semibold" : ""}`}
                  >
                    {one.number}, {sayDay(one.day, now)}
                    {one.corrects !== null && <span className="text-ink-2">, corrects {one.corrects}</span>}
                  </Link>
                  {one.indicators.overall && <Health value={one.indicators.overall.health} />}
                </li>
              ))}
            </ul>
            <label className="mt-3 flex items-center gap-2">
              <span className="text-ink-2">Side by side with</span>
              <Select
                className="w-40"
                value={beside ?? ""}
                onChange={(event) => setBeside(event.target.value ? Number(event.target.value) : null)}
              >
                <option value="">none</option>
                {page.reports
                  .filter((one) => one.number !== number)
                  .map((one) => (
                    <option key={one.id} value={one.number}>
                      {one.number}, {sayDay(one.day, now)}
                    </option>
                  ))}
              </Select>
            </label>
          </>
        )}
      </aside>
    </div>
  );
}

function Indicators({ of, names }: { of: Reports["reports"][number]["indicators"]; names: Record<string, string> }) {
  return (
    <dl className="grid grid-cols-2 border border-rule-2 sm:grid-flow-col sm:auto-cols-fr sm:grid-cols-none">
      {(Object.entries(of) as [IndicatorKey, NonNullable<(typeof of)[IndicatorKey]>][]).map(([key, one]) => (
        <div key={key} className="border-rule-2 px-2.5 py-2 sm:not-last:border-r">
          <dt className="text-[12px] text-ink-2">{names[key]}</dt>
          <dd>
            <Health value={one.health} />
            <span className="block text-[12px] text-ink-2">{one.why}</span>
            {one.reason && <span className="block text-[12px]">told so: {one.reason}</span>}
          </dd>
        </div>
      ))}
    </dl>
  );
}

function Published({ project, number, page }: { project: Project; number: number; page: Reports }) {
  const { now, person } = useMe();
  const { byId } = usePeople();
  const { data, error, refetch } = useReport(project.code, number);
  const { read } = useReportActions(project.code);
  const mine = data?.person_id === person.id;
  const isRead = data?.readers.includes(person.id);
  useEffect(() => {
    if (data && !mine && !isRead) read(number);
  }, [data, mine, isRead, number, read]);
  if (error) return <Failed error={error} retry={refetch} />;
  if (!data) return <Loading what="the report" rows={8} />;
  const file = (kind: string) => `/api/projects/${project.code}/reports/${number}/file.${kind}`;
  const sent = data.people.filter((one) => !data.readers.includes(one) && one !== data.person_id);
  return (
    <article aria-label={`Status report ${number}`}>
      <div className="mb-2 flex flex-wrap items-baseline gap-x-3">
        <h2 className="text-[18px]">
          Status report {number}, {sayDay(data.day, now)}
        </h2>
        <span className="text-ink-2">
          {sayDay(data.since, now)} to {sayDay(data.day, now)}, by {byId.get(data.person_id)?.short ?? "somebody"}
          {data.corrects !== null && <b className="font-semibold text-ochre">, corrects {data.corrects}</b>}
          {data.corrected_by !== null && (
            <Link
              to={`/p/${project.code}/reports/${data.corrected_by}`}
              className="font-semibold text-ochre hover:underline"
            >
              , corrected by report {data.corrected_by}
            </Link>
          )}
        </span>
        <span className="ml-auto text-[12.5px] text-ink-2">
          as{" "}
          <a href={file("pdf")} className="underline">
            PDF
          </a>{" "}
          or{" "}
          <a href={file("md")} className="underline">
            Markdown
          </a>
          {page.may_write && (
            <>
              {" · "}
              <Link to={`/p/${project.code}/reports/draft?corrects=${number}`} className="text-rose hover:underline">
                correct it
              </Link>
            </>
          )}
        </span>
      </div>
      <Indicators of={data.indicators} names={page.indicators} />
      <Figures told={data.told} />
      {(Object.entries(data.texts) as [SectionKey, string][]).map(
        ([key, text]) =>
          text && (
            <section key={key} className="mt-4" aria-label={data.names[key]}>
              <h3 className="text-[14px]">{data.names[key]}</h3>
              <p className="max-w-[70ch] whitespace-pre-line">{text}</p>
              <Sources code={project.code} sentences={data.sentences[key] ?? []} />
            </section>
          ),
      )}
      <section className="mt-5" aria-label="Read by">
        <h3 className="mb-1 text-[14px]">Read by</h3>
        <p className="flex flex-wrap items-center gap-1.5 text-ink-2">
          {data.readers.map((one) => (
            <Tile key={one} person={byId.get(one)} size={22} />
          ))}
          {!data.readers.length && "nobody yet"}
          {sent.length > 0 && (
            <span>; not yet by {sent.map((one) => byId.get(one)?.short ?? "somebody").join(", ")}</span>
          )}
        </p>
      </section>
    </article>
  );
}

/** From what the sentences of a section were made. */
export function Sources({
  code,
  sentences,
}: {
  code: string;
  sentences: { text: string; sources: { words: string; task_id: string | null; number: number | null }[] }[];
}) {
  const traced = sentences.filter((one) => one.sources.length);
  if (!traced.length) return null;
  return (
    <ul aria-label="Sources" className="mt-0.5 text-[12px] text-ink-2">
      {traced.map((one, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: sentences have no name but their place
        <li key={index} className="flex gap-x-2">
          <span className="min-w-0 flex-1 truncate" title={one.text}>
            {one.text}
          </span>
          <span className="flex-none">
            from <SourceList code={code} sources={one.sources} />
          </span>
        </li>
      ))}
    </ul>
  );
}

function SourceList({
  code,
  sources,
}: {
  code: string;
  sources: { words: string; task_id: string | null; number: number | null }[];
}) {
  return sources.map((one, index) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: sources have no name but their place
    <span key={index}>
      {index > 0 && " · "}
      {one.task_id ? (
        <Link to={`/p/${code}/outline?open=${one.task_id}`} className="hover:underline">
          {code} {one.number} {one.words}
        </Link>
      ) : (
        one.words
      )}
    </span>
  ));
}
