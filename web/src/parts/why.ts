/** Why a task stands where it does, in the server's words. */

import { useQuery } from "@tanstack/react-query";
import { ask, client } from "../data/api";
import { taskKey } from "../data/keys";

export function useWhy(id: string | null, revision: number | undefined) {
  return useQuery({
    queryKey: taskKey(id, "why", revision),
    enabled: id !== null,
    staleTime: 60_000,
    queryFn: () => ask(client.GET("/api/tasks/{task_id}/why", { params: { path: { task_id: id ?? "" } } })),
  });
}

export const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
