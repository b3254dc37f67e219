/** Finding another task by its number or words. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Schemas } from "../../data/api";
import { useSettled } from "../../overview/find";

export type FoundTask = Schemas["FoundTaskOut"];

export function TaskFinder({
  code,
  without,
  onChoose,
  fits = () => true,
}: {
  /** only in this project; in all that one may see where it is left out */
  code?: string;
  without: string;
  onChoose: (task: FoundTask) => void;
  /** true for a task that can be chosen */
  fits?: (id: string) => boolean;
}) {
  const [text, setText] = useState("");
  const asked = useSettled(text.trim(), 120);
  const found = useQuery({
    queryKey: ["find", asked, code],
    enabled: asked.length > 0,
    queryFn: () => {
      const numbered = code && /^\d+$/.test(asked) ? `${code} ${asked}` : asked;
      return ask(client.GET("/api/find", { params: { query: { text: numbered, code } } }));
    },
  });
  const tasks = (found.data?.tasks ?? []).filter((task) => task.id !== without && fits(task.id));
  return (
    <div className="w-80">
      <input
        className="input mb-1 w-full"
        aria-label="Find a task"
        placeholder="A number, or words of the title"
        value={text}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          const first = tasks[0];
          if (event.key === "Enter" && first) onChoose(first);
        }}
      />
      {tasks.map((task) => (
        <button
          key={task.id}
          type="button"
          className="flex min-h-8 w-full items-center gap-2 px-2 hover:bg-rose-soft focus-visible:bg-rose-soft"
          onClick={() => onChoose(task)}
        >
          <span className="min-w-0 flex-1 truncate">{task.title}</span>
          <span className="flex-none text-[11.5px] text-ink-2">
            {task.code} {task.number}
          </span>
        </button>
      ))}
      {asked && found.data && !tasks.length && <p className="px-2 py-1 text-ink-2">No task is called that.</p>}
    </div>
  );
}
