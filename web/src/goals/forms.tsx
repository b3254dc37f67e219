/** What is written of a goal: a progress note, a value, and how it ends. What is typed outlives the tab. */
import { format } from "date-fns";
import { useState } from "react";
import { sentence } from "../data/api";
import { useMe } from "../data/hooks";
import { Button, Modal, Wrong } from "../parts/basics";
import { DateField } from "../parts/dates/field";
import { readNumber } from "../parts/format";
import { Health } from "../parts/health";
import { PeopleChips } from "../parts/people-chips";
import { useKeptText } from "../talk/folio/kept-text";
import { type GoalDetail, type GoalHealth, OUTCOMES, type Outcome, useGoalActions } from "./goals";

interface Typed {
  health: GoalHealth | "";
  value: string;
  texts: Record<string, string>;
  people: string[];
}

const HEALTHS: GoalHealth[] = ["steady", "strained", "slipping"];

/** A number as the API takes it. */
export function readValue(text: string): string | null {
  const bare = text.trim().replace(/[\s’']/g, "");
  if (!bare) return null;
  const number = readNumber(bare);
  if (number === null) throw new Error(`“${text.trim()}” is no number.`);
  return String(number);
}

export function NoteForm({ goal, sections, done }: { goal: GoalDetail; sections: string[]; done: () => void }) {
  const { note } = useGoalActions();
  const judges = goal.right === "edit" && goal.outcome === null;
  const [kept, keep] = useKeptText(`goal-note.${goal.id}`);
  const typed: Typed = {
    health: goal.how.health ?? "",
    value: "",
    texts: {},
    people: [],
    ...(kept ? JSON.parse(kept) : {}),
  };
  const [wrong, setWrong] = useState("");
  const [sending, setSending] = useState(false);
  const set = (part: Partial<Typed>) => keep(JSON.stringify({ ...typed, ...part }));
  const names = judges ? sections : [""];
  async function submit(event: React.FormEvent) {
    event.preventDefault();
    setSending(true);
    try {
      await note(goal.id, {
        health: judges ? typed.health || null : null,
        value: judges && goal.kind === "hand" ? readValue(typed.value) : null,
        sections: names.map((name) => ({ name, text: typed.texts[name] ?? "" })),
        people: typed.people,
      });
      keep(null);
      done();
    } catch (error) {
      setWrong(sentence(error));
      setSending(false);
    }
  }
  return (
    <form
      aria-label="Progress note"
      className="mt-3 border-l-[3px] border-rose bg-rose-soft p-3"
      onSubmit={submit}
      noValidate
    >
      {judges && (
        <fieldset className="mb-2 flex flex-wrap items-center gap-3">
          <legend className="sr-only">How it stands</legend>
          {HEALTHS.map((one) => (
            <label key={one} className="flex items-center gap-1.5">
              <input type="radio" name="health" checked={typed.health === one} onChange={() => set({ health: one })} />
              <Health value={one} />
            </label>
          ))}
          {goal.kind === "hand" && (
            <input
              className="input ml-auto w-28 text-right"
              aria-label="Where it stands now"
              placeholder={`now, ${goal.measure.sign || "a number"}`}
              value={typed.value}
              onChange={(event) => set({ value: event.target.value })}
            />
          )}
        </fieldset>
      )}
      {names.map((name, index) => (
        <label key={name} className="mb-2 block">
          {name && <span className="label">{name}</span>}
          <textarea
            // biome-ignore lint/a11y/noAutofocus: the form was just asked for
            autoFocus={index === 0}
            aria-label={name || "What you say"}
            className="input h-14 w-full resize-y py-1"
            maxLength={10000}
            value={typed.texts[name] ?? ""}
            onChange={(event) => set({ texts: { ...typed.texts, [name]: event.target.value } })}
          />
        </label>
      ))}
      <div className="mb-2 flex flex-wrap items-center gap-1.5 text-[12.5px]">
        <span className="text-ink-2">Goes to followers</span>
        <PeopleChips
          people={typed.people}
          set={(people) => set({ people })}
          without={(name) => `Do not send it to ${name}`}
          add="Send it to somebody else too"
          more="+ and to …"
        />
      </div>
      <Wrong text={wrong} />
      <div className="flex gap-2">
        <Button look="go" type="submit" disabled={sending}>
          {judges ? "Publish the note" : "Say it"}
        </Button>
        <Button look="quiet" onClick={done}>
          Later
        </Button>
      </div>
    </form>
  );
}

export function ValueForm({ goal, done }: { goal: GoalDetail; done: () => void }) {
  const { now } = useMe();
  const { value } = useGoalActions();
  const [day, setDay] = useState(format(now, "yyyy-MM-dd"));
  const [typed, setTyped] = useState("");
  const [wrong, setWrong] = useState("");
  async function submit(event: React.FormEvent) {
    event.preventDefault();
    try {
      const read = readValue(typed);
      if (read === null) throw new Error("Say where it stands.");
      await value(goal.id, day, read);
      done();
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <form aria-label="Value" className="mt-3 border-l-[3px] border-rose bg-rose-soft p-3" onSubmit={submit} noValidate>
      <div className="flex flex-wrap items-center gap-2">
        <input
          // biome-ignore lint/a11y/noAutofocus: the form was just asked for
          autoFocus
          className="input w-28 text-right"
          aria-label="Where it stood"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <span>{goal.measure.sign}</span>
        <span className="text-ink-2">at the end of</span>
        <DateField label="On which day" value={day} onChange={setDay} />
        <Button look="go" type="submit" disabled={!typed.trim()}>
          Enter
        </Button>
        <Button look="quiet" onClick={done}>
          Leave it
        </Button>
      </div>
      <Wrong text={wrong} />
    </form>
  );
}

export function CloseForm({ goal, done }: { goal: GoalDetail; done: () => void }) {
  const { close } = useGoalActions();
  const [outcome, setOutcome] = useState<Outcome>(Number(goal.how.percent) === 100 ? "met" : "partly_met");
  const [kept, keep] = useKeptText(`goal-end.${goal.id}`);
  const [wrong, setWrong] = useState("");
  async function submit(event: React.FormEvent) {
    event.preventDefault();
    try {
      await close(goal.id, outcome, kept ?? "");
      keep(null);
      done();
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <Modal open onOpenChange={(next) => !next && done()} title={`Close “${goal.title}”`}>
      <form onSubmit={submit} noValidate>
        <fieldset className="mb-3 flex flex-wrap gap-x-4 gap-y-1">
          <legend className="label">Its outcome</legend>
          {OUTCOMES.map(([one, words]) => (
            <label key={one} className="flex items-center gap-1.5">
              <input type="radio" name="outcome" checked={outcome === one} onChange={() => setOutcome(one)} />
              {words}
            </label>
          ))}
        </fieldset>
        <label className="block">
          <span className="label">Why</span>
          <textarea
            aria-label="Why"
            className="input h-20 w-full resize-y py-1"
            maxLength={2000}
            placeholder="what the next goal can learn from it"
            value={kept ?? ""}
            onChange={(event) => keep(event.target.value)}
          />
        </label>
        <p className="mt-1 text-[12px] text-ink-2">
          It keeps where it stands now: {goal.how.far || "nothing known"}. It can be opened again.
        </p>
        <Wrong text={wrong} />
        <div className="mt-3 flex gap-2">
          <Button look="go" type="submit">
            Close it
          </Button>
          <Button look="quiet" onClick={done}>
            Leave it open
          </Button>
        </div>
      </form>
    </Modal>
  );
}
