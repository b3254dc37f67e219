/** Levelling: choose what may move, get a draft that shows all that it moves. */
import { X } from "lucide-react";
import { useState } from "react";
import { useNavigate } from "react-router";
import { client, newId, type Project, type Schemas, send, sentence } from "../../data/api";
import { useMe } from "../../data/hooks";
import { useJob } from "../../data/use-job";
import { Button, IconButton, Modal, Pop, Wrong } from "../../parts/basics";
import { count, sayDay, sayHours } from "../../parts/format";
import { Picker } from "../../parts/picker";
import { Progress } from "../../parts/progress";
import { useRows } from "../../tasks/rows";
import { hasCapacity, type Line } from "./use-load";

type Levelled = Schemas["LevelledOut"];

export function Level({
  project,
  lines,
  first,
  last,
  close,
}: {
  project: Project;
  lines: Line[];
  first: string;
  last: string;
  close: () => void;
}) {
  const { now } = useMe();
  const navigate = useNavigate();
  const [whom, setWhom] = useState<"over" | "all" | "some">("over");
  const [some, setSome] = useState<string[]>([]);
  const [keeping, setKeeping] = useState<string[]>([]);
  const rows = useRows(project.code);
  const [may, setMay] = useState<"slack" | "finish">("slack");
  const [looks, setLooks] = useState<"0" | "20" | "120">("0");
  const [busy, setBusy] = useState(false);
  const [wrong, setWrong] = useState("");
  const [found, setFound] = useState<Levelled | null>(null);
  const all = lines.filter(hasCapacity).map((line) => line.who);
  const names = new Map(lines.map((line) => [line.who, line.name]));
  const long = useJob(project.code, "level", (job) => {
    if (job.stage === "refused") setWrong(job.sentence ?? "");
    else if (job.levelled) setFound(job.levelled);
  });
  const tasks = [...(rows.data?.byId.values() ?? [])]
    .filter((row) => row.state_class === "queued" || row.is_summary)
    .map((row) => ({ id: row.id, name: row.title }));
  const waits = busy || !!long.job;
  async function propose(event: React.FormEvent) {
    event.preventDefault();
    setBusy(true);
    setWrong("");
    const path = { code: project.code };
    try {
      if (found?.draft_id) {
        // what was proposed before and not looked at is of no use any more
        const draft_id = found.draft_id;
        setFound(null);
        await send((headers) =>
          client.DELETE("/api/projects/{code}/drafts/{draft_id}", { params: { path: { ...path, draft_id } }, headers }),
        );
      }
      const body = {
        draft_id: newId(),
        whom: whom === "over" ? null : whom === "all" ? all : some,
        keeping,
        first,
        last,
        within_slack: may === "slack",
        seconds: Number(looks),
      };
      const answer = await send((headers) =>
        client.POST("/api/projects/{code}/level", { params: { path }, body, headers }),
      );
      if (answer.job) long.follow(answer.job);
      else setFound(answer);
    } catch (error) {
      setWrong(sentence(error));
    } finally {
      setBusy(false);
    }
  }
  return (
    <Modal open onOpenChange={close} title={`Level ${project.name}`} width={480}>
      <form onSubmit={propose}>
        <p className="mb-3 text-ink-2">
          Work of this project that begins from {sayDay(first, now)} to {sayDay(last, now)} is moved until nobody is
          over, by this and all other projects. Work that has begun, pins and no-later dates stay, and so does work of
          other projects. The plan stays as it is: you get a draft.
        </p>
        <Radios
          legend="Whose work"
          value={whom}
          onChange={setWhom}
          of={[
            ["over", "of whoever is over in these days"],
            ["all", `of all ${all.length} in the list`],
            ["some", "of these"],
          ]}
        />
        {whom === "some" && (
          <Chosen
            ids={some}
            change={setSome}
            add="Add somebody"
            label="Find a person or crew"
            choices={all.map((id) => ({ id, name: names.get(id) ?? "" }))}
          />
        )}
        <Radios
          legend="What may move"
          value={may}
          onChange={setMay}
          of={[
            ["slack", "only within slack: the finish stays"],
            ["finish", "the finish too"],
          ]}
        />
        <p className="label">What must not move</p>
        <Chosen
          ids={keeping}
          change={setKeeping}
          add="Add a task, with all below it"
          label="Find a task"
          choices={tasks}
        />
        <Radios
          legend="How long to look"
          value={looks}
          onChange={setLooks}
          of={[
            ["0", "an answer at once"],
            ["20", "20 seconds, for a better one"],
            ["120", "two minutes"],
          ]}
        />
        <Wrong text={wrong} />
        {long.job && <Progress doing={long.job.doing || "waiting"} percent={long.job.percent} onCancel={long.cancel} />}
        {found && !waits && <Outcome found={found} now={now} names={names} />}
        <div className="flex gap-2">
          {found?.draft_id && !waits && (
            <Button look="go" onClick={() => navigate(`/p/${project.code}/compare?draft=${found.draft_id}`)}>
              Look at the draft
            </Button>
          )}
          <Button look={found?.draft_id && !waits ? "quiet" : "go"} type="submit" disabled={waits}>
            {waits ? "Looking …" : found ? "Propose again" : "Propose"}
          </Button>
        </div>
      </form>
    </Modal>
  );
}

