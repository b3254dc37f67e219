/** One's own password, and the keys that the screens understand. */

import { client, send, sentence } from "../../data/api";
import { useMe, useWork } from "../../data/hooks";
import { note } from "../../data/notes";
import { Button, Wrong } from "../../parts/basics";
import { newPassword, Password, somePassword, useSending } from "../../parts/form";
import { Select } from "../../parts/select";
import { z } from "../../parts/zod";
import { useDashboards } from "../../reports/dashboards/dashboards";
import { KeyLists } from "../../shell/help-page";
import { SheetBar } from "../../shell/sheet-bar";
import { TitleLine } from "../../shell/title-line";
import { usePreferences, useSetPreferences } from "../preferences";

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
        <div className="grid content-start gap-8">
          <Home />
          <form onSubmit={form.submit}>
            <h2 className="mb-2 text-[17px]">Password</h2>
            {known && <Password label="Present password" error={form.wrong("current")} {...form.register("current")} />}
            <Password fresh label="New password" error={form.wrong("new")} {...form.register("new")} />
            <Wrong text={form.wrong("root")} />
            <Button look="go" type="submit" disabled={form.isSubmitting}>
              Change the password
            </Button>
          </form>
        </div>
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

const PLACES = [
  ["", "where my role works most"],
  ["desk", "the desk"],
  ["work", "all projects"],
  ["goals", "goals"],
  ["reports", "status reports"],
] as const;

/** Where Rhodonite opens. */
function Home() {
  const { home } = usePreferences();
  const set = useSetPreferences();
  const projects = useWork().data ?? [];
  const boards = useDashboards().data ?? [];
  const homes = [
    ...PLACES,
    ...projects.map(({ code, name }) => [`p/${code}`, `${code} ${name}`] as const),
    ...boards.map(({ id, name }) => [`reports/dashboard/${id}`, `the dashboard ${name}`] as const),
  ];
  const known = homes.some(([id]) => id === home);
  return (
    <section>
      <h2 className="mb-2 text-[17px]">Rhodonite opens at</h2>
      <Select
        aria-label="Rhodonite opens at"
        className="w-full"
        value={home}
        onChange={(event) =>
          set({ home: event.target.value }).then(
            () => note("Kept."),
            (error) => note(sentence(error), "wrong"),
          )
        }
      >
        {homes.map(([id, words]) => (
          <option key={id} value={id}>
            {words}
          </option>
        ))}
        {!known && (
          <option value={home}>{home.startsWith("p/") ? home.slice(2) : "a dashboard"}, which is not there</option>
        )}
      </Select>
    </section>
  );
}
