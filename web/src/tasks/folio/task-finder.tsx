/** Finding another task by its number or words. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Schemas } from "../../data/api";
import { Picker } from "../../parts/picker";
import { useSettled } from "../../parts/use-settled";

export type FoundTask = Schemas["FoundTaskOut"];

/** A task as something to choose, with its number behind it. */
export const taskChoice = ({ id, title, code, number }: Pick<FoundTask, "id" | "title" | "code" | "number">) => ({
  id,
  name: title,
  after: (
    <span className="flex-none text-[11.5px] text-ink-2">
      {code} {number}
    </span>
  ),
});

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
    <Picker
      className="w-80"
      label="Find a task"
      hint="A number, or words of the title"
      typed={text}
      onType={setText}
      nothing={asked && found.data ? "No task is called that." : "…"}
      choices={tasks.map(taskChoice)}
      onChoose={(id) => {
        const task = tasks.find((one) => one.id === id);
        if (task) onChoose(task);
      }}
    />
  );
}
