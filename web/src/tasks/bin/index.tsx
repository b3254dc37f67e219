/** The bin: what was deleted, and a way to take it out again. */

import { useQuery } from "@tanstack/react-query";
import { ask, client, type Project } from "../../data/api";
import { may, useMe } from "../../data/hooks";
import { projectKey } from "../../data/keys";
import { Button, Empty, Failed, Loading } from "../../parts/basics";
import { sayWhen } from "../../parts/format";
import type { Changes } from "../changes";

export default function Bin({ project, changes }: { project: Project; changes: Changes }) {
  const { now } = useMe();
  const query = useQuery({
    queryKey: projectKey(project.code, "bin"),
    queryFn: () => ask(client.GET("/api/projects/{code}/bin", { params: { path: { code: project.code } } })),
  });
  if (query.error) return <Failed error={query.error} retry={query.refetch} />;
  if (!query.data) return <Loading what="the bin" />;
  if (!query.data.length)
    return <Empty title="The bin is empty">Tasks that are deleted lie here until they are restored.</Empty>;
  return (
    <div className="min-w-0 flex-1 overflow-auto px-3 py-3 sm:px-[18px]" role="region" aria-label="Bin" tabIndex={0}>
      <ul className="max-w-3xl">
        {query.data.map((item) => (
          <li key={item.id} className="flex min-h-9 items-center gap-3 border-b border-rule">
            <span className="w-16 text-ink-3">
              {project.code} {item.number}
            </span>
            <span className="min-w-0 flex-1 truncate">{item.title}</span>
            <span className="text-[12.5px] text-ink-2">deleted {sayWhen(item.deleted_at, now)}</span>
            {may(project, "edit") && (
              <Button look="rose" className="h-7 px-2" onClick={() => changes.restore([item.id])}>
                Restore
              </Button>
            )}
          </li>
        ))}
      </ul>
    </div>
  );
}
