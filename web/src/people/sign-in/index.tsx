/** Signing in; in the demo, entering as one of four people; accepting an invitation. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { ask, client, type Schemas, sentence } from "../../data/api";
import { Button, Failed, Field } from "../../parts/basics";
import { Tile } from "../../parts/tile";
import { Logo } from "../../shell/masthead";

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
  const [email, setEmail] = useState("");
  const [password, setPassword] = useState("");
  const [wrong, setWrong] = useState("");
  async function enter(call: Promise<unknown>) {
    try {
      await call;
      await queries.invalidateQueries();
    } catch (error) {
      setWrong(sentence(error));
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
                    onClick={() => enter(ask(client.POST("/api/session/demo", { body: { person_id: person.id } })))}
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
          </section>
        )}
        <form
          className="p-6"
          onSubmit={(event) => {
            event.preventDefault();
            enter(ask(client.POST("/api/session", { body: { email, password } })));
          }}
        >
          {session.demo.length ? (
            <h2 className="mb-3 text-[17px]">Or sign in</h2>
          ) : (
            <h1 className="mb-3 text-[23px]">{session.organisation}</h1>
          )}
          <Field label="E-mail">
            <input
              className="input w-full"
              type="email"
              autoComplete="username"
              value={email}
              onChange={(event) => setEmail(event.target.value)}
              required
            />
          </Field>
          <Field label="Password" error={wrong || undefined}>
            <input
              className="input w-full"
              type="password"
              autoComplete="current-password"
              value={password}
              onChange={(event) => setPassword(event.target.value)}
              required
            />
          </Field>
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
  const [password, setPassword] = useState("");
  const [wrong, setWrong] = useState("");
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
          <form
            className="cut-16 w-full max-w-sm border border-ink bg-sheet p-6"
            onSubmit={async (event) => {
              event.preventDefault();
              try {
                await ask(client.POST("/api/invitations/{token}", { params: { path: { token } }, body: { password } }));
                await queries.invalidateQueries({ queryKey: ["session"] });
                navigate("/desk");
              } catch (error) {
                setWrong(sentence(error));
              }
            }}
          >
            <h1 className="text-[23px]">Welcome, {query.data.name.split(" ")[0]}</h1>
            <p className="mt-1 mb-4 text-ink-2">
              You are invited to {query.data.organisation}. Choose a password; you sign in as {query.data.email}.
            </p>
            <Field label="Password" hint="Ten characters or more." error={wrong || undefined}>
              <input
                className="input w-full"
                type="password"
                autoComplete="new-password"
                value={password}
                onChange={(event) => setPassword(event.target.value)}
              />
            </Field>
            <Button look="go" type="submit">
              Enter
            </Button>
          </form>
        )
      )}
    </Frame>
  );
}
