/** What is understood of typed links, shown as they are typed. */
import { ask, client } from "../data/api";
import { projectKey } from "../data/keys";
import { Understood } from "../parts/understood";

export function ParsedLinks({ code, id, text }: { code: string; id: string; text: string }) {
  return (
    <Understood
      text={text}
      hint="A number or a title: 12 + 2 d, start with 15"
      about={projectKey(code, "waits-for", id)}
      read={async (typed) => {
        const query = { text: typed, task_id: id };
        const call = client.GET("/api/projects/{code}/waits-for", { params: { path: { code }, query } });
        return (await ask(call)).map((link) => link.words);
      }}
    />
  );
}
