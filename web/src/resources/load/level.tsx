/** Levelling: choose what may move, get a draft that shows all that it moves. */
import { useState } from "react";
import { useNavigate } from "react-router";
import { client, newId, type Project, type Schemas, send, sentence } from "../../data/api";
import { useMe, usePeople } from "../../data/hooks";
import { Button, Modal, Wrong } from "../../parts/basics";
import { count, sayDay } from "../../parts/format";
import type { Line } from "./use-load";

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
  const { byId } = usePeople();
  const navigate = useNavigate();
  const [whom, setWhom] = useState<"over" | "all">("over");
  const [may, setMay] = useState<"slack" | "finish">("slack");
  const [busy, setBusy] = useState(false);
  const [wrong, setWrong] = useState("");
  const [found, setFound] = useState<Levelled | null>(null);
  const all = lines.filter((line) => line.kind !== "nobody").map((line) => line.who);
  async function propose(event: React.FormEvent) {
    event.preventDefault();
    setBusy(true);
    setWrong("");
    try {
      const body = {
        draft_id: newId(),
        whom: whom === "over" ? null : all,
        first,
        last,
        within_slack: may === "slack",
      };
      setFound(
        await send((headers) =>
          client.POST("/api/projects/{code}/level", { params: { path: { code: project.code } }, body, headers }),
        ),
      );
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
          over by it. Work that has begun, pins and no-later dates stay. The plan stays as it is: you get a draft.
        </p>
        <Radios
          legend="Whose work"
          value={whom}
          onChange={setWhom}
          of={[
            ["over", "of whoever is over in these days"],
            ["all", `of all ${all.length} in the list`],
          ]}
        />
        <Radios
          legend="What may move"
          value={may}
          onChange={setMay}
          of={[
            ["slack", "only within slack: the finish stays"],
            ["finish", "the finish too"],
          ]}
        />
        <Wrong text={wrong} />
        {found && (
          <p role="status" className="mb-3 border-l-[3px] border-rose bg-rose-soft px-2 py-1.5">
            {!found.moved && !found.over.length && "Nobody is over by work that can be moved: nothing has to move. "}
            {found.moved > 0 &&
              `${count(found.moved, "task moves", "tasks move")}; the project finishes ${
                found.finish.slice(0, 10) === found.finish_before.slice(0, 10)
                  ? "as before"
                  : `on ${sayDay(found.finish, now)}, not ${sayDay(found.finish_before, now)}`
              }. `}
            {found.over.map(
              (one) =>
                `For ${count(one.tasks.length, "task")} of ${byId.get(one.who)?.name ?? "a crew"} there is no room where they may stand. `,
            )}
          </p>
        )}
        <div className="flex gap-2">
          {found?.draft_id && (
            <Button look="go" onClick={() => navigate(`/p/${project.code}/compare?draft=${found.draft_id}`)}>
              Look at the draft
            </Button>
          )}
          <Button look={found?.draft_id ? "quiet" : "go"} type="submit" disabled={busy}>
            {busy ? "Looking …" : found ? "Propose again" : "Propose"}
          </Button>
        </div>
      </form>
    </Modal>
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
