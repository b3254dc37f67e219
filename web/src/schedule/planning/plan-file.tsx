/** The plan file in and out, and calendars that other programs subscribe to. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { ask, client, type Schemas, send, sentence } from "../../data/api";
import { withDraft } from "../../data/draft-here";
import { mayShape, useMe } from "../../data/hooks";
import { refreshProject } from "../../data/keys";
import { note } from "../../data/notes";
import { remember } from "../../data/undo";
import { useJob } from "../../data/use-job";
import { Button } from "../../parts/basics";
import { count, sayDay } from "../../parts/format";
import { LeftOut } from "../../parts/left-out";
import { Progress } from "../../parts/progress";
import { fileForm } from "../../parts/table-file";
import { type Answers, answersIn, Names } from "../../tasks/csv/names";
import { type PlanningProps, Section } from ".";

export function Exchange({ project }: PlanningProps) {
  const { code } = project;
  const queries = useQueryClient();
  const input = useRef<HTMLInputElement>(null);
  const [wrong, setWrong] = useState("");
  const [seen, setSeen] = useState<{ file: File; preview: Schemas["PlanPreviewOut"] } | null>(null);
  const params = { path: { code } };
  function broughtIn(tasks: number, change: string) {
    remember(queries, { change, code, what: `Brought in ${count(tasks, "task")}` });
    note(`Brought in ${count(tasks, "task")}`);
    setSeen(null);
    refreshProject(queries, code);
  }
  const long = useJob(code, "plan file", (job) => {
    if (job.stage === "refused") setWrong(job.sentence ?? "");
    else if (job.stage === "done") broughtIn(job.tasks ?? 0, job.change);
  });
  /** What names nobody here has, or holds what is left out, is shown before anything is written. */
  async function look(file: File) {
    setSeen(null);
    try {
      const preview = await ask(client.POST("/api/projects/{code}/plan.json/preview", { params, ...fileForm(file) }));
      setWrong("");
      if (preview.unknown.length || preview.left_out.length) setSeen({ file, preview });
      else bring(file, {});
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  async function bring(file: File, answers: Answers) {
    const sent = fileForm(file);
    const body: FormData = sent.body;
    body.append("answers", JSON.stringify(answers));
    try {
      const done = await send((headers) => client.POST("/api/projects/{code}/plan.json", { params, ...sent, headers }));
      setWrong("");
      if (done.job) long.follow(done.job);
      else broughtIn(done.tasks ?? 0, done.change);
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <Section title="Exchange">
      <p className="mb-2 text-ink-2">
        A plan file holds tasks, links, constraints, calendars and bookings as open JSON: keep it under version control,
        or compute it from the command line without a server.
      </p>
      <LeftOut code={code} of="plan" />
      <div className="flex flex-wrap gap-2">
        <a
          className="inline-flex h-[30px] items-center border border-ink bg-sheet px-3.5 font-semibold hover:bg-band"
          href={withDraft(`/api/projects/${code}/plan.json`)}
          download
        >
          Save as a plan file
        </a>
        {mayShape(project) && (
          <Button onClick={() => input.current?.click()}>
            Bring a plan file in
            <input
              ref={input}
              type="file"
              accept=".json,application/json"
              className="hidden"
              aria-label="Plan file"
              onChange={(event) => {
                const file = event.target.files?.[0];
                event.target.value = "";
                if (file) look(file);
              }}
            />
          </Button>
        )}
      </div>
      {long.job && <Progress doing={long.job.doing || "waiting"} percent={long.job.percent} onCancel={long.cancel} />}
      {wrong && (
        <p role="alert" className="mt-2 font-semibold text-ember">
          {wrong}
        </p>
      )}
      {seen && (
        <>
          <Names
            preview={seen.preview}
            onChange={(unknown) => setSeen({ ...seen, preview: { ...seen.preview, unknown } })}
          />
          {seen.preview.left_out.length > 0 && (
            <p className="mt-3">Not imported: {seen.preview.left_out.join("; ")}.</p>
          )}
          <div className="mt-3 flex gap-2">
            <Button look="go" onClick={() => bring(seen.file, answersIn(seen.preview))}>
              Import {count(seen.preview.tasks, "task")}
            </Button>
            <Button onClick={() => setSeen(null)}>Cancel</Button>
          </div>
        </>
      )}
      <Subscriptions code={code} />
    </Section>
  );
}

/** Addresses under which a calendar program follows the project; whoever knows one can read it. */
function Subscriptions({ code }: { code: string }) {
  const { now } = useMe();
  const queries = useQueryClient();
  const key = ["subscriptions"];
  const { data } = useQuery({ queryKey: key, queryFn: () => ask(client.GET("/api/subscriptions")) });
  const [made, setMade] = useState<{ id: string; address: string } | null>(null);
  const tell = (error: unknown) => note(sentence(error), "wrong");
  async function make(of: string | null) {
    try {
      const one = await send((headers) => client.POST("/api/subscriptions", { body: { code: of }, headers }));
      setMade({ id: one.id, address: one.address ?? "" });
      queries.invalidateQueries({ queryKey: key });
    } catch (error) {
      tell(error);
    }
  }
  async function withdraw(id: string) {
    try {
      await send((headers) =>
        client.DELETE("/api/subscriptions/{subscription_id}", { params: { path: { subscription_id: id } }, headers }),
      );
      if (made?.id === id) setMade(null);
      queries.invalidateQueries({ queryKey: key });
    } catch (error) {
      tell(error);
    }
  }
  return (
    <>
      <h3 className="mt-5 mb-1 font-sans text-[13px]">Calendars to subscribe to</h3>
      <p className="mb-2 text-[12.5px] text-ink-2">
        A calendar program can follow dated work by an address with a secret in it. The address is shown once and ends
        after a year; withdraw it when it has come into the wrong hands, which cannot be taken back.
      </p>
      <div className="flex flex-wrap gap-2">
        <Button onClick={() => make(code)}>Address for {code}</Button>
        <Button onClick={() => make(null)}>Address for my own work</Button>
      </div>
      {made && (
        <input
          readOnly
          className="input mt-2 w-full font-mono text-[12px]"
          aria-label="Address of the calendar"
          value={made.address}
          onFocus={(event) => event.target.select()}
        />
      )}
      <ul className="mt-2">
        {data?.map((one) => (
          <li key={one.id} className="flex min-h-8 items-center gap-3 border-t border-rule">
            <span className="flex-1">
              {one.code ?? (one.project ? "A project that you no longer see" : "My own work")}{" "}
              <span className="text-[12.5px] text-ink-2">
                made {sayDay(one.at, now)}, {new Date(one.until) < now ? "ended" : "ends"} {sayDay(one.until, now)},{" "}
                {one.read ? `last read ${sayDay(one.read, now)}` : "not read yet"}
              </span>
            </span>
            <button type="button" className="text-rose hover:underline" onClick={() => withdraw(one.id)}>
              Withdraw
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}
