/** Signing in; in the demo, entering as one of four people; accepting an invitation. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { ask, client, type Schemas, sentence } from "../../data/api";
import { Button, Failed, Field, Wrong } from "../../parts/basics";
import { newPassword, Password, somePassword, useSending } from "../../parts/form";
import { Tile } from "../../parts/tile";
import { z } from "../../parts/zod";
import { Logo } from "../../shell/masthead";

const credentials = z.object({ email: z.string().trim().min(1, "Type your e-mail address."), password: somePassword });
const chosen = z.object({ password: newPassword });

const MAY: Record<string, string> = {
  administrator: "invites people and sees everything",
  manager: "starts and leads projects",
  member: "works in projects",
  guest: "sees the projects they were asked into",
};

function Frame({ children }: { children: React.ReactNode }) {
  return (
    <div className="flex h-full flex-col overflow-auto">
      <header className="flex h-11 flex-none items-center gap-2 bg-mast px-[18px] font-head text-[16px] font-semibold text-white">
        <Logo /> Rhodonite
      </header>
      <main className="grid flex-1 place-items-center bg-paper p-4">{children}</main>
    </div>
  );
}

export function SignIn({ session }: { session: Schemas["SessionOut"] }) {
  const queries = useQueryClient();
  const [refused, setRefused] = useState("");
  const form = useSending(credentials, { email: "", password: "" }, async (body) => {
    await ask(client.POST("/api/session", { body }));
    await queries.invalidateQueries();
  });
  async function enter(person_id: string) {
    try {
      await ask(client.POST("/api/session/demo", { body: { person_id } }));
      await queries.invalidateQueries();
    } catch (error) {
      setRefused(sentence(error));
    }
  }
  return (
    <Frame>
      <div
        className={`cut-16 grid w-full border border-ink bg-sheet ${session.demo.length ? "max-w-3xl md:grid-cols-2" : "max-w-sm"}`}
      >
        {session.demo.length > 0 && (
          <section className="border-rule-2 p-6 max-md:border-b md:border-r">
            <h1 className="text-[23px]">{session.organisation}</h1>
            <p className="mt-1 mb-4 text-ink-2">A made-up organisation to try Rhodonite with. Enter as:</p>
            <ul>
              {session.demo.map((person) => (
                <li key={person.id}>
                  <button
                    type="button"
                    className="flex min-h-[52px] w-full items-center gap-3 border-t border-rule py-1.5 hover:bg-rose-soft"
                    onClick={() => enter(person.id)}
                  >
                    <Tile person={person} size={32} label={false} />
                    <span>
                      <b className="block font-semibold">{person.name}</b>
                      <span className="text-[12.5px] text-ink-2">
                        {person.title}. {person.role === "administrator" ? "An" : "A"} {person.role} {MAY[person.role]}.
                      </span>
                    </span>
                  </button>
                </li>
              ))}
            </ul>
            <Wrong text={refused} />
          </section>
        )}
        <form className="p-6" onSubmit={form.submit} noValidate>
          {session.demo.length ? (
            <h2 className="mb-3 text-[17px]">Or sign in</h2>
          ) : (
            <h1 className="mb-3 text-[23px]">{session.organisation}</h1>
          )}
          <Field label="E-mail" error={form.wrong("email")}>
            <input className="input w-full" type="email" autoComplete="username" {...form.register("email")} />
          </Field>
          <Password
            label="Password"
            error={form.wrong("password") ?? form.wrong("root")}
            {...form.register("password")}
          />
          <Button look="go" type="submit">
            Sign in
          </Button>
        </form>
      </div>
    </Frame>
  );
}

export default function Invitation() {
  const { token = "" } = useParams();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const form = useSending(chosen, { password: "" }, async (body) => {
    await ask(client.POST("/api/invitations/{token}", { params: { path: { token } }, body }));
    await queries.invalidateQueries({ queryKey: ["session"] });
    navigate("/desk");
  });
  const query = useQuery({
    queryKey: ["invitation", token],
    queryFn: () => ask(client.GET("/api/invitations/{token}", { params: { path: { token } } })),
    retry: false,
  });
  return (
    <Frame>
      {query.error ? (
        <Failed error={query.error} />
      ) : (
        query.data && (
          <form className="cut-16 w-full max-w-sm border border-ink bg-sheet p-6" onSubmit={form.submit}>
            <h1 className="text-[23px]">Welcome, {query.data.name.split(" ")[0]}</h1>
            <p className="mt-1 mb-4 text-ink-2">
              You are invited to {query.data.organisation}. Choose a password; you sign in as {query.data.email}.
            </p>
            <Password
              fresh
              label="Password"
              error={form.wrong("password") ?? form.wrong("root")}
              {...form.register("password")}
            />
            <Button look="go" type="submit">
              Enter
            </Button>
          </form>
        )
      )}
    </Frame>
  );
}
