/** Copying tasks, or moving them to another project: what would be lost on the way is said first. */

import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { ask, client, newId, type Project, sentence } from "../data/api";
import { useWork } from "../data/hooks";
import { projectKey } from "../data/keys";
import { note } from "../data/notes";
import { Button, Field, Modal, Tick, Wrong } from "../parts/basics";
import { count } from "../parts/format";
import { Select } from "../parts/select";
import type { Changes } from "./changes";

export default function CopyTasks({
  ids,
  project,
  changes,
  close,
}: {
  ids: string[];
  project: Project;
  changes: Changes;
  close: (moved: boolean) => void;
}) {
  const { data: work = [] } = useWork();
  const [code, setCode] = useState(project.code);
  const [moves, setMoves] = useState(false);
  const [branch, setBranch] = useState(true);
  const [hanging, setHanging] = useState(true);
  const [links, setLinks] = useState(true);
  const [wrong, setWrong] = useState("");
  const [busy, setBusy] = useState(false);
  const made = useMemo(() => Object.fromEntries(ids.map((id) => [id, newId()])), [ids]);
  const body = { ids: made, code, parent_id: null, branch, hanging, links, moves };
  const elsewhere = code !== project.code;
  const preview = useQuery({
    queryKey: projectKey(project.code, "copies", body),
    queryFn: () =>
      ask(client.POST("/api/projects/{code}/copies/preview", { params: { path: { code: project.code } }, body })),
  });
  const lost = preview.data?.lost ?? [];
  const open = work.filter((one) => one.role === "lead" || one.role === "contributor");
  async function apply(event: React.FormEvent) {
    event.preventDefault();
    setBusy(true);
    try {
      await changes.copy(body);
      const what = count(ids.length, "task");
      note(`${moves ? "Moved" : "Copied"} ${what}${elsewhere ? ` to ${code}` : ""}.`);
      close(moves);
    } catch (error) {
      setWrong(sentence(error));
    } finally {
      setBusy(false);
    }
  }
  return (
    <Modal open onOpenChange={() => close(false)} title={`Copy or move ${count(ids.length, "task")}`}>
      <form onSubmit={apply}>
        <Field label="To the project">
          <Select
            className="w-full"
            value={code}
            onChange={(event) => {
              setCode(event.target.value);
              if (event.target.value === project.code) setMoves(false);
            }}
          >
            {open.map((one) => (
              <option key={one.code} value={one.code}>
                {one.code} {one.name}
              </option>
            ))}
          </Select>
        </Field>
        {elsewhere && (
          <fieldset className="mb-2">
            <legend className="sr-only">Copy or move</legend>
            {[false, true].map((value) => (
              <label key={String(value)} className="mr-5 inline-flex min-h-7 items-center gap-2">
                <input
                  type="radio"
                  name="moves"
                  className="accent-rose"
                  checked={moves === value}
                  onChange={() => setMoves(value)}
                />
                {value ? "move them there" : "copy them there"}
              </label>
            ))}
          </fieldset>
        )}
        <Tick checked={branch} onChange={setBranch}>
          with the tasks below
        </Tick>
        <Tick checked={hanging} onChange={setHanging}>
          with description, checklists and attachments{moves ? ", and what was said" : ""}
        </Tick>
        <Tick checked={links} onChange={setLinks}>
          with the links among them
        </Tick>
        {lost.length > 0 && (
          <div className="mt-2 border-l-[3px] border-ochre bg-ochre-soft px-3 py-2" role="status">
            <p className="font-semibold">What does not come along</p>
            {lost.map((line) => (
              <p key={line}>{line}</p>
            ))}
          </div>
        )}
        {elsewhere && preview.data && !lost.length && (
          <p className="mt-2 text-ink-2">Everything has its place there.</p>
        )}
        <Wrong text={wrong || (preview.error ? sentence(preview.error) : "")} />
        <div className="mt-4 flex gap-2">
          <Button look="go" type="submit" disabled={busy || (elsewhere && !preview.data)}>
            {moves ? "Move" : "Copy"}
          </Button>
          <Button look="quiet" onClick={() => close(false)}>
            Leave it
          </Button>
        </div>
      </form>
    </Modal>
  );
}
