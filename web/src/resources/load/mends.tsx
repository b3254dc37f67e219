/** Ways to take an overload away, the least harmful first: each can be seen in a draft, or applied through the ripple. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { ask, client, type Project, type Schemas, send, sentence } from "../../data/api";
import { draftHere } from "../../data/draft-here";
import { useMe, usePeople } from "../../data/hooks";
import { allKey } from "../../data/keys";
import { note } from "../../data/notes";
import { count, sayDay, sayHours } from "../../parts/format";
import { startDraft } from "../../schedule/draft";
import { useChanges } from "../../tasks/changes";

type Mend = Schemas["MendOut"];
type Step = Schemas["MendStepOut"];

export function Mends({
  project,
  who,
  first,
  last,
  everywhere,
}: {
  project?: Project;
  who: string;
  first: string;
  last: string;
  everywhere: boolean;
}) {
  const code = project?.code ?? null;
  const query = { who, first, last };
  const found = useQuery({
    queryKey: allKey("load", code, draftHere(), "mends", query, everywhere),
    queryFn: () =>
      code
        ? ask(
            client.GET("/api/projects/{code}/load/mends", {
              params: { path: { code }, query: { ...query, everywhere } },
            }),
          )
        : ask(client.GET("/api/load/mends", { params: { query } })),
  });
  if (!found.data) return <p className="my-2 text-[12.5px] text-ink-2">Looking for ways out …</p>;
  if (!found.data.length)
    return (
      <p className="my-2 text-[12.5px] text-ink-2">
        No change helps here without overbooking somebody else. Ask for fewer hours, or for another person.
      </p>
    );
  return (
    <ul aria-label="Ways out" className="my-3 grid gap-2">
      {found.data.map((mend) => (
        <Card key={mend.steps.map((one) => one.kind + one.row.id).join()} mend={mend} />
      ))}
    </ul>
  );
}

function Card({ mend }: { mend: Mend }) {
  const { byId } = usePeople();
  const { now } = useMe();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const changes = useChanges(mend.code);
  const edits = mend.steps.map((one) => ({ id: one.row.id, revision: one.row.revision, fields: one.fields }));
  const title = mend.steps.map((one) => heading(one, byId.get(one.to ?? "")?.name)).join("; ");
  async function apply() {
    try {
      await changes.edit(title, edits);
      queries.invalidateQueries({ queryKey: allKey("load") });
    } catch (error) {
      note(sentence(error), "wrong");
    }
  }
  async function see() {
    try {
      const draft = await startDraft(mend.code, title.slice(0, 110));
      await send(
        (headers) =>
          client.PATCH("/api/projects/{code}/tasks", {
            params: { path: { code: mend.code } },
            body: { tasks: edits },
            headers,
          }),
        { draft: draft.id },
      );
      navigate(`/p/${mend.code}/compare?draft=${draft.id}`);
    } catch (error) {
      note(sentence(error), "wrong");
    }
  }
  return (
    <li className="cut-12 border border-rule-2 bg-paper px-3 py-2.5">
      <b className="block pr-3 font-semibold">{title}</b>
      <p className="mt-0.5 mb-1 text-[12.5px] text-ink-2">
        {effect(mend, now, (id) => byId.get(id)?.short ?? "somebody")}
      </p>
      {!draftHere() && (
        <span className="flex gap-4">
          <button
            type="button"
            className="font-semibold text-rose hover:underline"
            onClick={see}
            aria-label={`See it: ${title}`}
          >
            See it
          </button>
          <button
            type="button"
            className="font-semibold hover:underline"
            onClick={apply}
            aria-label={`Apply: ${title}`}
          >
            Apply
          </button>
        </span>
      )}
    </li>
  );
}

function heading(mend: Step, to: string | undefined): string {
  const days = count(mend.days, "day");
  if (mend.kind === "move") return `Move “${mend.row.title}” ${days} on`;
  if (mend.kind === "split") return `Split “${mend.row.title}”, resting ${days}`;
  if (mend.kind === "stretch") return `Let “${mend.row.title}” last ${days} longer`;
  return `Give ${sayHours(mend.minutes)} of “${mend.row.title}” to ${to ?? "another"}`;
}

function effect(mend: Mend, now: Date, short: (id: string) => string): string {
  const said: string[] = [];
  for (const one of mend.steps) {
    if (one.kind !== "give") continue;
    const done = one.done
      ? ` and has worked on such a task ${one.done === 1 ? "before" : `${one.done} times before`}`
      : "";
    said.push(`${short(one.to ?? "")} has ${sayHours(one.free)} free in those days${done}.`);
  }
  said.push(
    mend.remains
      ? `It takes ${sayHours(mend.relief)} away; ${sayHours(mend.remains)} remain.`
      : `It takes all ${sayHours(mend.relief)} away.`,
  );
  const worse = mend.people.filter((one) => one.more > one.less);
  said.push(
    worse.length
      ? `${worse.map((one) => `${short(one.who)} is over by ${sayHours(one.more - one.less)} more`).join(", ")}.`
      : "Nobody else is over then.",
  );
  if (mend.others) said.push(`${count(mend.others, "other task moves", "other tasks move")}.`);
  said.push(
    mend.finish === mend.finish_before
      ? "The finish stays."
      : `The project then finishes on ${sayDay(mend.finish, now)}, not ${sayDay(mend.finish_before, now)}.`,
  );
  return said.join(" ");
}
