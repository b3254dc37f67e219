/** Notices: what is new for the person who is signed in. */

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { ask, client, type Schemas, send } from "../data/api";
import { allKey } from "../data/keys";

export type NoticeGroup = Schemas["NoticeGroupOut"];
export type Notice = Schemas["NoticeOut"];

export function useNotices(unread: boolean) {
  return useQuery({
    queryKey: allKey("notices", "list", unread),
    queryFn: () => ask(client.GET("/api/notices", { params: { query: { unread } } })),
  });
}

export function useUnread(): number {
  const { data } = useQuery({
    queryKey: allKey("notices", "count"),
    queryFn: () => ask(client.GET("/api/notices/count")),
    refetchInterval: 60_000,
  });
  return data?.unread ?? 0;
}

/** Mark some, or with null all, as read or not. */
export function useMarkRead() {
  const queries = useQueryClient();
  return async (ids: string[] | null, read = true) => {
    await send((headers) => client.POST("/api/notices/read", { body: { ids, read }, headers }));
    await queries.invalidateQueries({ queryKey: allKey("notices") });
  };
}
