/** Choosing the value of one of the project's own fields. */
import type { Project } from "../data/api";
import { Tick } from "../parts/basics";
import { PersonList } from "../parts/choosers";
import { Sign } from "../parts/sign";
import type { CustomField } from "./custom-fields";

export function CustomFieldPicker({
  field,
  value,
  project,
  onChoose,
}: {
  field: CustomField;
  value: unknown;
  project: Project;
  /** `close` is true where nothing more is to be chosen */
  onChoose: (value: unknown, close: boolean) => void;
}) {
  if (field.type === "person")
    return (
      <PersonList
        project={project}
        value={(value as string) ?? null}
        none="nobody"
        onChoose={(id) => onChoose(id, true)}
      />
    );
  if (field.type === "yes_no")
    return [true, false, null].map((one) => (
      <Choice key={String(one)} on={(value ?? null) === one} onChoose={() => onChoose(one, true)}>
        {one === null ? "not said" : one ? "yes" : "no"}
      </Choice>
    ));
  const several = field.type === "choices";
  const chosen = Array.isArray(value) ? value.map(String) : value ? [String(value)] : [];
  return (
    <div className="w-52">
      {field.options.map((option) =>
        several ? (
          <Tick
            key={option.id}
            checked={chosen.includes(option.id ?? "")}
            onChange={(on) => onChoose(on ? [...chosen, option.id] : chosen.filter((one) => one !== option.id), false)}
          >
            <Sign shape="square" colour={option.colour} size={10} /> {option.name}
          </Tick>
        ) : (
          <Choice key={option.id} on={chosen.includes(option.id ?? "")} onChoose={() => onChoose(option.id, true)}>
            <Sign shape="square" colour={option.colour} size={10} /> {option.name}
          </Choice>
        ),
      )}
      {!several && (
        <Choice on={!chosen.length} onChoose={() => onChoose(null, true)}>
          none
        </Choice>
      )}
    </div>
  );
}

function Choice({ on, onChoose, children }: { on: boolean; onChoose: () => void; children: React.ReactNode }) {
  return (
    <button
      type="button"
      aria-pressed={on}
      className={`flex min-h-8 w-full items-center gap-2 px-2 hover:bg-rose-soft focus-visible:bg-rose-soft ${on ? "font-semibold" : ""}`}
      onClick={onChoose}
    >
      {children}
    </button>
  );
}
