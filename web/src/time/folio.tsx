/** The time of a task in the folio: who spent how much against the estimate, a line to enter more, and the entries. */
import { format } from "date-fns";
import { X } from "lucide-react";
import { useState } from "react";
import { type Project, sentence, type TaskRow } from "../data/api";
import { useMe, usePeople } from "../data/hooks";
import { note } from "../data/notes";
import { Button, IconButton, Wrong } from "../parts/basics";
import { DateField } from "../parts/dates/field";
import { sayDay, sayHours } from "../parts/format";
import { Select } from "../parts/select";
import { TextField } from "../parts/text-field";
import { Tile } from "../parts/tile";
import { Section } from "../shell/folio/section";
import { sayFromTo, sayTime } from "./say";
import { type Entry, useEntries, useTaskTime } from "./time";
import { TimerButton } from "./timer-button";

const FIRST = 5;

export default function TimeOfTask({ row, project }: { row: TaskRow; project: Project }) {
  const { data } = useTaskTime(row.id);
  const { byId } = usePeople();
  const [all, setAll] = useState(false);
  if (!data || !(project.time || data.below)) return null;
  const below = data.below - data.spent;
  const shown = all ? data.entries : data.entries.slice(0, FIRST);
  return (
    <Section
      title="Time"
      aside={<Against spent={data.below} estimate={data.estimate} />}
      end={data.may_enter && <TimerButton task={row} words className="text-rose hover:underline" />}
    >
      {data.people.length > 0 && (
        <ul className="flex flex-wrap gap-x-4 border-t border-rule-2 py-1">
          {data.people.map((one) => (
            <li key={one.person_id} className="flex min-h-7 items-center gap-1.5">
              <Tile person={byId.get(one.person_id)} size={20} />
              <span className="tabular-nums">{sayTime(one.below)}</span>
            </li>
          ))}
          {below > 0 && (
            <li className="flex min-h-7 items-center text-[12px] text-ink-2">{sayTime(below)} of it on tasks below</li>
          )}
        </ul>
      )}
      {data.may_enter && <Enter row={row} project={project} leads={data.leads} />}
      <ul aria-label="Time entries">
        {shown.map((one) => (
          <EntryLine key={one.id} entry={one} project={project} leads={data.leads} />
        ))}
      </ul>
      {data.entries.length > FIRST && !all && (
        <button type="button" className="min-h-7 text-rose hover:underline" onClick={() => setAll(true)}>
          {data.entries.length - FIRST} more{data.more ? ", and older ones in the report" : ""}
        </button>
      )}
    </Section>
  );
}

/** `7.5 of 30 h`, in ember where more was spent than was estimated. */
function Against({ spent, estimate }: { spent: number; estimate: number | null }) {
  if (!estimate) return <span className="tabular-nums">{sayHours(spent)} spent, no estimate</span>;
  const over = spent - estimate;
  return (
    <span className={`tabular-nums ${over > 0 ? "font-semibold text-ember" : ""}`}>
      {sayHours(spent)} spent of {sayHours(estimate)}
      {over > 0 ? `, ${sayHours(over)} more than estimated` : over < 0 ? `, ${sayHours(-over)} left` : ""}
    </span>
  );
}

