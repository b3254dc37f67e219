/** One's own password, and the keys that the screens understand. */
import { useState } from "react";
import { client, type Problem, send } from "../../data/api";
import { useMe } from "../../data/hooks";
import { note } from "../../data/notes";
import { Button, Field } from "../../parts/basics";
import { SheetBar } from "../../shell/sheet-bar";
import { TitleLine } from "../../shell/title-line";

const KEYS: [string, [string, string][]][] = [
  [
    "Everywhere",
    [
      ["/", "find work, or write a new task"],
      ["Ctrl Enter", "in that field: write the line as a task"],
      ["Ctrl Z", "take the last change back"],
      ["Ctrl Shift Z", "do it again"],
      ["Escape", "close the task, or what floats"],
    ],
  ],
  [
    "Outline",
    [
      ["arrows, Tab", "go from cell to cell; left and right fold a task that has tasks under it"],
      ["Enter, F2 or typing", "edit the cell; Enter saves, Escape puts back"],
      ["Ctrl Enter", "write a task below"],
      ["Alt arrows", "indent, outdent, move up and down"],
      ["Shift arrows, Space", "choose several"],
      ["Delete", "put into the bin"],
      ["Alt Enter", "open the task"],
      ["Ctrl C", "copy the cell, or the chosen tasks with their cells"],
      ["Ctrl V", "at a title lines become tasks; elsewhere they fill cells"],
    ],
  ],
  [
    "Board",
    [
      ["arrows", "go from slip to slip"],
      ["Alt arrows", "move the slip"],
      ["Enter", "open the task"],
    ],
  ],
  [
    "Schedule",
    [
      ["arrows", "go from row to row, and along"],
      ["Alt left, right", "move the bar by a day; with Shift stretch it"],
      ["+ and -", "change the scale"],
      ["Enter", "open the task"],
    ],
  ],
];

export default function Account() {
  const me = useMe();
  const [current, setCurrent] = useState("");
  const [next, setNext] = useState("");
  const [wrong, setWrong] = useState<Problem | null>(null);
  async function submit(event: React.FormEvent) {
    event.preventDefault();
    try {
      await send((headers) => client.PUT("/api/session/password", { body: { current, new: next }, headers }));
      setCurrent("");
      setNext("");
      setWrong(null);
      note("Your password is changed. Other sessions of yours have ended.");
    } catch (error) {
      setWrong(error as Problem);
    }
  }
  return (
    <>
      <TitleLine title={me.person.name}>
        <span>
          {me.person.email}, {me.person.role}
        </span>
      </TitleLine>
      <div
        className="mt-2 grid min-h-0 flex-1 content-start gap-10 overflow-auto border-t border-rule bg-sheet px-3 py-4 sm:px-[18px] lg:grid-cols-[320px_1fr]"
        tabIndex={-1}
      >
        <form onSubmit={submit}>
          <h2 className="mb-2 text-[17px]">Password</h2>
          {me.person.can_sign_in && (
            <Field label="Present password" error={wrong?.field === "current" ? wrong.sentence : undefined}>
              <input
                type="password"
                autoComplete="current-password"
                className="input w-full"
                value={current}
                onChange={(event) => setCurrent(event.target.value)}
              />
            </Field>
          )}
          <Field
            label="New password"
            hint="Ten characters or more."
            error={wrong && wrong.field !== "current" ? wrong.sentence : undefined}
          >
            <input
              type="password"
              autoComplete="new-password"
              className="input w-full"
              value={next}
              onChange={(event) => setNext(event.target.value)}
            />
          </Field>
          <Button look="go" type="submit" disabled={!next}>
            Change the password
          </Button>
        </form>
        <section>
          <h2 className="mb-2 text-[17px]">Keys</h2>
          <div className="grid gap-x-10 gap-y-4 sm:grid-cols-2">
            {KEYS.map(([title, keys]) => (
              <div key={title}>
                <h3 className="font-sans text-[13px] font-semibold">{title}</h3>
                <dl>
                  {keys.map(([key, what]) => (
                    <div key={key} className="flex gap-3 border-b border-rule py-1">
                      <dt className="w-36 flex-none font-[550]">{key}</dt>
                      <dd className="text-ink-2">{what}</dd>
                    </div>
                  ))}
                </dl>
              </div>
            ))}
          </div>
        </section>
      </div>
      <SheetBar sheets={[{ to: "/account", name: "Account" }]} current="Account" />
    </>
  );
}
