/** How a task repeats: a rule in words, with the next ten days that it gives. */

import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, sentence } from "../../data/api";
import { useMe } from "../../data/hooks";
import { projectKey } from "../../data/keys";
import { Button, Field, Modal, Tick, Wrong } from "../../parts/basics";
import { sayWeekday } from "../../parts/format";
import { useSettled } from "../../parts/use-settled";
import { Cell, type FieldProps, PICK } from "./cell";

const EXAMPLES = ["every working day", "every second Tuesday", "last working day of the month", "every month, 6 times"];

export function RepeatsField({ row, project, canEdit, edit }: FieldProps) {
  const [open, setOpen] = useState(false);
  const words = row.repeats
    ? `${row.repeats.words}${row.repeats.mode === "ahead" ? `, ${row.repeats.ahead} ahead` : ", when it is finished"}`
    : "not";
  if (row.is_summary) return null;
  return (
    <Cell label="Repeats" wide>
      {canEdit ? (
        <button
          type="button"
          className={`${PICK} text-left`}
          aria-label={`Repeats: ${words}`}
          onClick={() => setOpen(true)}
        >
          {words}
        </button>
      ) : (
        words
      )}
      {open && <EditRepeat row={row} project={project} edit={edit} close={() => setOpen(false)} />}
    </Cell>
  );
}

function EditRepeat({
  row,
  project,
  edit,
  close,
}: Omit<FieldProps, "canEdit"> & {
  close: () => void;
}) {
  const { now } = useMe();
  const [words, setWords] = useState(row.repeats?.words ?? "");
  const [mode, setMode] = useState(row.repeats?.mode ?? "finished");
  const [ahead, setAhead] = useState(row.repeats?.ahead ?? 3);
  const [off, setOff] = useState(row.repeats?.off_holidays ?? true);
  const [wrong, setWrong] = useState("");
  const asked = useSettled(words.trim(), 200);
  const at = row.start ?? row.finish;
  const first = at?.slice(0, 10) ?? "";
  const preview = useQuery({
    queryKey: projectKey(project.code, "repeats", asked, first, off),
    enabled: asked !== "" && first !== "",
    queryFn: () =>
      ask(
        client.GET("/api/projects/{code}/repeats", {
          params: { path: { code: project.code }, query: { words: asked, first, off_holidays: off } },
        }),
      ),
  });
  async function save(repeats: object | null) {
    try {
      await edit("Repeat", { repeats });
      close();
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  if (!at)
    return (
      <Modal open onOpenChange={close} title="Repeat">
        <p>Give the task a start or a finish first: the rule counts from there.</p>
      </Modal>
    );
  return (
    <Modal open onOpenChange={close} title={`Repeat “${row.title}”`} width={520}>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          save({ words, mode, ahead, off_holidays: off });
        }}
      >
        <Field label="How often" hint={preview.data && `ParsedLinks: ${preview.data.says}`}>
          <input
            className="input w-full"
            placeholder="every second Tuesday"
            value={words}
            onChange={(event) => {
              setWrong("");
              setWords(event.target.value);
            }}
          />
        </Field>
        {!words && (
          <p className="-mt-2 mb-3 flex flex-wrap gap-x-3">
            {EXAMPLES.map((one) => (
              <button key={one} type="button" className="text-rose hover:underline" onClick={() => setWords(one)}>
                {one}
              </button>
            ))}
          </p>
        )}
        <fieldset className="mb-2">
          <legend className="label">The next one is written</legend>
          <label className="flex min-h-7 items-center gap-2">
            <input
              type="radio"
              name="mode"
              className="accent-rose"
              checked={mode === "finished"}
              onChange={() => setMode("finished")}
            />
            when the last one is finished
          </label>
          <label className="flex min-h-7 items-center gap-2">
            <input
              type="radio"
              name="mode"
              className="accent-rose"
              checked={mode === "ahead"}
              onChange={() => setMode("ahead")}
            />
            ahead, so that
            <input
              type="number"
              min={1}
              max={12}
              className="input w-16"
              aria-label="How many are kept ahead"
              value={ahead}
              onChange={(event) => {
                setMode("ahead");
                setAhead(Number(event.target.value));
              }}
            />
            stand before us
          </label>
        </fieldset>
        <div className="-mx-2">
          <Tick checked={off} onChange={setOff}>
            move off days that are not worked
          </Tick>
        </div>
        {preview.data && asked === words.trim() && (
          <div className="mt-2 bg-band px-3 py-2">
            <p className="text-[12px] text-ink-2">The next days</p>
            <ol className="grid grid-cols-2 gap-x-4" aria-label="The next days">
              {preview.data.days.map((day) => (
                <li key={day}>{sayWeekday(day, now)}</li>
              ))}
            </ol>
            {!preview.data.days.length && <p>None: the rule has ended.</p>}
            {preview.data.note && <p className="mt-1.5 text-[12.5px] text-ink-2">{preview.data.note}</p>}
          </div>
        )}
        <Wrong text={wrong || (preview.error && asked === words.trim() ? sentence(preview.error) : "")} />
        <div className="mt-4 flex gap-2">
          <Button look="go" type="submit" disabled={!words.trim()}>
            Repeat it so
          </Button>
          {row.repeats && (
            <Button look="quiet" onClick={() => save(null)}>
              Repeat no longer
            </Button>
          )}
        </div>
      </form>
    </Modal>
  );
}
