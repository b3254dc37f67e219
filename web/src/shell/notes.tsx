/** Notes at the foot, the dialog for two people's edits of one field, and signing in again over the page. */

import { X } from "lucide-react";
import { z } from "zod";
import { ask, type ClashField, client } from "../data/api";
import { useClash } from "../data/clash";
import { useMe, usePeople } from "../data/hooks";
import { dismiss, useNotes } from "../data/notes";
import { saveStatus, useSaveState } from "../data/save-status";
import { Button, IconButton, Modal, Wrong } from "../parts/basics";
import { Password, somePassword, useSending } from "../parts/form";
import { sayDay } from "../parts/format";

export function Notes() {
  const notes = useNotes();
  return (
    <div
      className="pointer-events-none fixed bottom-12 left-1/2 z-40 grid w-[min(520px,94vw)] -translate-x-1/2 gap-1.5"
      aria-live="polite"
    >
      {notes.map((note) => (
        <div
          key={note.id}
          role={note.tone === "wrong" ? "alert" : "status"}
          className={`pointer-events-auto flex items-center gap-3 border px-3 py-2 shadow-[0_14px_34px_-12px_#231a2455] ${
            note.tone === "wrong" ? "border-ember bg-ember-soft text-ink" : "border-ink bg-ink text-paper"
          }`}
        >
          <span className="flex-1">{note.text}</span>
          {note.action && (
            <button
              type="button"
              className="font-semibold underline"
              onMouseDown={(event) => event.preventDefault()} // whoever types goes on typing
              onClick={() => {
                dismiss(note.id);
                note.action?.run();
              }}
            >
              {note.action.label}
            </button>
          )}
          <IconButton
            label="Dismiss"
            className="size-5 text-current hover:bg-transparent"
            onClick={() => dismiss(note.id)}
          >
            <X size={13} />
          </IconButton>
        </div>
      ))}
    </div>
  );
}

const NAMES: Record<string, string> = {
  owner_id: "owner",
  state_id: "state",
  percent: "percent done",
  held_reason: "held",
};

function Value({ field, value }: { field: string; value: unknown }) {
  const { byId } = usePeople();
  if (value === null || value === "") return <i>none</i>;
  if (field === "owner_id") return byId.get(String(value))?.name ?? "somebody";
  if (["start", "finish", "deadline"].includes(field) && /^\d{4}-/.test(String(value))) return sayDay(String(value));
  return String(value);
}

function ClashRow({ clash, title }: { clash: ClashField; title: string }) {
  const { byId } = usePeople();
  return (
    <tr className="border-t border-rule align-top">
      <td className="py-1.5 pr-3">
        <b className="block font-semibold">{title}</b>
        {NAMES[clash.field] ?? clash.field}
      </td>
      <td className="py-1.5 pr-3">
        <Value field={clash.field} value={clash.yours} />
      </td>
      <td className="py-1.5">
        <Value field={clash.field} value={clash.theirs} />
        <span className="block text-[12px] text-ink-2">{byId.get(clash.by)?.name}</span>
      </td>
    </tr>
  );
}

export function ClashDialog() {
  const clash = useClash();
  if (!clash) return null;
  return (
    <Modal open onOpenChange={() => clash.answer(false)} title="Two people changed the same field" keepOpen>
      <p className="mb-3 text-ink-2">{clash.problem.sentence}</p>
      <table className="mb-4 w-full">
        <thead>
          <tr className="text-left text-ink-2">
            <th className="font-normal">Field</th>
            <th className="font-normal">Yours</th>
            <th className="font-normal">Theirs</th>
          </tr>
        </thead>
        <tbody>
          {clash.problem.clashes.map((one) => (
            <ClashRow key={`${one.task_id}${one.field}`} clash={one} title={clash.titleOf(one.task_id ?? "")} />
          ))}
        </tbody>
      </table>
      <div className="flex gap-2">
        <Button look="go" onClick={() => clash.answer(true)}>
          Keep mine
        </Button>
        <Button onClick={() => clash.answer(false)}>Keep theirs</Button>
      </div>
    </Modal>
  );
}

/** The session has ended: sign in without leaving the page, so that nothing typed is lost. */
export function SignInAgain() {
  const { signedOut } = useSaveState();
  const me = useMe();
  const known = me.person.can_sign_in;
  const shape = z.object({ password: known ? somePassword : z.string() });
  const form = useSending(shape, { password: "" }, async ({ password }) => {
    if (known) await ask(client.POST("/api/session", { body: { email: me.person.email, password } }));
    else await ask(client.POST("/api/session/demo", { body: { person_id: me.person.id } }));
    form.reset();
    saveStatus.signedIn();
  });
  if (!signedOut) return null;
  return (
    <Modal open onOpenChange={() => {}} title="Your session has ended" keepOpen>
      <form onSubmit={form.submit}>
        <p className="mb-3 text-ink-2">
          Sign in again as {me.person.name}. What you typed is kept and will be saved then.
        </p>
        {known && <Password label="Password" error={form.wrong("password")} {...form.register("password")} />}
        <Wrong text={form.wrong("root")} />
        <Button look="go" type="submit">
          Sign in
        </Button>
      </form>
    </Modal>
  );
}
