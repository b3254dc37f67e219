/** What opens from the timer: its task and note, what it really was where it was forgotten; or tasks to start it on. */
import { format, parseISO } from "date-fns";
import { useState } from "react";
import { Link } from "react-router";
import { sentence } from "../data/api";
import { useMe } from "../data/hooks";
import { Button, Tick, Wrong } from "../parts/basics";
import { sayWhen } from "../parts/format";
import { Picker } from "../parts/picker";
import { TextField } from "../parts/text-field";
import { TaskFinder, taskChoice } from "../tasks/folio/task-finder";
import { sayTime } from "./say";
import { type Timer, useTimerActions, useTimeSheet } from "./time";

export default function TimerCard({
  timer,
  minutes,
  close,
}: {
  timer: Timer | null;
  minutes: number;
  close: () => void;
}) {
  return timer ? <Running {...{ timer, minutes, close }} /> : <StartOn close={close} />;
}

function Running({ timer, minutes, close }: { timer: Timer; minutes: number; close: () => void }) {
  const { now } = useMe();
  const { change, stop, discard } = useTimerActions();
  const [hours, setHours] = useState("");
  const [wrong, setWrong] = useState("");
  const tell = (doing: Promise<unknown>) => doing.then(close).catch((error) => setWrong(sentence(error)));
  return (
    <div className="p-1.5">
      <p className="mb-1 text-[15px] leading-snug font-semibold">
        {timer.code ? (
          <Link className="hover:underline" to={`/p/${timer.code}/outline?open=${timer.task_id}`} onClick={close}>
            {timer.title}
          </Link>
        ) : (
          "A task that you may not see any more"
        )}
        {timer.code && (
          <span className="ml-2 text-[12px] font-normal text-ink-2">
            {timer.code} {timer.number}
          </span>
        )}
      </p>
      <p className="mb-2 text-ink-2">
        Since {sayWhen(timer.started, now)}: {sayTime(minutes)}
      </p>
      <TextField
        value={timer.note}
        label="Note of the timer"
        placeholder="what it goes into"
        className="w-full !border-rule-2 px-1.5"
        onSave={(note) => change({ note }).then(() => undefined)}
      />
      <div className="-mx-1 my-1">
        <Tick checked={timer.billable} onChange={(billable) => change({ billable }).catch(() => undefined)}>
          Can be charged
        </Tick>
      </div>
      <form
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          tell(stop(hours.trim() ? { hours } : {}));
        }}
      >
        {timer.forgotten && (
          <p className="mb-1 font-semibold text-ember">
            It has run since {format(parseISO(timer.started), "EEE d MMM, HH:mm")}, longer than a day’s work. How long
            was it really?
          </p>
        )}
        <label className="flex items-center gap-2">
          <span className={timer.forgotten ? "font-semibold" : "text-ink-2"}>It really was</span>
          <input
            className="input w-24"
            aria-label="How long it really was"
            placeholder={timer.forgotten ? "6:30" : sayTime(minutes)}
            value={hours}
            onChange={(event) => {
              setHours(event.target.value);
              setWrong("");
            }}
          />
        </label>
        <Wrong text={wrong} />
        <div className="mt-2 flex gap-2">
          <Button look="go" type="submit">
            Stop the timer
          </Button>
          <Button look="quiet" onClick={() => tell(discard())}>
            Discard it
          </Button>
        </div>
      </form>
    </div>
  );
}

/** Tasks to start the timer on: those of the week, and any that can be found. */
function StartOn({ close }: { close: () => void }) {
  const { now } = useMe();
  const { start } = useTimerActions();
  const sheet = useTimeSheet(null, format(now, "yyyy-MM-dd"));
  const [wrong, setWrong] = useState("");
  const begin = (task: { id: string; title: string }) =>
    start(task)
      .then(close)
      .catch((error) => setWrong(sentence(error)));
  const near = [...(sheet.data?.rows ?? []), ...(sheet.data?.offered ?? [])].filter((one) => one.may_enter).slice(0, 8);
  return (
    <div className="p-1">
      <p className="px-1 pb-1 text-[12px] text-ink-2">Start the timer on</p>
      {near.length > 0 && (
        <Picker
          plain
          label="Tasks of this week"
          className="w-full"
          choices={near.map((one) => taskChoice({ ...one, id: one.task_id }))}
          onChoose={(id) => {
            const one = near.find((each) => each.task_id === id);
            if (one) begin({ id, title: one.title });
          }}
        />
      )}
      <div className="mt-1 border-t border-rule pt-1.5">
        <TaskFinder without="" onChoose={begin} />
      </div>
      <Wrong text={wrong} />
    </div>
  );
}
