/** Bringing tasks in from a table, CSV or XLSX: match the columns and names, see what cannot be read, then import all or nothing. */
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { ask, client, type Project, type Schemas, send, sentence } from "../../data/api";
import { withDraft } from "../../data/draft-here";
import { refreshProject } from "../../data/keys";
import { note } from "../../data/notes";
import { remember } from "../../data/undo";
import { useJob } from "../../data/use-job";
import { Button } from "../../parts/basics";
import { count } from "../../parts/format";
import { LeftOut } from "../../parts/left-out";
import { Progress } from "../../parts/progress";
import { Select } from "../../parts/select";
import { AsTable, fileForm, TABLE_FILES } from "../../parts/table-file";
import { type Answers, answersIn, Names } from "./names";

export type Preview = Schemas["PreviewOut"];
function form(file: File, matching: (string | null)[] | undefined, answers: Answers) {
  const sent = fileForm(file);
  const body: FormData = sent.body;
  if (matching) body.append("matching", JSON.stringify(matching));
  body.append("answers", JSON.stringify(answers));
  return sent;
}

export default function Transfer({ project }: { project: Project }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [file, setFile] = useState<File | null>(null);
  const [preview, setPreview] = useState<Preview | null>(null);
  const [wrong, setWrong] = useState("");
  const [busy, setBusy] = useState(false);
  const params = { path: { code: project.code } };

  const looking = useJob(
    project.code,
    "csv preview",
    (job) => {
      setBusy(false);
      if (job.stage === "refused") setWrong(job.sentence ?? "");
      else if (job.stage === "done") setPreview(job.preview ?? null);
    },
    false,
  ); // a file that was chosen on an earlier visit is not there any more
  const bringing = useJob(project.code, "csv import", (job) => {
    setBusy(false);
    if (job.stage === "refused") setWrong(job.sentence ?? "");
    else if (job.stage === "cancelled") note("Cancelled: nothing was imported");
    else imported(job.tasks ?? 0, job.change);
  });
  const job = looking.job ?? bringing.job;

  async function look(chosen: File, matching?: (string | null)[], answers: Answers = {}) {
    setWrong("");
    setFile(chosen);
    try {
      const seen = await ask(
        client.POST("/api/projects/{code}/csv/preview", { params, ...form(chosen, matching, answers) }),
      );
      if (seen.job) {
        setBusy(true);
        await looking.follow(seen.job);
      } else setPreview(seen.preview ?? null);
    } catch (error) {
      setWrong(sentence(error));
      if (!matching) setPreview(null);
    }
  }

  function imported(tasks: number, change: string) {
    const words = `Imported ${count(tasks, "task")}`;
    refreshProject(queries, project.code);
    remember(queries, { change, code: project.code, what: words });
    note(words);
    navigate(`/p/${project.code}/outline`);
  }

  async function bring() {
    if (!file || !preview) return;
    setBusy(true);
    setWrong("");
    try {
      const done = await send((headers) =>
        client.POST("/api/projects/{code}/csv", {
          params,
          ...form(file, preview.matching, answersIn(preview)),
          headers,
        }),
      );
      if (done.job) return void bringing.follow(done.job);
      imported(done.tasks ?? 0, done.change);
    } catch (error) {
      setWrong(sentence(error));
    }
    setBusy(false);
  }

  return (
    <div className="min-w-0 flex-1 overflow-auto px-3 py-4 sm:px-[18px]" role="region" aria-label="Import" tabIndex={0}>
      <h2 className="text-[19px]">Bring tasks in from a table</h2>
      <p className="mb-3 max-w-2xl text-ink-2">
        CSV, or the first sheet of an XLSX spreadsheet. The first line names the columns. Nesting comes from an outline
        number such as 1.2 or from a column that names the parent; people are found by name or e-mail. Nothing is
        written before you say so, and then all rows or none. What is{" "}
        <AsTable what="taken out " address={(kind) => withDraft(`/api/projects/${project.code}/tasks.${kind}`)} /> with
        all its columns comes in again as it was.
      </p>
      <LeftOut code={project.code} of="table" />
      <label
        className={`inline-flex h-[30px] cursor-pointer items-center border border-ink px-3.5 font-semibold focus-within:outline-2 focus-within:outline-offset-1 focus-within:outline-rose ${preview ? "bg-sheet" : "bg-ink text-paper"}`}
      >
        {file ? "Choose another file" : "Choose a file"}
        <input
          type="file"
          accept={TABLE_FILES}
          className="sr-only"
          onChange={(event) => {
            const chosen = event.target.files?.[0];
            if (chosen) look(chosen);
            event.target.value = "";
          }}
        />
      </label>
      {file && <span className="ml-3 text-ink-2">{file.name}</span>}
      {wrong && (
        <p role="alert" className="mt-3 max-w-2xl border-l-[3px] border-ember bg-ember-soft p-3">
          {wrong}
        </p>
      )}
      {job && (
        <Progress
          doing={job.doing || "waiting"}
          percent={job.percent}
          onCancel={looking.job ? looking.cancel : bringing.cancel}
        />
      )}
      {preview && file && (
        <>
          <Matching preview={preview} onChange={(matching) => look(file, matching, answersIn(preview))} />
          <Names preview={preview} onChange={(unknown) => setPreview({ ...preview, unknown })} />
          <Found preview={preview} />
          <Button
            look="go"
            className="mt-4"
            disabled={busy || preview.problems.length > 0 || !preview.matching.includes("title")}
            onClick={bring}
          >
            {busy ? "Importing" : `Import ${count(preview.tasks, "task")}`}
          </Button>
          {preview.problems.length > 0 && (
            <p className="mt-1.5 text-ink-2">Mend the file, or leave the column out, and choose it again.</p>
          )}
        </>
      )}
    </div>
  );
}

