/** Agreed plans: agree the plan as it stands, choose which counts, compare any two. */

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { format, subDays } from "date-fns";
import { useState } from "react";
import { Controller } from "react-hook-form";
import { ask, client, sentence } from "../../data/api";
import { may, useMe, usePeople } from "../../data/hooks";
import { projectKey, refreshProject } from "../../data/keys";
import { note } from "../../data/notes";
import { sendUndoable } from "../../data/undo";
import { Button, Failed, Loading, Menu, MenuItem, MenuLine, Wrong } from "../../parts/basics";
import { DateField } from "../../parts/dates/field";
import { useSending } from "../../parts/form";
import { sayDay, sayFull, sayVariance } from "../../parts/format";
import { Select } from "../../parts/select";
import { TaskName } from "../../parts/task-name";
import { z } from "../../parts/zod";
import { type PlanningProps, Section } from ".";

export function useAgreed(code: string) {
  return useQuery({
    queryKey: projectKey(code, "agreed"),
    queryFn: () => ask(client.GET("/api/projects/{code}/agreed", { params: { path: { code } } })),
  });
}

export function Agreed({ project, openTask }: PlanningProps) {
  const { code } = project;
  const queries = useQueryClient();
  const { data, error, refetch } = useAgreed(code);
  const { now } = useMe();
  const { byId } = usePeople();
  const canAgree = may(project, "manage");
  const [shown, setShown] = useState<string | null>(null);
  const done = () => {
    refreshProject(queries, code);
    queries.invalidateQueries({ queryKey: projectKey(code) });
  };
  const attempt = async (request: Promise<unknown>) => {
    try {
      await request;
      done();
    } catch (problem) {
      note(sentence(problem), "wrong");
    }
  };
  const path = (plan_id: string) => ({ params: { path: { code, plan_id } } });
  if (error) return <Failed error={error} retry={refetch} />;
  if (!data) return <Loading what="agreed plans" />;
  const current = data.find((one) => one.is_current);
  return (
    <Section title="Agreed plans">
      {!data.length && (
        <p className="mb-3 text-ink-2">
          Nothing is agreed yet. Freeze the plan as it stands, and every later date is held against it: in the title, in
          the schedule as a thin line under each bar, and below.
        </p>
      )}
      <ul>
        {data.map((one) => (
          <li key={one.id} className="flex min-h-9 items-center gap-3 border-b border-rule">
            <span
              className={`min-w-0 flex-1 truncate ${one.is_current ? "font-semibold" : ""}`}
              title={one.note || one.name}
            >
              {one.name}
              {one.note && <span className="ml-2 font-normal text-ink-2">{one.note}</span>}
            </span>
            {one.is_current && <span className="bg-ink px-1.5 text-[11.5px] font-semibold text-paper">current</span>}
            <span className="text-[12.5px] text-ink-2" title={`${byId.get(one.person_id)?.name}, ${sayFull(one.at)}`}>
              {sayDay(one.day, now)}
            </span>
            <Menu
              align="end"
              trigger={
                <button
                  type="button"
                  className="font-semibold text-ink-2 hover:text-ink"
                  aria-label={`More about ${one.name}`}
                >
                  More
                </button>
              }
            >
              <MenuItem onSelect={() => setShown(one.id)}>Compare with the plan now</MenuItem>
              {canAgree && (
                <>
                  <MenuItem
                    onSelect={() =>
                      attempt(
                        sendUndoable(queries, code, "Changed the agreed plan", (headers) =>
                          client.PATCH("/api/projects/{code}/agreed/{plan_id}", {
                            ...path(one.id),
                            body: { is_current: !one.is_current },
                            headers,
                          }),
                        ),
                      )
                    }
                  >
                    {one.is_current ? "Let it no longer count" : "Make it the current one"}
                  </MenuItem>
                  <MenuLine />
                  <MenuItem
                    onSelect={() =>
                      attempt(
                        sendUndoable(queries, code, `Deleted the agreed plan ${one.name}`, (headers) =>
                          client.DELETE("/api/projects/{code}/agreed/{plan_id}", { ...path(one.id), headers }),
                        ),
                      )
                    }
                  >
                    Delete
                  </MenuItem>
                </>
              )}
            </Menu>
          </li>
        ))}
      </ul>
      {canAgree && <AgreeForm code={code} done={done} />}
      {/* what changed since a day can be asked without any agreed plan */}
      {data && (
        <Compare
          key={shown ?? current?.id}
          project={project}
          first={shown ?? current?.id ?? format(subDays(now, 7), "yyyy-MM-dd")}
          plans={data.map((one) => ({ id: one.id, name: one.name }))}
          openTask={openTask}
        />
      )}
    </Section>
  );
}

const agreedShape = z.object({
  name: z.string().trim().min(1, "Give the agreed plan a name."),
  day: z.string().min(1, "Choose the day on which it was agreed."),
  note: z.string(),
});

