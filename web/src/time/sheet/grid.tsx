/** The grid of a time sheet: rows are tasks, columns the days of the week; it is typed like a table, by keys alone. */
import { addDays, format, parseISO } from "date-fns";
import { useMemo, useState } from "react";
import { Link } from "react-router";
import { spotAfter, writes } from "../../parts/grid/keys";
import { sayTime } from "../say";
import type { SheetRow, TimeSheet } from "../time";
import { type CellSpot, opensAs, SheetCell } from "./cell";

export const DAYS = 7;

/** The days of a sheet that are shown: a weekend on which nobody works and nothing lies is left out. */
export function daysOf(sheet: TimeSheet, added: SheetRow[]): string[] {
  const monday = parseISO(sheet.monday);
  const all = Array.from({ length: DAYS }, (_, index) => format(addDays(monday, index), "yyyy-MM-dd"));
  const used = new Set([...sheet.rows, ...added].flatMap((row) => row.entries.map((one) => one.day)));
  return all.filter((day, index) => index < 5 || sheet.capacity[index] || sheet.other[index] || used.has(day));
}

export function SheetGrid({ sheet, added, weekends }: { sheet: TimeSheet; added: SheetRow[]; weekends: boolean }) {
  const rows = useMemo(() => [...sheet.rows, ...added, ...sheet.offered], [sheet, added]);
  // by its task: a row moves up when the first hours stand in it
  const [spot, setSpot] = useState({ task: "", day: 0 });
  const at: CellSpot = {
    row: Math.max(
      0,
      rows.findIndex((row) => row.task_id === spot.task),
    ),
    day: spot.day,
  };
  const [editing, setEditing] = useState<string | null>(null);
  const [open, setOpen] = useState(false);
  const [focused, setFocused] = useState(false);
  const monday = parseISO(sheet.monday);
  const every = Array.from({ length: DAYS }, (_, index) => format(addDays(monday, index), "yyyy-MM-dd"));
  const days = weekends ? every : daysOf(sheet, added);
  const minutesOn = (day: string, row?: SheetRow) =>
    (row ? [row] : rows)
      .flatMap((one) => one.entries)
      .filter((one) => one.day === day)
      .reduce((sum, one) => sum + one.minutes, row ? 0 : (sheet.other[every.indexOf(day)] ?? 0));
  const sum = (row?: SheetRow) => every.reduce((all, day) => all + minutesOn(day, row), 0);
  const here = rows[at.row];
  const isOpen = (row: SheetRow | undefined, day: string | undefined) =>
    Boolean(row?.may_enter && day && day <= sheet.today);
  function go(row: number, day: number) {
    const to = rows[Math.max(0, Math.min(rows.length - 1, row))];
    setSpot({ task: to?.task_id ?? "", day: Math.max(0, Math.min(days.length - 1, day)) });
    setFocused(true);
  }
  function leave(step: "stay" | "down" | "next" | "back") {
    setEditing(null);
    if (step !== "stay")
      go(at.row + (step === "down" ? 1 : 0), at.day + (step === "next" ? 1 : step === "back" ? -1 : 0));
  }
  function keys(event: React.KeyboardEvent) {
    if (editing !== null || open) return;
    const day = days[at.day];
    const entries = here?.entries.filter((one) => one.day === day) ?? [];
    const next = spotAfter(event, { row: at.row, cell: at.day }, { rows: rows.length, cells: days.length, page: 10 });
    if (next) {
      event.preventDefault();
      return go(next.row, next.cell);
    }
    const details = event.key === " " || (event.key === "Enter" && (event.shiftKey || opensAs(entries) === "list"));
    if (details) {
      event.preventDefault();
      return setOpen(true);
    }
    if (!isOpen(here, day)) return;
    if (event.key === "Enter" || event.key === "F2") {
      event.preventDefault();
      setEditing("");
    } else if (writes(event) && /[\d.,]/.test(event.key)) {
      event.preventDefault();
      if (opensAs(entries) === "list") setOpen(true);
      else setEditing(event.key);
    } else if (event.key === "Delete" && entries.length === 1 && opensAs(entries) === "text") {
      event.preventDefault();
      setEditing(" ");
    }
  }
  const head = (day: string) => format(parseISO(day), "EEE d");
  const firstOffered = sheet.rows.length + added.length;
  return (
    // biome-ignore lint/a11y/noNoninteractiveElementToInteractiveRole: it is a table, and a grid by its keys
    <table role="grid" aria-label="Hours of the week" className="w-full border-collapse" onKeyDown={keys}>
      <thead>
        <tr className="h-8 border-b border-rule-2 text-[12px] text-ink-2">
          <th scope="col" className="sticky left-0 z-10 bg-sheet text-left font-semibold">
            Task
          </th>
          {days.map((day) => (
            <th
              key={day}
              scope="col"
              className={`w-[76px] border-l border-rule px-1.5 text-right font-semibold ${day === sheet.today ? "text-rose" : ""}`}
            >
              {head(day)}
            </th>
          ))}
          <th scope="col" className="w-[76px] border-l border-rule-2 px-1.5 text-right font-semibold">
            Week
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row, index) => (
          <tr
            key={row.task_id}
            data-task={row.task_id}
            className={`border-b border-rule ${index === firstOffered && index ? "border-t-[3px] border-t-rule" : ""}`}
          >
            <th
              scope="row"
              className="sticky left-0 z-10 max-w-[420px] min-w-[150px] bg-sheet py-1 pr-3 text-left font-normal"
            >
              <span className="flex items-baseline gap-2">
                <Link
                  to={row.in_bin ? `/p/${row.code}/bin` : `/p/${row.code}/outline?open=${row.task_id}`}
                  className={`min-w-0 truncate hover:underline ${index >= firstOffered ? "text-ink-2" : "font-semibold"}`}
                  title={row.title}
                >
                  {row.title}
                </Link>
                <span className="flex-none text-[11.5px] text-ink-3">
                  {row.code} {row.number}
                </span>
                {row.in_bin && <span className="flex-none text-[11.5px] text-ink-2">in the bin</span>}
                {row.why && (
                  <span className="hidden flex-none text-[11.5px] text-ink-3 sm:inline">
                    {row.why === "last_week" ? "last week" : "yours"}
                  </span>
                )}
              </span>
            </th>
            {days.map((day, column) => {
              const is = at.row === index && at.day === column;
              return (
                <SheetCell
                  key={day}
                  row={row}
                  day={day}
                  name={head(day)}
                  person={sheet.person_id}
                  focused={is && (focused || index + column === 0)}
                  editing={is ? editing : null}
                  open={is && open}
                  future={day > sheet.today}
                  come={() => go(index, column)}
                  edit={(text) => {
                    go(index, column);
                    setEditing(text);
                  }}
                  leave={leave}
                  setOpen={(next) => {
                    if (next) go(index, column);
                    setOpen(next);
                  }}
                />
              );
            })}
            <td className="border-l border-rule-2 px-1.5 text-right tabular-nums">
              {sum(row) ? sayTime(sum(row)) : <span className="text-ink-3">–</span>}
            </td>
          </tr>
        ))}
        {sheet.other.some(Boolean) && (
          <tr className="border-b border-rule text-ink-2">
            <th scope="row" className="sticky left-0 bg-sheet py-1 text-left font-normal">
              {sheet.mine ? "Work that you may not see any more" : "Work in other projects"}
            </th>
            {days.map((day) => (
              <td key={day} className="border-l border-rule px-1.5 text-right tabular-nums">
                {sheet.other[every.indexOf(day)] ? sayTime(sheet.other[every.indexOf(day)] ?? 0) : ""}
              </td>
            ))}
            <td className="border-l border-rule-2 px-1.5 text-right tabular-nums">
              {sayTime(sheet.other.reduce((all, one) => all + one, 0))}
            </td>
          </tr>
        )}
      </tbody>
      <tfoot>
        <tr className="h-9 border-t border-rule-2 font-semibold">
          <th scope="row" className="sticky left-0 bg-sheet text-left font-semibold">
            Entered
            <span className="ml-2 font-normal text-ink-2">of what can be worked</span>
          </th>
          {days.map((day) => {
            const may = sheet.capacity[every.indexOf(day)] ?? 0;
            return (
              <td key={day} className="border-l border-rule px-1.5 text-right tabular-nums">
                {minutesOn(day) ? sayTime(minutesOn(day)) : <span className="font-normal text-ink-3">–</span>}
                <span className="block text-[11px] font-normal text-ink-2">{may ? sayTime(may) : "free"}</span>
              </td>
            );
          })}
          <td className="border-l border-rule-2 px-1.5 text-right tabular-nums">
            {sayTime(sum())}
            <span className="block text-[11px] font-normal text-ink-2">
              {sayTime(sheet.capacity.reduce((all, one) => all + one, 0))}
            </span>
          </td>
        </tr>
      </tfoot>
    </table>
  );
}
