/** The marks that people put on a task, and the sign of its kind where the project made that itself. */
import { Repeat2 } from "lucide-react";
import type { Project, TaskRow } from "../data/api";
import { Sign } from "./sign";

export function Marks({ row, project }: { row: TaskRow; project: Project }) {
  const kind = project.kinds.find((one) => one.id === row.kind);
  const marks = project.marks.filter((one) => row.marks.includes(one.id));
  if (!kind && !marks.length && !row.repeats) return null;
  return (
    <>
      {[...(kind ? [kind] : []), ...marks].map((one) => (
        <span key={one.id} title={one.name} className="inline-flex flex-none">
          <Sign shape={one.shape} colour={one.colour} size={11} />
          <span className="sr-only">{one.name}</span>
        </span>
      ))}
      {row.repeats && (
        <span title={`repeats ${row.repeats.words}`} className="inline-flex flex-none text-ink-2">
          <Repeat2 size={12} aria-hidden="true" />
          <span className="sr-only">repeats {row.repeats.words}</span>
        </span>
      )}
    </>
  );
}
