/** What a project has and a file of it does not hold, said before it is saved. */
import { useQuery } from "@tanstack/react-query";
import { ask, client } from "../data/api";
import { projectKey } from "../data/keys";

export function LeftOut({ code, of }: { code: string; of: "table" | "plan" }) {
  const { data } = useQuery({
    queryKey: projectKey(code, "left out"),
    queryFn: () => ask(client.GET("/api/projects/{code}/left-out", { params: { path: { code } } })),
  });
  const said = data?.[of] ?? [];
  if (said.length === 0) return null;
  return (
    <p className="mb-3 max-w-2xl text-ink-2">
      {of === "table" ? "A table" : "The file"} does not hold {listed(said)}, nor its history.
    </p>
  );
}

const listed = (said: string[]) =>
  said.length < 2 ? said.join("") : `${said.slice(0, -1).join(", ")} and ${said[said.length - 1]}`;
