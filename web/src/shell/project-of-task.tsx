/** Making a project out of a task. */

import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { ask, client, newId, type Problem, send, type TaskRow } from "../data/api";
import { useMe } from "../data/hooks";
import { allKey } from "../data/keys";
import { Button, Field, Modal, Wrong } from "../parts/basics";
import { DateField } from "../parts/dates/field";

export default function ProjectOfTask({ row, close }: { row: TaskRow; close: () => void }) {
  const { now } = useMe();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [name, setName] = useState(row.title);
  const [code, setCode] = useState("");
  const [start, setStart] = useState((row.start ?? now.toISOString()).slice(0, 10));
  const [wrong, setWrong] = useState<Problem | null>(null);
  useEffect(() => {
    ask(client.GET("/api/project-codes", { params: { query: { name: row.title } } })).then(
      (free) => setCode(free.code),
      () => {},
    );
  }, [row.title]);
  async function start_it(event: React.FormEvent) {
    event.preventDefault();
    try {
      const made = await send((headers) =>
        client.POST("/api/tasks/{task_id}/project", {
          params: { path: { task_id: row.id } },
          body: { id: newId(), code, name, start_day: start, private: false },
          headers,
        }),
      );
      queries.invalidateQueries({ queryKey: allKey("work") });
      navigate(`/p/${made.code}/outline`);
    } catch (error) {
      setWrong(error as Problem);
    }
  }
  return (
    <Modal open onOpenChange={close} title="Make it a project">
      <form onSubmit={start_it}>
        <p className="mb-3 text-ink-2">
          The tasks below it and what is left to tick become tasks there. This task stays, and says where its project
          is.
        </p>
        <Field label="Name">
          <input className="input w-full" value={name} onChange={(event) => setName(event.target.value)} />
        </Field>
        <div className="grid grid-cols-2 gap-x-3">
          <Field label="Code" error={wrong?.field === "code" ? wrong.sentence : undefined}>
            <input className="input w-full" value={code} onChange={(event) => setCode(event.target.value)} />
          </Field>
          <Field label="Starts on">
            <DateField required label="Starts on" className="w-full" value={start} onChange={setStart} />
          </Field>
        </div>
        <Wrong text={wrong && wrong.field !== "code" ? wrong.sentence : ""} />
        <Button look="go" type="submit" disabled={!name.trim() || !code.trim()}>
          Start the project
        </Button>
      </form>
    </Modal>
  );
}