function AgreeForm({ code, done }: { code: string; done: () => void }) {
  const { now } = useMe();
  const queries = useQueryClient();
  const form = useSending(agreedShape, { name: "", day: format(now, "yyyy-MM-dd"), note: "" }, async (body) => {
    await sendUndoable(queries, code, `Agreed the plan: ${body.name}`, (headers) =>
      client.POST("/api/projects/{code}/agreed", { params: { path: { code } }, body, headers }),
    );
    form.reset();
    done();
    note(`The plan is agreed: ${body.name}`);
  });
  return (
    <form className="mt-3" onSubmit={form.submit} aria-label="Agree the plan">
      <div className="flex flex-wrap gap-2">
        <input
          className="input min-w-0 flex-1"
          aria-label="Name of the agreed plan"
          placeholder="Signed by the council"
          {...form.register("name")}
        />
        <Controller
          name="day"
          control={form.control}
          render={({ field }) => (
            <DateField label="Day on which it was agreed" value={field.value} onChange={field.onChange} />
          )}
        />
        <Button look="go" type="submit" disabled={form.isSubmitting}>
          Agree the plan
        </Button>
      </div>
      <input
        className="input mt-2 w-full"
        aria-label="Note"
        placeholder="A note: who was there, what was left open"
        {...form.register("note")}
      />
      <Wrong text={form.wrong("name") ?? form.wrong("day") ?? form.wrong("note") ?? form.wrong("root")} />
    </form>
  );
}

const MOST = 60;

function Compare({
  project,
  first,
  plans,
  openTask,
}: {
  project: PlanningProps["project"];
  first: string;
  plans: { id: string; name: string }[];
  openTask: (id: string) => void;
}) {
  const { now } = useMe();
  const [from, setFrom] = useState(first);
  const [to, setTo] = useState("now");
  const day = /^\d{4}-\d\d-\d\d$/.test(from) ? from : null;
  const { data, error, refetch } = useQuery({
    queryKey: projectKey(project.code, "compare", from, to),
    queryFn: () =>
      ask(
        client.GET("/api/projects/{code}/compare", {
          params: { path: { code: project.code }, query: { first: from, second: to } },
        }),
      ),
  });
  const options = plans.map((one) => (
    <option key={one.id} value={one.id}>
      {one.name}
    </option>
  ));
  return (
    <div className="mt-5">
      <h3 className="mb-1 flex flex-wrap items-center gap-1.5 font-sans text-[13px]">
        From
        <Select
          aria-label="Compare from"
          className="h-7"
          value={day ? "day" : from}
          onChange={(event) =>
            setFrom(event.target.value === "day" ? format(subDays(now, 7), "yyyy-MM-dd") : event.target.value)
          }
        >
          {options}
          <option value="day">the plan on a day</option>
        </Select>
        {day && (
          <DateField
            required
            label="Day to compare from"
            value={day}
            onChange={(picked) => picked && setFrom(picked)}
          />
        )}
        to
        <Select aria-label="Compare to" className="h-7" value={to} onChange={(event) => setTo(event.target.value)}>
          <option value="now">the plan now</option>
          {options}
        </Select>
      </h3>
      {error ? (
        <Failed error={error} retry={refetch} />
      ) : !data ? (
        <Loading what="the comparison" rows={4} />
      ) : !data.tasks.length ? (
        <p className="py-2 text-ink-2">
          {day ? "Nothing has changed since." : "Nothing differs: every date is as agreed."}
        </p>
      ) : (
        <>
          <p className="py-1">
            {data.minutes === 0 ? (
              "Both finish on the same day"
            ) : (
              <>
                The finish moves from <b className="font-semibold">{sayDay(data.finish_before, now)}</b> to{" "}
                <b className="font-semibold">{sayDay(data.finish, now)}</b>,{" "}
                {sayVariance(data.minutes, project.day_minutes)}
              </>
            )}
            ; {data.tasks.length} {data.tasks.length === 1 ? "task differs" : "tasks differ"}.
          </p>
          <table className="w-full text-[12.5px]">
            <thead>
              <tr className="text-left text-[11.5px] text-ink-3">
                <th className="font-normal">Task</th>
                <th className="w-24 text-right font-normal">{day ? "Finish then" : "Agreed finish"}</th>
                <th className="w-20 text-right font-normal">Finish</th>
                <th className="w-20 text-right font-normal">Variance</th>
                <th className="w-24 text-right font-normal" title="How much of it reaches the finish of the project">
                  On the finish
                </th>
              </tr>
            </thead>
            <tbody>
              {data.tasks.slice(0, MOST).map((one) => (
                <tr key={one.id} className="h-[27px] border-t border-rule">
                  <td className="max-w-0">
                    <TaskName number={one.number} title={one.title} open={() => openTask(one.id)} />
                  </td>
                  <td className="text-right text-ink-2" title={sayFull(one.finish_before)}>
                    {one.kind === "added" ? "not in it" : sayDay(one.finish_before, now)}
                  </td>
                  <td className="text-right text-ink-2" title={sayFull(one.finish)}>
                    {one.kind === "gone" ? "gone" : sayDay(one.finish, now)}
                  </td>
                  <td className={`text-right ${one.minutes > 0 ? "font-semibold text-ember" : ""}`}>
                    {one.kind === "moved" ? sayVariance(one.minutes, project.day_minutes) : ""}
                  </td>
                  <td className="text-right">
                    {one.effect > 0 ? sayVariance(one.effect, project.day_minutes) : "none"}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {data.tasks.length > MOST && <p className="pt-1 text-ink-2">and {data.tasks.length - MOST} more</p>}
        </>
      )}
    </div>
  );
}
