/** What the organisation is there for, and the names of the sections of progress notes. */
import { useState } from "react";
import { sentence } from "../data/api";
import { Button, Field, Modal, Wrong } from "../parts/basics";
import { type Goals, useGoalActions } from "./goals";

export function PurposeForm({ data, close }: { data: Goals; close: () => void }) {
  const { purpose } = useGoalActions();
  const [text, setText] = useState(data.purpose);
  const [sections, setSections] = useState(data.sections.join("\n"));
  const [wrong, setWrong] = useState("");
  async function submit(event: React.FormEvent) {
    event.preventDefault();
    try {
      await purpose({ purpose: text, sections: sections.split("\n").filter((one) => one.trim()) });
      close();
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <Modal open onOpenChange={(next) => !next && close()} title="What we are here for">
      <form onSubmit={submit} noValidate>
        <Field label="In a few lines">
          <textarea
            className="input h-24 w-full resize-y py-1"
            maxLength={2000}
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        </Field>
        <Field label="Sections of a progress note" hint="One on each line, eight at most.">
          <textarea
            className="input h-24 w-full resize-y py-1"
            value={sections}
            onChange={(event) => setSections(event.target.value)}
          />
        </Field>
        <Wrong text={wrong} />
        <div className="flex gap-2">
          <Button look="go" type="submit">
            Save
          </Button>
          <Button look="quiet" onClick={close}>
            Leave it as it is
          </Button>
        </div>
      </form>
    </Modal>
  );
}
