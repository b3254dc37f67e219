/** Similar finished work: what it took, as a range, and which it was. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { ask, client, type Project, sentence } from "../data/api";
import { note } from "../data/notes";
import { count, sayDuration, sayHours } from "../parts/format";

/** Asked for when the task is open, and again only when another one is. */
function useSimilar(id: string, title: string) {
  return useQuery({
    queryKey: ["similar", id, title],
    queryFn: () => ask(client.GET("/api/tasks/{task_id}/similar", { params: { path: { task_id: id } } })),
    staleTime: 5 * 60_000,
  });
}

export function SimilarWork({
  id,
  title,
  project,
  openTask,
  offer,
}: {
  id: string;
  title: string;
  project: Project;
  openTask: (id: string) => void;
  /** takes minutes as the estimate, where the task has none */
  offer?: (minutes: number) => Promise<void>;
}) {
  const { data } = useSimilar(id, title);
  const [open, setOpen] = useState(false);
  const navigate = useNavigate();
  if (!data?.tasks.length) return null;
  const days = (minutes: number) => sayDuration(minutes, project.day_minutes);
  const span = (one: { least: number; middle: number; most: number }, say: (minutes: number) => string) =>
    one.least === one.most ? say(one.least) : `${say(one.least)} to ${say(one.most)}, ${say(one.middle)} in the middle`;
  return (
    <div className="-mt-1 mb-3 max-w-3xl text-[13px] text-ink-2">
      <p>
        {count(data.tasks.length, "finished task")} like it
        {data.took && (
          <>
            {" "}
            took <b className="font-semibold text-ink">{span(data.took, days)}</b>
          </>
        )}
        {data.effort && <>; effort planned {span(data.effort, sayHours)}</>}
        {data.spent && (
          <>
            {data.effort ? ", " : "; "}spent <b className="font-semibold text-ink">{span(data.spent, sayHours)}</b>
          </>
        )}
        .{" "}
        <button type="button" className="text-rose hover:underline" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? "hide them" : "which"}
        </button>
        {data.estimate !== null && offer && (
          <>
            {" "}
            <button
              type="button"
              className="text-rose hover:underline"
              onClick={() => offer(data.estimate ?? 0).catch((error) => note(sentence(error), "wrong"))}
            >
              estimate {sayHours(data.estimate)}
            </button>
          </>
        )}
      </p>
      {open && (
        <ul className="mt-1">
          {data.tasks.map((task) => (
            <li key={task.id} className="flex min-h-7 items-center gap-2 border-b border-rule">
              <button
                type="button"
                className="min-w-0 truncate text-ink hover:underline"
                onClick={() =>
                  task.code === project.code ? openTask(task.id) : navigate(`/p/${task.code}/outline?open=${task.id}`)
                }
              >
                {task.title}
              </button>
              <span className="flex-none text-[11.5px]">
                {task.code} {task.number}
              </span>
              <span className="ml-auto flex-none text-[12px]">
                {[
                  task.took && days(task.took),
                  task.effort && `${sayHours(task.effort)} planned`,
                  task.spent && `${sayHours(task.spent)} spent`,
                ]
                  .filter(Boolean)
                  .join(", ")}
              </span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
