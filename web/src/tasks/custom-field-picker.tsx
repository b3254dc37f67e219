/** Choosing the value of one of the project's own fields. */
import type { Project } from "../data/api";
import { Tick } from "../parts/basics";
import { PersonList } from "../parts/choosers";
import { Picker } from "../parts/picker";
import { Sign } from "../parts/sign";
import type { CustomField } from "./custom-fields";

const NONE = "none";
const YES_NO = [
  { id: "yes", name: "yes", value: true },
  { id: "no", name: "no", value: false },
  { id: NONE, name: "not said", value: null },
];
/** A list of up to so many is not looked through by typing. */
const SHORT = 8;

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
    return (
      <Picker
        plain
        className="w-40"
        label={field.name}
        choices={YES_NO.map((one) => ({ ...one, chosen: one.value === (value ?? null) }))}
        onChoose={(id) => onChoose(YES_NO.find((one) => one.id === id)?.value, true)}
      />
    );
  const chosen = Array.isArray(value) ? value.map(String) : value ? [String(value)] : [];
  if (field.type === "choices")
    return (
      <div className="w-52">
        {field.options.map((option) => (
          <Tick
            key={option.id}
            checked={chosen.includes(option.id ?? "")}
            onChange={(on) => onChoose(on ? [...chosen, option.id] : chosen.filter((one) => one !== option.id), false)}
          >
            <Sign shape="square" colour={option.colour} size={10} /> {option.name}
          </Tick>
        ))}
      </div>
    );
  return (
    <Picker
      plain={field.options.length <= SHORT}
      className="w-52"
      label={field.name}
      choices={[
        ...field.options.map((option) => ({
          id: option.id ?? "",
          name: option.name,
          chosen: chosen.includes(option.id ?? ""),
          before: <Sign shape="square" colour={option.colour} size={10} />,
        })),
        { id: NONE, name: "none", chosen: !chosen.length },
      ]}
      onChoose={(id) => onChoose(id === NONE ? null : id, true)}
    />
  );
}
