/** The report of today: filled from the plan, judged and written by a person, kept as it is typed. */
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { type Project, sentence } from "../data/api";
import { useMe, usePeople } from "../data/hooks";
import { Button, Failed, Loading, Wrong } from "../parts/basics";
import { sayDay } from "../parts/format";
import { Health } from "../parts/health";
import { PeopleChips } from "../parts/people-chips";
import { Select } from "../parts/select";
import { useKeptText } from "../talk/folio/kept-text";
import { Sources } from "./index";
import {
  type Draft,
  draftKey,
  type IndicatorKey,
  type Judged,
  type Report,
  type Reports,
  type SectionKey,
  useDraftReport,
  useReport,
  useReportActions,
} from "./reports";
import { Figures, FinishTold, ToldBefore } from "./told";

interface Typed {
  day: string;
  texts: Partial<Record<SectionKey, string>>;
  judged: Partial<Record<IndicatorKey, { health: Judged; reason: string }>>;
  people: string[];
}

const HEALTHS: Judged[] = ["steady", "strained", "slipping"];
const HINTS: Partial<Record<SectionKey, string>> = {
  stands: "What would you say in one breath?",
  asked: "Is there a decision that only the readers can make?",
};

export function DraftReport({ project, page }: { project: Project; page: Reports }) {
  const [params] = useSearchParams();
  const corrects = Number(params.get("corrects")) || null;
  const { data, error, refetch } = useDraftReport(project.code, corrects);
  const corrected = useReport(project.code, corrects).data;
  if (error) return <Failed error={error} retry={refetch} />;
  if (!data || (corrects && !corrected)) return <Loading what="the draft" rows={10} />;
  return <Writing key={corrects} project={project} page={page} draft={data} corrected={corrected} />;
}

/** What a correction begins with: what was written, judged and sent. */
function typedBefore(draft: Draft, corrected: Report | undefined, always: string[]): Typed {
  const judged = Object.entries(corrected?.indicators ?? {}).filter(([, one]) => one?.reason);
  return {
    day: draft.day,
    texts: corrected?.texts ?? {},
    judged: Object.fromEntries(judged.map(([key, one]) => [key, { health: one.health, reason: one.reason }])),
    people: corrected?.people.filter((one) => !always.includes(one)) ?? [],
  };
}

interface Props {
  project: Project;
  page: Reports;
  draft: Draft;
  corrected: Report | undefined;
}

