/** Signing in again over the page. */
import { ask, client } from "../data/api";
import { useMe } from "../data/hooks";
import { saveStatus } from "../data/save-status";
import { Button, Modal, Wrong } from "../parts/basics";
import { Password, somePassword, useSending } from "../parts/form";
import { z } from "../parts/zod";

/** The session has ended: sign in without leaving the page, so that nothing typed is lost. */
export default function SignInAgain() {
  const me = useMe();
  const known = me.person.can_sign_in;
  const shape = z.object({ password: known ? somePassword : z.string() });
  const form = useSending(shape, { password: "" }, async ({ password }) => {
    if (known) await ask(client.POST("/api/session", { body: { email: me.person.email, password } }));
    else await ask(client.POST("/api/session/demo", { body: { person_id: me.person.id } }));
    form.reset();
    saveStatus.signedIn();
  });
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
