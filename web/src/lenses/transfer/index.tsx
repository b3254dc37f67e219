/** Bringing tasks in from CSV: match the columns, see what cannot be read, then import all or nothing. */
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { ask, client, type Project, type Schemas, send, sentence } from "../../data/api";
import { note } from "../../data/notes";
import { refreshProject } from "../../data/rows";
import { remember } from "../../data/undo";
import { Button } from "../../parts/basics";
import { count } from "../../parts/say";

type Preview = Schemas["PreviewOut"];

function body(file: File, matching?: (string | null)[]) {
  const form = new FormData();
  form.append("file", file);
  if (matching) form.append("matching", JSON.stringify(matching));
  return form;
}

export default function Transfer({ project }: { project: Project }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [file, setFile] = useState<File | null>(null);
  const [preview, setPreview] = useState<Preview | null>(null);
  const [wrong, setWrong] = useState("");
  const [busy, setBusy] = useState(false);
  const path = { code: project.code };

  async function look(chosen: File, matching?: (string | null)[]) {
    setWrong("");
    setFile(chosen);
    try {
      const form = body(chosen, matching) as unknown as { file: string; matching?: string | null };
      setPreview(
        await ask(
          client.POST("/api/projects/{code}/csv/preview", {
            params: { path },
            body: form,
            bodySerializer: (one) => one as unknown as FormData,
          }),
        ),
      );
    } catch (error) {
      setWrong(sentence(error));
      if (!matching) setPreview(null);
    }
  }

  async function bring() {
    if (!file || !preview) return;
    setBusy(true);
    setWrong("");
    try {
      const form = body(file, preview.matching) as unknown as { file: string; matching: string };
      const done = await send((headers) =>
        client.POST("/api/projects/{code}/csv", {
          params: { path },
          body: form,
          bodySerializer: (one) => one as unknown as FormData,
          headers,
        }),
      );
      refreshProject(queries, project.code);
      remember(queries, { change: done.change, code: project.code, what: `Imported ${count(done.tasks, "task")}` });
      note(`Imported ${count(done.tasks, "task")} from ${file.name}`);
      navigate(`/p/${project.code}/outline`);
    } catch (error) {
      setWrong(sentence(error));
    } finally {
      setBusy(false);
    }
  }

  return (
    <div className="min-w-0 flex-1 overflow-auto px-3 py-4 sm:px-[18px]" role="region" aria-label="Import" tabIndex={0}>
      <h2 className="text-[19px]">Bring tasks in from a CSV file</h2>
      <p className="mb-3 max-w-2xl text-ink-2">
        The first line names the columns. Nesting comes from an outline number such as 1.2 or from a column that names
        the parent; people are found by name or e-mail. Nothing is written before you say so, and then all rows or none.
      </p>
      <label className="inline-flex h-[30px] cursor-pointer items-center border border-ink bg-ink px-3.5 font-semibold text-paper focus-within:outline-2 focus-within:outline-offset-1 focus-within:outline-rose">
        {file ? "Choose another file" : "Choose a file"}
        <input
          type="file"
          accept=".csv,.txt,.tsv,text/csv"
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
      {preview && file && (
        <>
          <Matching preview={preview} onChange={(matching) => look(file, matching)} />
          <p className="mt-4">
            <b className="font-semibold">{count(preview.tasks, "task")}</b> in the file, {preview.nested} of them
            nested.{" "}
            {preview.problems.length > 0 ? (
              <b className="font-semibold text-ember">
                {count(preview.problems.length + preview.more_problems, "cell")} cannot be read.
              </b>
            ) : (
              "Every cell can be read."
            )}
          </p>
          {preview.problems.length > 0 && <Problems preview={preview} />}
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
                <select
                  className="input w-36"
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
                </select>
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

function Problems({ preview }: { preview: Preview }) {
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
        {preview.problems.slice(0, 40).map((problem) => (
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