/** What was found: how much moves, and who is over by how much then. */
function Outcome({ found, now, names }: { found: Levelled; now: Date; names: Map<string, string> }) {
  const left = found.still.filter((one) => one.after > 0);
  const freed = found.still.length - left.length;
  return (
    <div role="status" className="mb-3 border-l-[3px] border-rose bg-rose-soft px-2 py-1.5">
      <p>
        {!found.moved
          ? found.still.length
            ? "Nothing can move that would help. "
            : "Nobody is over in these days: nothing has to move. "
          : `${count(found.moved, "task moves", "tasks move")}; the project finishes ${finishes(found, now)}. `}
        {freed > 0 && `${count(freed, "person is", "people are")} no longer over. `}
      </p>
      {left.length > 0 && (
        <>
          <p className="mt-1">Still over then:</p>
          <ul aria-label="Still over" className="max-h-36 overflow-y-auto">
            {left.map((one) => (
              <li key={one.who}>
                <b>{names.get(one.who) ?? "Somebody"}</b> by {sayHours(one.after)}
                {one.before !== one.after && `, before by ${sayHours(one.before)}`}
                {one.without_room > 0 && `; no room for ${count(one.without_room, "task")} where they may stand`}
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}

function finishes({ finish, finish_before }: Levelled, now: Date): string {
  if (!finish || !finish_before || finish.slice(0, 10) === finish_before.slice(0, 10)) return "as before";
  return `on ${sayDay(finish, now)}, not ${sayDay(finish_before, now)}`;
}

/** Some things that were chosen, each with a way out, and a way to add one. */
function Chosen({
  ids,
  change,
  choices,
  add,
  label,
}: {
  ids: string[];
  change: (ids: string[]) => void;
  choices: { id: string; name: string }[];
  add: string;
  label: string;
}) {
  const [open, setOpen] = useState(false);
  const names = new Map(choices.map((one) => [one.id, one.name]));
  return (
    <div className="mb-3 flex flex-wrap items-center gap-1.5">
      {ids.map((id) => (
        <span key={id} className="flex max-w-full items-center bg-band pl-2">
          <span className="truncate">{names.get(id) ?? "A task"}</span>
          <IconButton
            label={`Take out ${names.get(id) ?? "it"}`}
            onClick={() => change(ids.filter((one) => one !== id))}
          >
            <X size={13} />
          </IconButton>
        </span>
      ))}
      <Pop
        label={label}
        open={open}
        onOpenChange={setOpen}
        trigger={
          <button type="button" className="text-rose hover:underline">
            + {add}
          </button>
        }
      >
        <Picker
          label={label}
          choices={choices.filter((one) => !ids.includes(one.id))}
          onChoose={(id) => {
            setOpen(false);
            change([...ids, id]);
          }}
        />
      </Pop>
    </div>
  );
}

function Radios<T extends string>({
  legend,
  value,
  onChange,
  of,
}: {
  legend: string;
  value: T;
  onChange: (value: T) => void;
  of: [T, string][];
}) {
  return (
    <fieldset className="mb-3">
      <legend className="label">{legend}</legend>
      {of.map(([id, name]) => (
        <label key={id} className="flex min-h-6 items-center gap-2">
          <input
            type="radio"
            className="accent-rose"
            name={legend}
            checked={value === id}
            onChange={() => onChange(id)}
          />
          {name}
        </label>
      ))}
    </fieldset>
  );
}
