/** What is understood of typed bookings, shown as they are typed. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { ask, client, Problem } from "../data/api";
import { projectKey } from "../data/keys";
import { useSettled } from "../parts/use-settled";

function readTyped(code: string, task_id: string, text: string) {
  return ask(
    client.POST("/api/projects/{code}/bookings/read", { params: { path: { code } }, body: { task_id, text } }),
  );
}

export function ParsedBookings({ code, id, text }: { code: string; id: string; text: string }) {
  const settled = useSettled(text, 150);
  const { data, error } = useQuery({
    queryKey: projectKey(code, "bookings", id, settled),
    enabled: settled.trim() !== "",
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () => readTyped(code, id, settled),
  });
  const wrong = error instanceof Problem ? error.sentence : null;
  return (
    <span
      role="status"
      className={`absolute top-[29px] left-0 z-30 w-max max-w-72 border bg-sheet px-2 py-1 text-left text-[12px] font-normal whitespace-normal text-ink ${wrong ? "border-ochre" : "border-rule-2"}`}
    >
      {settled.trim() === ""
        ? "Names and hours: Tomas 10 h, Yuki 50 %"
        : (wrong ??
          data?.map((one) => (
            <span key={one.who} className="block">
              {one.said}
            </span>
          )))}
    </span>
  );
}