/** One line that enters time: how long, on which day, what for. */
function Enter({ row, project, leads }: { row: TaskRow; project: Project; leads: boolean }) {
  const me = useMe();
  const { active } = usePeople();
  const { add } = useEntries(project.code);
  const today = format(me.now, "yyyy-MM-dd");
  const [hours, setHours] = useState("");
  const [day, setDay] = useState(today);
  const [text, setText] = useState("");
  const [who, setWho] = useState(me.person.id);
  const [wrong, setWrong] = useState("");
  const [busy, setBusy] = useState(false);
  const members = active.filter((one) => one.id in project.members || one.id === me.person.id);
  async function submit(event: React.FormEvent) {
    event.preventDefault();
    setBusy(true);
    try {
      await add({ task_id: row.id, day: day || today, hours, note: text, person_id: who });
      setHours("");
      setText("");
      setWrong("");
    } catch (error) {
      setWrong(sentence(error));
    } finally {
      setBusy(false);
    }
  }
  return (
    <form className="border-t border-rule-2 py-1.5" aria-label="Enter time" onSubmit={submit} noValidate>
      <div className="flex flex-wrap items-center gap-1.5">
        <input
          className="input w-[92px]"
          aria-label="How long"
          placeholder="1:30 or 9-11"
          value={hours}
          onChange={(event) => {
            setHours(event.target.value);
            setWrong("");
          }}
        />
        <DateField label="On which day" value={day} onChange={setDay} className="w-[118px]" />
        {leads && members.length > 1 && (
          <Select
            className="min-w-0 flex-1"
            aria-label="Whose time"
            value={who}
            onChange={(event) => setWho(event.target.value)}
          >
            {members.map((one) => (
              <option key={one.id} value={one.id}>
                {one.id === me.person.id ? "mine" : one.name}
              </option>
            ))}
          </Select>
        )}
        <Button type="submit" className="ml-auto" disabled={busy || !hours.trim()}>
          Enter
        </Button>
      </div>
      <input
        className="input mt-1.5 w-full"
        aria-label="Note"
        placeholder="what for"
        maxLength={500}
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <Wrong text={wrong} />
    </form>
  );
}

export function EntryLine({
  entry,
  project,
  leads,
}: {
  entry: Entry;
  project: Pick<Project, "code" | "archived">;
  leads: boolean;
}) {
  const me = useMe();
  const { byId } = usePeople();
  const { edit, remove } = useEntries(project.code);
  const mine = entry.person_id === me.person.id;
  const closed = entry.closed === "accepted" || (entry.closed === "handed_in" && !leads);
  const may = (mine || leads) && !closed && !entry.charged && !project.archived;
  const person = byId.get(entry.person_id);
  return (
    <li className="flex min-h-8 items-center gap-2 border-t border-rule text-[12.5px]">
      <Tile person={person} size={18} />
      <span className="w-14 flex-none text-ink-2">{sayDay(entry.day, me.now)}</span>
      <TextField
        value={sayTime(entry.minutes)}
        label={`Time of ${person?.name ?? "somebody"} on ${sayDay(entry.day, me.now)}`}
        readOnly={!may}
        className="w-[58px] px-1 text-right tabular-nums"
        onSave={(hours) => edit(entry, { hours })}
      />
      <span className="min-w-0 flex-1">
        <TextField
          value={entry.note}
          label="Note of the entry"
          readOnly={!may}
          placeholder={sayFromTo(entry)}
          hint={sayFromTo(entry)}
          className="w-full px-1"
          onSave={(text) => edit(entry, { note: text })}
        />
      </span>
      {(closed || entry.charged) && (
        <span className="flex-none text-[11.5px] text-ink-2">
          {entry.charged ? "on an invoice sheet" : entry.closed === "accepted" ? "accepted" : "handed in"}
        </span>
      )}
      {may && (
        <>
          <button
            type="button"
            aria-pressed={entry.billable}
            aria-label={entry.billable ? "Can be charged" : "Not to be charged"}
            title={entry.billable ? "Can be charged" : "Not to be charged"}
            className={`flex-none px-1 text-[11.5px] hover:text-ink ${entry.billable ? "text-ink-2" : "text-ink-3 line-through"}`}
            onClick={() => edit(entry, { billable: !entry.billable }).catch((error) => note(sentence(error), "wrong"))}
          >
            charged
          </button>
          <IconButton
            label="Take this entry away"
            className="!size-6"
            onClick={() => remove(entry).catch((error) => note(sentence(error), "wrong"))}
          >
            <X size={13} />
          </IconButton>
        </>
      )}
    </li>
  );
}
