/** One's own password, and the keys that the screens understand. */

import { client, send } from "../../data/api";
import { useMe } from "../../data/hooks";
import { note } from "../../data/notes";
import { Button, Wrong } from "../../parts/basics";
import { newPassword, Password, somePassword, useSending } from "../../parts/form";
import { z } from "../../parts/zod";
import { KeyLists } from "../../shell/help-page";
import { SheetBar } from "../../shell/sheet-bar";
import { TitleLine } from "../../shell/title-line";

export default function Account() {
  const me = useMe();
  const known = me.person.can_sign_in;
  const shape = z.object({ current: known ? somePassword : z.string(), new: newPassword });
  const form = useSending(shape, { current: "", new: "" }, async (body) => {
    await send((headers) => client.PUT("/api/session/password", { body, headers }));
    form.reset();
    note("Your password is changed. Other sessions of yours have ended.");
  });
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
        <form onSubmit={form.submit}>
          <h2 className="mb-2 text-[17px]">Password</h2>
          {known && <Password label="Present password" error={form.wrong("current")} {...form.register("current")} />}
          <Password fresh label="New password" error={form.wrong("new")} {...form.register("new")} />
          <Wrong text={form.wrong("root")} />
          <Button look="go" type="submit" disabled={form.isSubmitting}>
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
