/** Which parts a project's brief has, and in which order: the choice of its lead, for everybody. */
import { ArrowDown, ArrowUp } from "lucide-react";
import { useEffect, useState } from "react";
import { client, type Project, sentence } from "../../data/api";
import { note } from "../../data/notes";
import { IconButton, Pop, Tick } from "../../parts/basics";
import { useSaveProject } from "../../tasks/settings/save";

const PARTS: Record<string, string> = {
  reading: "How it stands, in sentences",
  states: "Tasks by state",
  curve: "Done against plan",
  decisions: "Needs a decision",
  goals: "Goals that it serves",
  report: "The newest status report",
  over: "Booked over",
  due: "Due in the next seven days",
  changed: "Last changed",
};

export function PartsChoice({ project }: { project: Project }) {
  const save = useSaveProject(project);
  // what is chosen shows at once: a quick hand does not wait for the answer
  const [brief, setBrief] = useState(project.brief);
  useEffect(() => setBrief(project.brief), [project.brief]);
  const set = (brief: string[]) => {
    setBrief(brief);
    save("Arranged the brief", (headers) =>
      client.PATCH("/api/projects/{code}", {
        params: { path: { code: project.code } },
        body: { revision: project.revision, brief },
        headers,
      }),
    ).catch((error) => {
      setBrief(project.brief);
      note(sentence(error), "wrong");
    });
  };
  const move = (at: number, by: number) => {
    const next = brief.filter((_, index) => index !== at);
    next.splice(at + by, 0, brief[at] as string);
    set(next);
  };
  return (
    <Pop
      label="Parts of the brief"
      className="w-[320px]"
      trigger={
        <button type="button" className="text-rose hover:underline">
          arrange the brief
        </button>
      }
    >
      <p className="px-2 py-1 text-[12px] text-ink-2">For everybody who opens it.</p>
      <ul>
        {[...brief, ...Object.keys(PARTS).filter((one) => !brief.includes(one))].map((one) => {
          const at = brief.indexOf(one);
          const name = PARTS[one] ?? one;
          return (
            <li key={one} className="flex items-center">
              <span className="min-w-0 flex-1">
                <Tick
                  checked={at >= 0}
                  onChange={(on) => set(on ? [...brief, one] : brief.filter((each) => each !== one))}
                >
                  {name}
                </Tick>
              </span>
              {at >= 0 && (
                <>
                  <IconButton label={`${name}: earlier`} disabled={at === 0} onClick={() => move(at, -1)}>
                    <ArrowUp size={14} />
                  </IconButton>
                  <IconButton label={`${name}: later`} disabled={at === brief.length - 1} onClick={() => move(at, 1)}>
                    <ArrowDown size={14} />
                  </IconButton>
                </>
              )}
            </li>
          );
        })}
      </ul>
    </Pop>
  );
}
