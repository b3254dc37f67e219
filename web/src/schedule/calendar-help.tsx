/** Help with a calendar: public holidays, another project's calendar, and a look at a month before it is saved. */

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { addMonths, format, getDay, getDaysInMonth, parseISO, startOfMonth } from "date-fns";
import { ChevronLeft, ChevronRight } from "lucide-react";
import { useMemo, useState } from "react";
import { ask, client, type Project, sentence } from "../data/api";
import { useMe, useWork } from "../data/hooks";
import { projectKey } from "../data/keys";
import { note } from "../data/notes";
import { Button, IconButton } from "../parts/basics";
import { count, sayHours } from "../parts/format";
import { Select } from "../parts/select";

import type { Calendar } from "./calendar-settings";

const COUNTRY = "rhodonite.country";
const YEARS_AHEAD = 2;
/** Pixels of the names of weekdays, and of a week below them. */
const HEAD = 20;
const WEEK = 33;

/** The public holidays of a country, from the year of a day on. `added` says of them what is to be done next. */
export function Holidays({
  from,
  add,
  added,
}: {
  from?: string;
  add: (days: { day: string; name: string }[]) => void;
  added: string;
}) {
  const { now } = useMe();
  const [country, setCountry] = useState(() => localStorage.getItem(COUNTRY) ?? "");
  const [region, setRegion] = useState("");
  const { data } = useQuery({
    queryKey: ["holiday-countries"],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () => ask(client.GET("/api/holidays/countries")),
  });
  const names = useMemo(() => new Intl.DisplayNames(["en"], { type: "region" }), []);
  const countries = useMemo(
    () => (data ?? []).map((one) => ({ ...one, name: names.of(one.code) ?? one.code })).sort(byName),
    [data, names],
  );
  const first = Math.min(now.getFullYear(), from ? parseISO(from).getFullYear() : now.getFullYear());
  const last = now.getFullYear() + YEARS_AHEAD;
  async function fetchDays() {
    localStorage.setItem(COUNTRY, country);
    try {
      const days = await ask(
        client.GET("/api/holidays", { params: { query: { country, region: region || undefined, first, last } } }),
      );
      add(days);
      note(`${count(days.length, "holiday")} from ${first} to ${last} ${added}`);
    } catch (error) {
      note(sentence(error), "wrong");
    }
  }
  const regions = countries.find((one) => one.code === country)?.regions ?? [];
  return (
    <div className="mt-3">
      <h3 className="mb-1 font-sans text-[13px] font-semibold">Public holidays</h3>
      <div className="flex flex-wrap gap-1">
        <Select
          className="min-w-0 flex-1"
          aria-label="Country"
          value={country}
          onChange={(event) => {
            setCountry(event.target.value);
            setRegion("");
          }}
        >
          <option value="">Choose a country</option>
          {countries.map((one) => (
            <option key={one.code} value={one.code}>
              {one.name}
            </option>
          ))}
        </Select>
        {regions.length > 0 && (
          <Select
            className="w-28"
            aria-label="Region"
            value={region}
            onChange={(event) => setRegion(event.target.value)}
          >
            <option value="">all of it</option>
            {regions.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </Select>
        )}
        <Button disabled={!country} onClick={fetchDays}>
          Add {first} to {last}
        </Button>
      </div>
    </div>
  );
}

const byName = (a: { name: string }, b: { name: string }) => a.name.localeCompare(b.name);

export function CopyFrom({ project, take }: { project: Project; take: (calendar: Project["calendar"]) => void }) {
  const { data } = useWork();
  const others = (data ?? []).filter((one) => one.code !== project.code);
  if (!others.length) return null;
  async function copy(code: string) {
    try {
      const other = await ask(client.GET("/api/projects/{code}", { params: { path: { code } } }));
      take(other.calendar);
      note(`The calendar of ${code} stands in the form. Save it to keep it.`);
    } catch (error) {
      note(sentence(error), "wrong");
    }
  }
  return (
    <label className="mt-3 flex items-center gap-2">
      <span className="font-semibold">Copy the calendar of</span>
      <Select className="min-w-0 flex-1" value="" onChange={(event) => event.target.value && copy(event.target.value)}>
        <option value="">another project</option>
        {others.map((one) => (
          <option key={one.code} value={one.code}>
            {one.code} · {one.name}
          </option>
        ))}
      </Select>
    </label>
  );
}

/** The working minutes of a month, by the calendar as it stands in the form. */
export function Preview({ project, read }: { project: Project; read: () => Calendar | string }) {
  const { now } = useMe();
  const [month, setMonth] = useState(() => startOfMonth(now));
  const calendar = read();
  const { data } = useQuery({
    queryKey: projectKey(project.code, "calendar-preview", format(month, "yyyy-MM"), calendar),
    enabled: typeof calendar !== "string",
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () =>
      ask(
        client.POST("/api/projects/{code}/calendar/preview", {
          params: { path: { code: project.code } },
          body: { ...(calendar as Calendar), month: format(month, "yyyy-MM-dd") },
        }),
      ),
  });
  const total = data?.reduce((sum, one) => sum + one.minutes, 0) ?? 0;
  const blanks = (getDay(month) + 6) % 7;
  return (
    <div className="mt-3">
      <div className="mb-1 flex items-center gap-1">
        <h3 className="font-sans text-[13px] font-semibold">
          {format(month, "MMMM yyyy")}{" "}
          <span className="font-normal text-ink-2" role="status">
            {sayHours(total)} of work
          </span>
        </h3>
        <IconButton label="The month before" className="ml-auto" onClick={() => setMonth(addMonths(month, -1))}>
          <ChevronLeft size={15} />
        </IconButton>
        <IconButton label="The month after" onClick={() => setMonth(addMonths(month, 1))}>
          <ChevronRight size={15} />
        </IconButton>
      </div>
      <ol
        className="grid auto-rows-min grid-cols-7 gap-px bg-rule p-px text-[11.5px]"
        // it keeps its room while it is worked out, so that what stands below does not move under a hand
        style={{ minHeight: HEAD + WEEK * Math.ceil((blanks + getDaysInMonth(month)) / 7) }}
        aria-label="Working time by day"
      >
        {["M", "T", "W", "T", "F", "S", "S"].map((day, index) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: the seven heads never move
          <li key={index} className="bg-sheet text-center text-ink-3" aria-hidden="true">
            {day}
          </li>
        ))}
        {blanks > 0 && <li className="bg-sheet" style={{ gridColumn: `span ${blanks}` }} aria-hidden="true" />}
        {data?.map((one) => (
          <li
            key={one.day}
            title={one.name ?? undefined}
            className={`flex h-8 flex-col items-center justify-center leading-tight ${one.minutes ? "bg-sheet" : "bg-band"} ${
              one.name !== null ? "font-semibold text-rose" : ""
            }`}
          >
            <span>{Number(one.day.slice(8))}</span>
            <span className="text-[10px] text-ink-2">{one.minutes ? sayHours(one.minutes) : "off"}</span>
          </li>
        ))}
      </ol>
    </div>
  );
}
