/** Names in a file that nobody and nothing here has: each is matched by hand, or left out. */

import type { Schemas } from "../../data/api";
import { count } from "../../parts/format";
import { Select } from "../../parts/select";

type Unknown = Schemas["UnknownOut"][];
/** What names in a file can mean. */
interface Naming {
  unknown: Unknown;
  choices: Record<string, Record<string, string>>;
  fields?: Record<string, string>;
}
/** By field and name in the file the id that it means; null leaves it out. */
export type Answers = Record<string, Record<string, string | null>>;

/** What the names of a file are taken for, as its preview says: what was proposed counts as said once it is imported. */
export function answersIn({ unknown }: { unknown: Unknown }): Answers {
  const answers: Answers = {};
  for (const one of unknown) answers[one.field] = { ...answers[one.field], [one.text]: one.means };
  return answers;
}

const NOUNS: Record<string, string> = {
  people: "Person",
  bookings: "Booked",
  state: "State",
  kind: "Kind",
  marks: "Mark",
  calendar: "Calendar",
};
const LEFT_OUT: Record<string, string> = {
  people: "nobody",
  bookings: "no booking",
  state: "the first state",
  kind: "task",
};

export function Names({ preview, onChange }: { preview: Naming; onChange: (unknown: Unknown) => void }) {
  if (preview.unknown.length === 0) return null;
  const nounOf = (field: string) => NOUNS[field] ?? preview.fields?.[field] ?? "Value";
  return (
    <section aria-label="Names to match" className="mt-5">
      <h3 className="text-[15px]">{count(preview.unknown.length, "name that is", "names that are")} not known here</h3>
      <p className="mb-2 text-ink-2">Say what each of them means. What is left out stays empty.</p>
      <table>
        <tbody>
          {preview.unknown.map((one, at) => (
            <tr key={`${one.field} ${one.text}`} className="border-t border-rule">
              <td className="py-1 pr-4 text-ink-2">{nounOf(one.field)}</td>
              <td className="max-w-64 truncate py-1 pr-4 font-semibold" title={one.text}>
                {one.text}
              </td>
              <td className="py-1 pr-4 text-ink-2">{count(one.rows, one.field === "bookings" ? "booking" : "row")}</td>
              <td className="py-1">
                <Select
                  className="w-52"
                  aria-label={`${nounOf(one.field)} meant by ${one.text}`}
                  value={one.means ?? ""}
                  onChange={(event) => {
                    const means = event.target.value || null;
                    onChange(preview.unknown.map((each, index) => (index === at ? { ...each, means } : each)));
                  }}
                >
                  <option value="">leave out: {LEFT_OUT[one.field] ?? "empty"}</option>
                  {Object.entries(preview.choices[one.field] ?? {}).map(([id, name]) => (
                    <option key={id} value={id}>
                      {name}
                    </option>
                  ))}
                </Select>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
