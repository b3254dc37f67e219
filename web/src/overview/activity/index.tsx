/** What happened in a project, read from the journal, the latest first. */

import { useInfiniteQuery, useQueryClient } from "@tanstack/react-query";
import { ask, client, type Project } from "../../data/api";
import { useMe, usePeople } from "../../data/hooks";
import { projectKey } from "../../data/keys";
import { takeBackChange } from "../../data/undo";
import { Button, Empty, Failed, Loading } from "../../parts/basics";
import { sayWhen } from "../../parts/format";
import { Tile } from "../../parts/tile";

export default function Activity({ project, openTask }: { project: Project; openTask: (id: string) => void }) {
  const { byId } = usePeople();
  const { now } = useMe();
  const queries = useQueryClient();
  const query = useInfiniteQuery({
    queryKey: projectKey(project.code, "activity"),
    initialPageParam: undefined as number | undefined,
    queryFn: ({ pageParam }) =>
      ask(
        client.GET("/api/projects/{code}/activity", {
          params: { path: { code: project.code }, query: { before: pageParam } },
        }),
      ),
    getNextPageParam: (page) => (page.length < 60 ? undefined : page.at(-1)?.revision),
  });
  if (query.error) return <Failed error={query.error} retry={query.refetch} />;
  if (!query.data) return <Loading what="activity" />;
  const all = query.data.pages.flat();
  if (!all.length)
    return <Empty title="Everything that is changed is told here">Who, when, what it was and what it became.</Empty>;
  return (
    <div
      className="min-w-0 flex-1 overflow-auto px-3 py-3 sm:px-[18px]"
      role="region"
      aria-label="Activity"
      tabIndex={0}
    >
      <ol className="max-w-3xl">
        {all.map((one) => {
          const person = byId.get(one.person_id);
          const [first] = one.task_ids;
          return (
            <li
              key={one.id}
              className={`flex gap-3 border-b border-rule py-2 ${one.undone ? "text-ink-3 line-through" : ""}`}
            >
              <Tile person={person} label={false} />
              <div className="min-w-0 flex-1">
                <p>
                  <b className="font-semibold">{person?.name ?? "Somebody"}</b> {one.what}
                  {one.undone && <span className="ml-1 no-underline">(taken back)</span>}
                </p>
                <ul className="text-[12.5px] text-ink-2">
                  {one.lines.map((line) => (
                    <li key={line} className="break-words">
                      {line}
                    </li>
                  ))}
                </ul>
              </div>
              <div className="flex-none text-right text-[12px] text-ink-2">
                <span className="block">{sayWhen(one.at, now)}</span>
                {one.may_undo && (
                  <button
                    type="button"
                    className="min-h-6 text-ink-2 hover:text-ink hover:underline"
                    aria-label={`Take back: ${one.what}`}
                    onClick={() => takeBackChange(queries, { change: one.id, code: project.code, what: one.what })}
                  >
                    take back
                  </button>
                )}
                {first && one.task_ids.length === 1 && (
                  <button
                    type="button"
                    className="ml-3 min-h-6 font-semibold text-rose"
                    onClick={() => openTask(first)}
                  >
                    open
                  </button>
                )}
              </div>
            </li>
          );
        })}
      </ol>
      {query.hasNextPage && (
        <Button className="mt-3" disabled={query.isFetchingNextPage} onClick={() => query.fetchNextPage()}>
          Earlier
        </Button>
      )}
    </div>
  );
}
