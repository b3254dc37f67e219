/** What is understood of typed bookings, shown as they are typed. */
import { ask, client } from "../data/api";
import { projectKey } from "../data/keys";
import { Understood } from "../parts/understood";

export function ParsedBookings({ code, id, text }: { code: string; id: string; text: string }) {
  return (
    <Understood
      text={text}
      hint="Names and hours: Tomas 10 h, Yuki 50 %"
      about={projectKey(code, "bookings", id)}
      read={async (typed) => {
        const body = { task_id: id, text: typed };
        const call = client.POST("/api/projects/{code}/bookings/read", { params: { path: { code } }, body });
        return (await ask(call)).map((one) => one.said);
      }}
    />
  );
}
