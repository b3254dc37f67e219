/** Printing the schedule: paper, size and columns are chosen beside the page as it will be. */

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { ChevronLeft, ChevronRight } from "lucide-react";
import { useState } from "react";
import { ask, client, type Project } from "../../data/api";
import { withDraft } from "../../data/draft-here";
import { projectKey } from "../../data/keys";
import { Field, IconButton, Modal, Wrong } from "../../parts/basics";
import { DateField } from "../../parts/dates/field";
import { Select } from "../../parts/select";
import type { ColumnId } from "../../tasks/outline/columns";
import { type Scope, scopeQuery } from "../../views/scope";
import { tintQuery, useView } from "../../views/view";

const PAPERS = ["A4", "A3", "A2", "A1", "A0", "Letter", "Legal", "Tabloid", "one sheet"];
const SIZES = ["small", "normal", "large"];
const FORMS = [
  ["pdf", "PDF"],
  ["svg", "SVG"],
  ["png", "PNG"],
] as const;
const KEY = "rhodonite.print";

interface Choice {
  paper: string;
  landscape: boolean;
  wide: number;
  size: string;
}

function read(): Choice {
  const first = { paper: "A4", landscape: true, wide: 1, size: "normal" };
  try {
    return { ...first, ...JSON.parse(localStorage.getItem(KEY) ?? "{}") };
  } catch {
    return first;
  }
}

export default function Print({
  project,
  scope,
  columns,
  close,
}: {
  project: Project;
  scope: Scope;
  /** those that the lens shows */
  columns: ColumnId[];
  close: () => void;
}) {
  const [choice, setChoice] = useState(read);
  const [page, setPage] = useState(1);
  const [first, setFirst] = useState(scope.since ?? "");
  const [last, setLast] = useState(scope.until ?? "");
  const { code } = project;
  const [view] = useView();
  const query = {
    ...scopeQuery(scope),
    ...choice,
    wide: choice.paper === "one sheet" ? 1 : choice.wide,
    column: columns.length ? columns.map(String) : [""],
    first: first || undefined,
    last: last || undefined,
    view: tintQuery(view),
  };
  const { data, error, isFetching } = useQuery({
    queryKey: projectKey(code, "print", query, page),
    queryFn: ({ signal }) =>
      ask(client.GET("/api/projects/{code}/print", { params: { path: { code }, query: { ...query, page } }, signal })),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const choose = (part: Partial<Choice>) => {
    const next = { ...choice, ...part };
    setChoice(next);
    setPage(1);
    localStorage.setItem(KEY, JSON.stringify(next));
  };
  const one = choice.paper === "one sheet";
  return (
    <Modal open onOpenChange={close} title="Print the schedule" width={1020}>
      <div className="flex flex-col gap-5 md:flex-row">
        <form className="w-[220px] flex-none" onSubmit={(event) => event.preventDefault()}>
          <Field label="Paper">
            <Select className="w-full" value={choice.paper} onChange={(event) => choose({ paper: event.target.value })}>
              {PAPERS.map((paper) => (
                <option key={paper} value={paper}>
                  {paper === "one sheet" ? "One sheet, as large as it takes" : paper}
                </option>
              ))}
            </Select>
          </Field>
          <fieldset disabled={one} className="mb-3 disabled:opacity-50">
            <legend className="label">Turned</legend>
            {[true, false].map((landscape) => (
              <label key={String(landscape)} className="mr-4 inline-flex items-center gap-1.5">
                <input
                  type="radio"
                  name="landscape"
                  className="accent-rose"
                  checked={choice.landscape === landscape}
                  onChange={() => choose({ landscape })}
                />
                {landscape ? "Landscape" : "Upright"}
              </label>
            ))}
          </fieldset>
          <Field label="Time goes over">
            <Select
              className="w-full disabled:opacity-50"
              disabled={one}
              value={choice.wide}
              onChange={(event) => choose({ wide: Number(event.target.value) })}
            >
              {[1, 2, 3, 4, 6, 8, 12].map((wide) => (
                <option key={wide} value={wide}>
                  {wide === 1 ? "one page" : `${wide} pages side by side`}
                </option>
              ))}
            </Select>
          </Field>
          <Field label="Rows and letters">
            <Select className="w-full" value={choice.size} onChange={(event) => choose({ size: event.target.value })}>
              {SIZES.map((size) => (
                <option key={size}>{size}</option>
              ))}
            </Select>
          </Field>
          <div className="mb-1 flex gap-2">
            <div className="min-w-0 flex-1">
              <span className="label">From</span>
              <DateField label="From" className="w-full" value={first} onChange={setFirst} />
            </div>
            <div className="min-w-0 flex-1">
              <span className="label">To</span>
              <DateField label="To" className="w-full" value={last} onChange={setLast} />
            </div>
          </div>
          <p className="mb-4 text-[12px] text-ink-2">
            The tasks of the sentence, the columns of the schedule and the tints are printed. Without days it is as long
            as they need.
          </p>
          <div className="flex gap-1.5">
            {FORMS.map(([form, name]) => (
              <a
                key={form}
                download
                href={withDraft(`/api/projects/${code}/schedule.${form}?${written(query)}`)}
                aria-disabled={error ? true : undefined}
                className={`inline-flex h-[30px] flex-1 items-center justify-center border border-ink font-semibold ${
                  form === "pdf" ? "bg-ink text-paper hover:bg-ink-2" : "bg-sheet hover:bg-band"
                } ${error ? "pointer-events-none opacity-50" : ""}`}
              >
                {name}
              </a>
            ))}
          </div>
          {data && data.pages > 1 && (
            <p className="mt-1.5 text-[12px] text-ink-2">SVG and PNG come as one ZIP of {data.pages} pages.</p>
          )}
        </form>
        <div className="min-w-0 flex-1">
          <Wrong text={error ? error.message : undefined} />
          <div
            className={`grid h-[min(520px,58vh)] grid-rows-[minmax(0,1fr)] place-items-center bg-band p-3 ${isFetching ? "opacity-60" : ""}`}
          >
            {data && !error && (
              <img
                alt={`Page ${data.page} of ${data.pages}`}
                className="max-h-full max-w-full border border-rule-2 bg-white"
                src={`data:image/svg+xml;charset=utf-8,${encodeURIComponent(data.svg)}`}
              />
            )}
          </div>
          {data && !error && (
            <p className="mt-1 flex items-center justify-center gap-2 text-ink-2">
              <IconButton label="Page before" disabled={data.page <= 1} onClick={() => setPage(data.page - 1)}>
                <ChevronLeft size={15} />
              </IconButton>
              <span role="status">
                Page {data.page} of {data.pages}
              </span>
              <IconButton label="Next page" disabled={data.page >= data.pages} onClick={() => setPage(data.page + 1)}>
                <ChevronRight size={15} />
              </IconButton>
            </p>
          )}
        </div>
      </div>
    </Modal>
  );
}

function written(query: Record<string, unknown>): string {
  const out = new URLSearchParams();
  for (const [name, value] of Object.entries(query)) {
    for (const one of Array.isArray(value) ? value : [value]) if (one !== undefined) out.append(name, String(one));
  }
  return out.toString();
}
