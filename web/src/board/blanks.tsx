import type { Project } from "../data/api";
import { orTell } from "../data/notes";
import { Reorder } from "../parts/reorder";
import { TextField } from "../parts/text-field";
import { kindName } from "../tasks/custom-fields";
import { useDefine } from "../tasks/settings/define";

interface Made {
  title?: string;
  kind?: string;
  checks?: string[];
  below?: Made[];
}

export function Blanks({ project }: { project: Project }) {
  const define = useDefine(project, "blanks");
  const move = (index: number, by: number) => {
    const one = project.blanks[index];
    const rest = project.blanks.filter((each) => each !== one);
    if (one) orTell(define.edit(one.id, { after_id: rest[index + by - 1]?.id ?? null }));
  };
  return (
    <section className="mt-8">
      <h2 className="mb-1 text-[17px]">Blanks</h2>
      <p className="mb-2 text-ink-2">
        {project.blanks.length ? "" : "There is none yet. "}A blank is a prepared task that the add lines of the board
        offer. “Keep as a blank”, in the menu of a task, makes one.
      </p>
      <ul>
        {project.blanks.map((one, index) => (
          <li key={one.id} className="flex min-h-9 items-start gap-1.5 border-b border-rule py-1">
            <div className="min-w-0 flex-1">
              <TextField
                value={one.name}
                label={`Name of the blank ${one.name}`}
                className="-ml-1.5 w-full px-1.5"
                onSave={(name) => define.edit(one.id, { name })}
              />
              <ul className="text-[12px] text-ink-2">
                <Makes made={one.task as Made} project={project} depth={0} />
              </ul>
            </div>
            <Reorder
              name={one.name}
              at={index}
              of={project.blanks.length}
              move={(by) => move(index, by)}
              remove={() => orTell(define.remove(one.id, one.name))}
            />
          </li>
        ))}
      </ul>
    </section>
  );
}

function Makes({ made, project, depth }: { made: Made; project: Project; depth: number }) {
  return (
    <>
      <li style={{ paddingLeft: depth * 16 }}>
        {made.title || "what is typed"}, {kindName(project, made.kind ?? "task")}
        {made.checks?.length ? `, to tick: ${made.checks.join(", ")}` : ""}
      </li>
      {made.below?.map((one, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: they have no name but their place
        <Makes key={index} made={one} project={project} depth={depth + 1} />
      ))}
    </>
  );
}
