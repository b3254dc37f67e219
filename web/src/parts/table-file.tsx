/** Tables that come and go as files: CSV, or a spreadsheet. */
import { useRef, useState } from "react";
import type { Schemas } from "../data/api";
import { sentence } from "../data/api";
import { note } from "../data/notes";
import { Button, Wrong } from "./basics";
import { count } from "./format";

const KINDS = [
  ["csv", "CSV"],
  ["xlsx", "XLSX"],
] as const;
export type TableKind = (typeof KINDS)[number][0];

/** Endings of files that can be read as a table. */
export const TABLE_FILES =
  ".csv,.txt,.tsv,.xlsx,text/csv,application/vnd.openxmlformats-officedocument.spreadsheetml.sheet";

/** `as CSV or XLSX`: where a table lies in each form. */
export function AsTable({ address, what = "" }: { address: (kind: TableKind) => string; what?: string }) {
  return (
    <span className="whitespace-nowrap">
      {what}as{" "}
      {KINDS.map(([kind, name], index) => (
        <span key={kind}>
          {index > 0 && " or "}
          <a className="underline decoration-rule-2 hover:text-ink" href={address(kind)} download>
            {name}
          </a>
        </span>
      ))}
    </span>
  );
}

/** What the client is told to send: it would encode a file as JSON, and a form is sent as it is. */
export function fileForm(file: File) {
  const body = new FormData();
  body.append("file", file);
  return { body: body as never, bodySerializer: (one: unknown) => one as FormData };
}

/** A button that brings a table in, all rows or none; what cannot be read is said with its line. */
export function BringTable({
  what,
  many = `${what}s`,
  columns,
  send,
}: {
  /** of what, in the singular: “absence” */
  what: string;
  many?: string;
  columns: string;
  send: (file: File) => Promise<Schemas["BroughtOut"]>;
}) {
  const input = useRef<HTMLInputElement>(null);
  const [wrong, setWrong] = useState("");
  async function bring(file: File) {
    setWrong("");
    try {
      const { added, known } = await send(file);
      note(`Brought in ${count(added, what, many)}${known ? `; ${known} were there already` : ""}`);
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <>
      <Button onClick={() => input.current?.click()} title={`Columns: ${columns}`}>
        Bring a table in
        <input
          ref={input}
          type="file"
          accept={TABLE_FILES}
          className="hidden"
          aria-label={`Table of ${many}: ${columns}`}
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = "";
            if (file) bring(file);
          }}
        />
      </Button>
      <Wrong text={wrong} />
    </>
  );
}
