/** One's own password, and the keys that the screens understand. */
import { useState } from "react";
import { client, type Problem, send } from "../../data/api";
import { useMe } from "../../data/hooks";
import { note } from "../../data/notes";
import { Button, Field } from "../../parts/basics";
import { KeyLists } from "../../shell/help";
import { SheetBar } from "../../shell/sheet-bar";
import { TitleLine } from "../../shell/title-line";

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
          <div className="gap-x-10 sm:columns-2">
            <KeyLists />
          </div>
        </section>
      </div>
      <SheetBar sheets={[{ to: "/account", name: "Account" }]} current="Account" />
    </>
  );
}