/** What the file says, in sentences: how much it brings, what cannot be read, what is not kept as it stands. */
function Found({ preview }: { preview: Preview }) {
  return (
    <>
      <p className="mt-4">
        <b className="font-semibold">{count(preview.tasks, "task")}</b> in the file, {preview.nested} of them nested.{" "}
        {preview.problems.length > 0 ? (
          <b className="font-semibold text-ember">
            {count(preview.problems.length + preview.more_problems, "cell")} cannot be read.
          </b>
        ) : (
          "Every cell can be read."
        )}
      </p>
      {preview.problems.length > 0 && <Problems problems={preview.problems} />}
      {preview.remarks.length > 0 && (
        <>
          <p className="mt-3">{count(preview.remarks.length, "number")} with more decimals than are kept.</p>
          <Problems problems={preview.remarks} />
        </>
      )}
    </>
  );
}

function Matching({ preview, onChange }: { preview: Preview; onChange: (matching: (string | null)[]) => void }) {
  return (
    <div className="mt-4 overflow-x-auto">
      <table className="border-collapse">
        <thead>
          <tr>
            {preview.heads.map((head, index) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: columns keep their place
              <th key={index} className="border border-rule-2 bg-paper p-1.5 text-left align-top font-normal">
                <span className="mb-1 block max-w-44 truncate font-semibold" title={head}>
                  {head || `Column ${index + 1}`}
                </span>
                <Select
                  className="w-36"
                  aria-label={`Field for ${head || `column ${index + 1}`}`}
                  value={preview.matching[index] ?? ""}
                  onChange={(event) =>
                    onChange(preview.matching.map((name, at) => (at === index ? event.target.value || null : name)))
                  }
                >
                  <option value="">leave out</option>
                  {Object.entries(preview.fields).map(([name, words]) => (
                    <option key={name} value={name}>
                      {words}
                    </option>
                  ))}
                </Select>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {preview.first_rows.map((cells, at) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: rows of a file keep their place
            <tr key={at}>
              {preview.heads.map((_, index) => (
                <td
                  // biome-ignore lint/suspicious/noArrayIndexKey: columns keep their place
                  key={index}
                  className={`max-w-44 truncate border border-rule p-1.5 ${preview.matching[index] ? "" : "text-ink-3"}`}
                >
                  {cells[index]}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Problems({ problems }: { problems: Preview["problems"] }) {
  return (
    <table className="mt-2 max-w-3xl">
      <thead>
        <tr className="text-left text-[12px] text-ink-2">
          <th className="pr-4 font-normal">Line</th>
          <th className="pr-4 font-normal">Column</th>
          <th className="font-normal">Why</th>
        </tr>
      </thead>
      <tbody>
        {problems.slice(0, 40).map((problem) => (
          <tr key={`${problem.line}${problem.column}${problem.reason}`} className="border-t border-rule">
            <td className="py-1 pr-4">{problem.line}</td>
            <td className="py-1 pr-4">{problem.column}</td>
            <td className="py-1">{problem.reason}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
