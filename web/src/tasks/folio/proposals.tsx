/** Help with texts: a description or tasks below are proposed; the person reviews, changes, inserts or asks again. */
import { useState } from "react";
import { ask, client, type Schemas, sentence } from "../../data/api";
import { Button, Field, Modal, Tick, Wrong } from "../../parts/basics";
import { count } from "../../parts/format";
import { RichView } from "../../parts/rich-text/view";
import { Select } from "../../parts/select";
import { useKeptText } from "../../talk/folio/kept-text";
import type { Changes } from "../changes";

type Wish = Schemas["DescriptionIn"];

/** Who proposed it, said plainly. */
const Source = ({ source }: { source: string }) => (
  <p className="mt-2 bg-slate-soft px-2 py-1 text-[12px]">
    {source === "stand-in"
      ? "Composed by the local stand-in from templates and from similar finished tasks. No outside service was asked."
      : `Proposed by ${source}.`}{" "}
    Nothing is inserted until you do it.
  </p>
);

export function ProposeDescription({
  id,
  insert,
  close,
}: {
  id: string;
  insert: (html: string) => void;
  close: () => void;
}) {
  const [points, setPoints] = useKeptText(`points.${id}`);
  const [tone, setTone] = useState<Wish["tone"]>("plain");
  const [length, setLength] = useState<Wish["length"]>("medium");
  const [again, setAgain] = useState(0);
  const [proposed, setProposed] = useState<Schemas["DescriptionOut"] | null>(null);
  const [wrong, setWrong] = useState("");
  const [busy, setBusy] = useState(false);
  async function propose() {
    setBusy(true);
    try {
      const lines = (points ?? "").split("\n").filter((line) => line.trim());
      const body = { points: lines, tone, length, again };
      setProposed(
        await ask(
          client.POST("/api/tasks/{task_id}/proposals/description", { params: { path: { task_id: id } }, body }),
        ),
      );
      setAgain(again + 1);
      setWrong("");
    } catch (error) {
      setWrong(sentence(error));
    } finally {
      setBusy(false);
    }
  }
  return (
    <Modal open onOpenChange={close} title="Draft a description" width={640}>
      <Field label="Talking points" hint="One a line.">
        <textarea
          className="input h-24 w-full py-1"
          placeholder={"Twelve bars in gunmetal\nThe old profile"}
          value={points ?? ""}
          onChange={(event) => setPoints(event.target.value || null)}
        />
      </Field>
      <div className="flex items-end gap-3">
        <Field label="Tone">
          <Select value={tone} onChange={(event) => setTone(event.target.value as Wish["tone"])}>
            <option>plain</option>
            <option>friendly</option>
            <option>formal</option>
          </Select>
        </Field>
        <Field label="Length">
          <Select value={length} onChange={(event) => setLength(event.target.value as Wish["length"])}>
            <option>short</option>
            <option>medium</option>
            <option>long</option>
          </Select>
        </Field>
        <Button className="mb-3" onClick={propose} disabled={busy}>
          {proposed ? "Ask again" : "Propose"}
        </Button>
      </div>
      <Wrong text={wrong} />
      {proposed && (
        <section aria-label="Proposed description" aria-live="polite">
          <div className="max-h-72 overflow-auto border border-rule-2 p-2">
            <RichView html={proposed.html} />
          </div>
          <Source source={proposed.source} />
          <Button
            look="go"
            className="mt-3"
            onClick={() => {
              insert(proposed.html);
              setPoints(null);
              close();
            }}
          >
            Take it into the description
          </Button>
        </section>
      )}
    </Modal>
  );
}

export function ProposeTasks({ id, changes, close }: { id: string; changes: Changes; close: () => void }) {
  const [again, setAgain] = useState(0);
  const [proposed, setProposed] = useState<Schemas["TasksOut"] | null>(null);
  const [titles, setTitles] = useState<{ title: string; on: boolean }[]>([]);
  const [wrong, setWrong] = useState("");
  async function propose() {
    try {
      const found = await ask(
        client.POST("/api/tasks/{task_id}/proposals/tasks", { params: { path: { task_id: id } }, body: { again } }),
      );
      setProposed(found);
      setTitles(found.titles.map((title) => ({ title, on: true })));
      setAgain(again + 1);
      setWrong("");
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  const chosen = titles.filter((one) => one.on && one.title.trim());
  async function insert() {
    try {
      await changes.add(chosen.map((one) => ({ title: one.title, parent_id: id, after_id: "end" })));
      close();
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <Modal open onOpenChange={close} title="Propose tasks below" width={520}>
      {proposed ? (
        <section aria-label="Proposed tasks">
          {titles.map((one, index) => (
            <div key={`${again} ${proposed.titles[index]}`} className="flex items-center gap-1">
              <Tick checked={one.on} onChange={(on) => setTitles(titles.with(index, { ...one, on }))}>
                <span className="sr-only">{one.title}</span>
              </Tick>
              <input
                className="input flex-1"
                aria-label={`Title ${index + 1}`}
                value={one.title}
                onChange={(event) => setTitles(titles.with(index, { ...one, title: event.target.value }))}
              />
            </div>
          ))}
          {!titles.length && <p>Nothing more comes to mind.</p>}
          <Source source={proposed.source} />
        </section>
      ) : (
        <p className="text-ink-2">
          Steps are proposed from similar finished tasks, their checklists and the tasks below them.
        </p>
      )}
      <Wrong text={wrong} />
      <div className="mt-3 flex gap-2">
        {proposed && (
          <Button look="go" onClick={insert} disabled={!chosen.length}>
            Write {count(chosen.length, "task")} below
          </Button>
        )}
        <Button onClick={propose}>{proposed ? "Ask again" : "Propose"}</Button>
      </div>
    </Modal>
  );
}
