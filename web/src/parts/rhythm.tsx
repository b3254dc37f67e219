/** How often somebody is reminded to write. */
import type { Schemas } from "../data/api";
import { Field } from "./basics";
import { Select } from "./select";

type Rhythm = Schemas["ReportSettingsModel"]["rhythm"];

const RHYTHMS: [NonNullable<Rhythm> | "", string][] = [
  ["", "no reminder"],
  ["weekly", "every week"],
  ["fortnightly", "every two weeks"],
  ["monthly", "every month"],
  ["quarterly", "every quarter"],
];

interface Props {
  label: string;
  value: Rhythm;
  set: (to: Rhythm) => void;
}

export function RhythmField({ label, value, set }: Props) {
  return (
    <Field label={label}>
      <Select className="w-full" value={value ?? ""} onChange={(event) => set((event.target.value || null) as Rhythm)}>
        {RHYTHMS.map(([id, words]) => (
          <option key={id} value={id}>
            {words}
          </option>
        ))}
      </Select>
    </Field>
  );
}
