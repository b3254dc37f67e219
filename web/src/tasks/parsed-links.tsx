/** What is understood of typed links, shown as they are typed. */

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { ask, client, Problem } from "../data/api";
import { projectKey } from "../data/keys";

export function ParsedLinks({ code, id, text }: { code: string; id: string; text: string }) {
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), 150);
    return () => clearTimeout(timer);
  }, [text]);
  const { data, error } = useQuery({
    queryKey: projectKey(code, "waits-for", id, settled),
    enabled: settled.trim() !== "",
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () =>
      ask(
        client.GET("/api/projects/{code}/waits-for", {
          params: { path: { code }, query: { text: settled, task_id: id } },
        }),
      ),
  });
  const wrong = error instanceof Problem ? error.sentence : null;
  return (
    <span
      role="status"
      className={`absolute top-[29px] left-0 z-30 w-max max-w-72 border bg-sheet px-2 py-1 text-left text-[12px] font-normal whitespace-normal text-ink ${wrong ? "border-ochre" : "border-rule-2"}`}
    >
      {settled.trim() === ""
        ? "A number or a title: 12 + 2 d, start with 15"
        : (wrong ??
          data?.map((link) => (
            <span key={link.from_id + link.type} className="block">
              {link.words}
            </span>
          )))}
    </span>
  );
}
