/** Keeping a task as a blank, with what is to be ticked and the tasks below it. */
import { useQueryClient } from "@tanstack/react-query";
import { client, newId, type Project, type TaskRow } from "../data/api";
import { refreshProject } from "../data/keys";
import { note } from "../data/notes";
import { sendUndoable } from "../data/undo";
import { Modal } from "../parts/basics";
import { AddByName } from "../parts/form";

export default function KeepBlank({ project, row, close }: { project: Project; row: TaskRow; close: () => void }) {
  const queries = useQueryClient();
  const { code } = project;
  const keep = async (name: string) => {
    await sendUndoable(queries, code, `Kept the blank ${name}`, (headers) =>
      client.POST("/api/projects/{code}/blanks", {
        params: { path: { code } },
        body: { id: newId(), name, task_id: row.id },
        headers,
      }),
    );
    refreshProject(queries, code);
    note(`“${name}” is offered by the add lines of the board.`);
    close();
  };
  return (
    <Modal open onOpenChange={close} title={`Keep “${row.title}” as a blank`}>
      <p className="mb-2 text-ink-2">
        Its kind and fields, what is to be ticked, and the tasks below are made anew each time it is chosen. People,
        dates and what was said are not.
      </p>
      <AddByName label="Name of the blank" action="Keep it" save={keep} />
    </Modal>
  );
}