function Writing({ project, page, draft, corrected }: Props) {
  const { now } = useMe();
  const { byId } = usePeople();
  const corrects = corrected?.number ?? null;
  const always = page.settings.people;
  const [kept, keep] = useKeptText(`report.${project.code}${corrects ? `.${corrects}` : ""}`);
  const held = kept ? (JSON.parse(kept) as Typed) : null;
  const typed: Typed = held ?? typedBefore(draft, corrected, always);
  const set = (part: Partial<Typed>) => keep(JSON.stringify({ ...typed, ...part }));
  const queries = useQueryClient();
  const { publish } = useReportActions(project.code);
  const navigate = useNavigate();
  const [wrong, setWrong] = useState("");
  const [sending, setSending] = useState(false);
  const textOf = (section: Draft["sections"][number]) =>
    typed.texts[section.key] ?? section.sentences.map((one) => one.text).join("\n");
  async function submit() {
    setSending(true);
    try {
      const number = await publish({
        texts: Object.fromEntries(draft.sections.map((one) => [one.key, textOf(one)])),
        judged: typed.judged,
        corrects,
        people: typed.people,
        facts: draft.facts,
      });
      keep(null);
      navigate(`/p/${project.code}/reports/${number}`);
    } catch (error) {
      setWrong(sentence(error));
      setSending(false);
      queries.invalidateQueries({ queryKey: draftKey(project.code) }); // where the facts are others by now they are shown
    }
  }
  return (
    <form
      aria-label="Status report"
      className="grid lg:grid-cols-[minmax(0,1.6fr)_minmax(0,1fr)]"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      <div className="min-w-0 px-3 py-4 sm:px-[18px] lg:border-r lg:border-rule-2">
        <div className="mb-2 flex flex-wrap items-center gap-x-3 gap-y-1">
          <h2 className="text-[18px]">
            {corrects ? `Correction of report ${corrects}` : `Status report of ${sayDay(draft.day, now)}`}
          </h2>
          <span className="text-ink-2">
            about {sayDay(draft.since, now)} to {sayDay(draft.day, now)}
          </span>
          <span className="ml-auto flex gap-2">
            <Button look="quiet" onClick={() => navigate(`/p/${project.code}/reports`)}>
              Later
            </Button>
            <Button look="go" type="submit" disabled={sending}>
              Publish
            </Button>
          </span>
        </div>
        <p className="mb-2 flex flex-wrap items-center gap-1.5 text-[12.5px]">
          <span className="text-ink-2">Goes to</span>
          {always.map((one) => (
            <span key={one} className="border border-rule-2 px-1.5">
              {byId.get(one)?.short ?? "somebody"}
            </span>
          ))}
          <PeopleChips
            people={typed.people}
            set={(people) => set({ people })}
            without={(name) => `Do not send it to ${name}`}
            add="Send it to somebody"
            more="+ and to …"
          />
          <span className="ml-auto text-ink-2">kept as you type</span>
        </p>
        {held && held.day !== draft.day && (
          <p
            className="mb-2 flex flex-wrap gap-x-3 border-l-[3px] border-ochre bg-ochre-soft px-3 py-1.5"
            role="status"
          >
            <span>You began this on {sayDay(held.day, now)}. What you wrote is here; all else is of today.</span>
            <button type="button" className="font-semibold hover:underline" onClick={() => keep(null)}>
              Start anew
            </button>
          </p>
        )}
        <Wrong text={wrong} />
        <Judging draft={draft} names={page.indicators} typed={typed} set={set} />
        <Figures told={draft.told} />
        {draft.sections.map((section) => (
          <div key={section.key} className="mt-3">
            <label className="block">
              <span className="label">{section.name}</span>
              <textarea
                className="input h-auto! w-full resize-y py-1.5"
                aria-label={section.name}
                rows={Math.max(2, textOf(section).split("\n").length)}
                maxLength={10000}
                placeholder={HINTS[section.key] ?? "Nothing to tell."}
                value={textOf(section)}
                onChange={(event) => set({ texts: { ...typed.texts, [section.key]: event.target.value } })}
              />
            </label>
            <Sources code={project.code} sentences={section.sentences} />
          </div>
        ))}
      </div>
      <aside className="px-3 py-4 sm:px-[18px]" aria-label="What was told before">
        <ToldBefore code={project.code} page={page} />
        <FinishTold page={page} />
        <h2 className="mt-5 mb-1 text-[15px]">How indicators are proposed</h2>
        <p className="text-[12.5px] text-ink-2">{draft.rules}</p>
      </aside>
    </form>
  );
}

/** Each indicator as it is proposed; another choice asks for a reason. */
function Judging({
  draft,
  names,
  typed,
  set,
}: {
  draft: Draft;
  names: Record<string, string>;
  typed: Typed;
  set: (part: Partial<Typed>) => void;
}) {
  return (
    <div className="grid gap-y-1 border border-rule-2 sm:grid-flow-col sm:auto-cols-fr">
      {(Object.entries(draft.indicators) as [IndicatorKey, NonNullable<Draft["indicators"][IndicatorKey]>][]).map(
        ([key, one]) => {
          const judged = typed.judged[key] ?? { health: one.proposed, reason: "" };
          const judge = (part: Partial<typeof judged>) =>
            set({ judged: { ...typed.judged, [key]: { ...judged, ...part } } });
          return (
            <div key={key} className="border-rule-2 px-2.5 py-2 sm:not-last:border-r">
              <span className="flex items-center gap-2 text-[12px] text-ink-2">
                {names[key]} <span className="ml-auto" />
                <Health value={judged.health} />
              </span>
              <Select
                aria-label={`${names[key]}, as you judge it`}
                className="my-1 w-full"
                value={judged.health}
                onChange={(event) => judge({ health: event.target.value as Judged })}
              >
                {[...new Set([one.proposed, ...HEALTHS])].map((each) => (
                  <option key={each} value={each}>
                    {each.replace("_", " ")}
                    {each === one.proposed ? ", proposed" : ""}
                  </option>
                ))}
              </Select>
              <span className="block text-[12px] text-ink-2">{one.why}</span>
              {judged.health !== one.proposed && (
                <input
                  className="input mt-1 w-full"
                  aria-label={`Why ${names[key]} is told otherwise`}
                  placeholder="why it is told otherwise"
                  maxLength={500}
                  value={judged.reason}
                  onChange={(event) => judge({ reason: event.target.value })}
                />
              )}
            </div>
          );
        },
      )}
    </div>
  );
}
