/** Who can be booked in a project. */
import { useQuery } from "@tanstack/react-query";
import { ask, client, type Schemas } from "../data/api";
import { projectKey } from "../data/keys";

export type Named = Schemas["NamedOut"];
const NOBODY: Named[] = [];

export const bookableKey = (code: string) => projectKey(code, "bookable");

export function useBookable(code: string): Named[] {
  const query = useQuery({
    queryKey: bookableKey(code),
    staleTime: 60_000,
    queryFn: () => ask(client.GET("/api/projects/{code}/bookable", { params: { path: { code } } })),
  });
  return query.data ?? NOBODY;
}
