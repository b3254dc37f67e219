/** On which day of the week what a sheet shows is sent, and to whom. */
import { useState } from "react";
import { sentence } from "../data/api";
import { useMe } from "../data/hooks";
import { Button, Field, Modal, Wrong } from "../parts/basics";
import { WEEKDAYS } from "../parts/format";
import { PeopleChips } from "../parts/people-chips";
import { Select } from "../parts/select";
import { type Sheet, useSheetChanges } from "./view";

export function SendForm({ sheet, code, close }: { sheet: Sheet; code: string; close: () => void }) {
  const { person: me } = useMe();
  const changes = useSheetChanges(code);
  const [day, setDay] = useState(sheet.send_on ?? 0);
  const [people, setPeople] = useState(sheet.send_to.length ? sheet.send_to : [me.id]);
  const [wrong, setWrong] = useState("");
  const save = (send_on: number | null) =>
    changes.edit(sheet.id, { send_on, send_to: people }).then(close, (error) => setWrong(sentence(error)));
  return (
    <Modal open onOpenChange={close} title={`Send ${sheet.name} every week`}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          save(day);
        }}
      >
        <p className="mb-3 text-ink-2">
          In the morning of that day everybody who is named gets the list as a mail, with the table as CSV and XLSX: of
          it what they may see.
        </p>
        <Field label="Day">
          <Select className="w-full" value={day} onChange={(event) => setDay(Number(event.target.value))}>
            {WEEKDAYS.map((one, index) => (
              <option key={one} value={index}>
                {one}
              </option>
            ))}
          </Select>
        </Field>
        <div className="mb-3">
          <span className="label">To</span>
          <span className="flex flex-wrap items-center gap-1.5">
            <PeopleChips
              people={people}
              set={setPeople}
              without={(name) => `Without ${name}`}
              add="Somebody to whom it goes"
              more="+ and to …"
            />
          </span>
        </div>
        <Wrong text={wrong} />
        <div className="flex gap-2">
          <Button look="go" type="submit">
            Send it every {WEEKDAYS[day]}
          </Button>
          {sheet.send_on !== null && (
            <Button look="quiet" onClick={() => save(null)}>
              Send it no more
            </Button>
          )}
        </div>
      </form>
    </Modal>
  );
}
