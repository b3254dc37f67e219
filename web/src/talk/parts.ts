/** Changes to what hangs on a task: comments, attachments, checklists, relations, and whether one follows it. */

import { type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { ask, type ChangeHeaders, client, newId, Problem, type Schemas, send, sentence } from "../data/api";
import { projectKey, refreshTasks, taskKey } from "../data/keys";
import { note } from "../data/notes";
import { remember, sendUndoable } from "../data/undo";

export type Comment = Schemas["CommentOut"];
export type Attachment = Schemas["FileOut"];
export type Checklist = Schemas["ChecklistOut"];
export type Check = Schemas["ChecklistItemOut"];
export type Related = Schemas["RelatedOut"];
export type RelationType = Related["type"];
export type Reaction = NonNullable<Schemas["CommentEdit"]["reaction"]>;
export type Following = NonNullable<Schemas["TaskOut"]["following"]>;

type Made = { data?: unknown; error?: unknown; response: Response };

export type Parts = ReturnType<typeof makeParts>;

/** Each change can be taken back; a refusal is thrown, so that what was typed is kept. */
export function useParts(code: string, taskId: string) {
  const queries = useQueryClient();
  return useMemo(() => makeParts(queries, code, taskId), [queries, code, taskId]);
}

function makeParts(queries: QueryClient, code: string, task_id: string) {
  const refresh = () => {
    refreshTasks(queries, code);
    return queries.invalidateQueries({ queryKey: taskKey(task_id) });
  };
  async function run(what: string, call: (headers: ChangeHeaders) => Promise<Made>, undoable = true) {
    await (undoable ? sendUndoable(queries, code, what, call) : send(call));
    await refresh();
  }
  const onTask = { path: { task_id } };
  const onList = (list_id: string) => ({ path: { list_id } });
  const onCheck = (check_id: string) => ({ path: { check_id } });
  const onComment = (comment_id: string) => ({ path: { comment_id } });
  const onRelation = (relation_id: string) => ({ path: { relation_id } });
  return {
    say: (body: string, quotes_id: string | null) =>
      run("Said something", (headers) =>
        client.POST("/api/tasks/{task_id}/comments", {
          params: onTask,
          body: { id: headers["Rhodonite-Change"], body, quotes_id },
          headers,
        }),
      ),
    editComment: (id: string, body: Partial<Schemas["CommentEdit"]>) =>
      run("Changed a comment", (headers) =>
        client.PATCH("/api/comments/{comment_id}", { params: onComment(id), body: { on: true, ...body }, headers }),
      ),
    deleteComment: (id: string) =>
      run("Took a comment away", (headers) =>
        client.DELETE("/api/comments/{comment_id}", { params: onComment(id), headers }),
      ),
    addChecklist: (name: string, items: string[] = []) =>
      run(`Added the checklist “${name}”`, (headers) =>
        client.POST("/api/tasks/{task_id}/checklists", {
          params: onTask,
          body: { id: headers["Rhodonite-Change"], name, items },
          headers,
        }),
      ),
    editChecklist: (id: string, body: Schemas["ChecklistEdit"]) =>
      run("Changed a checklist", (headers) =>
        client.PATCH("/api/checklists/{list_id}", { params: onList(id), body, headers }),
      ),
    deleteChecklist: (id: string) =>
      run("Took a checklist away", (headers) =>
        client.DELETE("/api/checklists/{list_id}", { params: onList(id), headers }),
      ),
    addChecks: (list: string, texts: string[], after_id: string | null = "end") => {
      const items = texts.map((text) => ({ id: newId(), text }));
      return run("Added to a checklist", (headers) =>
        client.POST("/api/checklists/{list_id}/checks", { params: onList(list), body: { items, after_id }, headers }),
      );
    },
    editCheck: (id: string, body: Schemas["CheckEdit"]) =>
      run(body.done === undefined ? "Changed a checklist" : body.done ? "Ticked" : "Took a tick off", (headers) =>
        client.PATCH("/api/checks/{check_id}", { params: onCheck(id), body, headers }),
      ),
    deleteCheck: (id: string) =>
      run("Took a line out", (headers) => client.DELETE("/api/checks/{check_id}", { params: onCheck(id), headers })),
    checkToTask: (id: string) =>
      run("Made a task of a line", (headers) =>
        client.POST("/api/checks/{check_id}/task", { params: onCheck(id), body: { id: newId() }, headers }),
      ),
    keepTemplate: async (checklist_id: string) => {
      await run("Kept a checklist", (headers) =>
        client.POST("/api/projects/{code}/checklists", {
          params: { path: { code } },
          body: { id: headers["Rhodonite-Change"], checklist_id },
          headers,
        }),
      );
      queries.invalidateQueries({ queryKey: projectKey(code, "checklists") });
    },
    relate: (to_id: string, type: RelationType) =>
      run("Related two tasks", (headers) =>
        client.POST("/api/tasks/{task_id}/relations", {
          params: onTask,
          body: { id: headers["Rhodonite-Change"], to_id, type },
          headers,
        }),
      ),
    unrelate: (id: string) =>
      run("Took a relation away", (headers) =>
        client.DELETE("/api/relations/{relation_id}", { params: onRelation(id), headers }),
      ),
    closeDuplicate: (id: string) =>
      run("Closed a duplicate", (headers) =>
        client.POST("/api/relations/{relation_id}/close", { params: onRelation(id), headers }),
      ),
    follow: (how: Following | null) =>
      run(
        "",
        (headers) => client.PUT("/api/tasks/{task_id}/following", { params: onTask, body: { how }, headers }),
        false,
      ),
    renameFile: (id: string, name: string) =>
      run("Renamed an attachment", (headers) =>
        client.PATCH("/api/files/{file_id}", { params: { path: { file_id: id } }, body: { name }, headers }),
      ),
    deleteFile: (id: string) =>
      run("Took an attachment away", (headers) =>
        client.DELETE("/api/files/{file_id}", { params: { path: { file_id: id } }, headers }),
      ),
    /** Attach a file; `told` hears how much has arrived, from 0 to 1. */
    attach: async (file: File, told: (share: number) => void) => {
      const change = newId();
      await upload(`/api/tasks/${task_id}/files`, file, change, told);
      remember(queries, { change, code, what: `Attached ${file.name}` });
      await refresh();
    },
    /** Keep a picture that stands within a text; gives its address. */
    picture: async (file: File) => `/api/files/${(await upload(`/api/tasks/${task_id}/pictures`, file, newId())).id}`,
  };
}

/** Send a file. It is not repeated by itself: who sent it sees where it failed, and tries again. */
function upload(address: string, file: File, change: string, told?: (share: number) => void): Promise<Attachment> {
  return new Promise((done, failed) => {
    const request = new XMLHttpRequest();
    const form = new FormData();
    form.append("id", change);
    form.append("file", file, file.name || "picture.png");
    request.open("POST", address);
    request.setRequestHeader("Rhodonite-Client", "web");
    request.setRequestHeader("Rhodonite-Change", change);
    request.responseType = "json";
    request.upload.onprogress = (event) => event.lengthComputable && told?.(event.loaded / event.total);
    const refused = (status: number, words: string) => failed(new Problem(status, "refused", words));
    request.onerror = () => refused(0, "The server cannot be reached. The file was not sent; try again.");
    request.onload = () =>
      request.status < 300
        ? done(request.response)
        : refused(request.status, request.response?.detail ?? "The file was refused.");
    request.send(form);
  });
}

/** Do, and tell a refusal in a note. */
export const orTell = (doing: Promise<unknown>) => doing.catch((error) => note(sentence(error), "wrong"));

/** The checklists that a project keeps for loading. */
export function useChecklistTemplates(code: string) {
  return useQuery({
    queryKey: projectKey(code, "checklists"),
    queryFn: () => ask(client.GET("/api/projects/{code}/checklists", { params: { path: { code } } })),
  });
}
