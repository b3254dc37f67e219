/** Invoice sheets of a project: hours gathered to be charged to a client. The list, and the sheet that is open. */
import { endOfMonth, format, startOfMonth, subMonths } from "date-fns";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { type Project, sentence } from "../../data/api";
import { useMe } from "../../data/hooks";
import { Button, Empty, Failed, Loading, Wrong } from "../../parts/basics";
import { DateField } from "../../parts/dates/field";
import { sayDay } from "../../parts/format";
import { Select } from "../../parts/select";
import { sayTime } from "../../time/say";
import { readSum, saySum } from "../cost";
import { useChargeable, useInvoiceActions, useInvoices } from "./invoices";
import { SheetOf } from "./sheet";

export default function Invoices({ project, sheet }: { project: Project; sheet: string | undefined }) {
  if (!project.may.includes("see_costs"))
    return (
      <Empty title="Invoice sheets are for leads">
        Hours are charged by leads of a project, managers and administrators.
      </Empty>
    );
  return (
    <div
      className="min-w-0 flex-1 overflow-auto px-3 py-3 sm:px-[18px]"
      role="region"
      aria-label="Invoice sheets"
      tabIndex={0}
    >
      {sheet ? <SheetOf project={project} id={sheet} /> : <List project={project} />}
    </div>
  );
}

const STATES: Record<string, string> = { draft: "draft", frozen: "", cancelled: "cancelled" };

function List({ project }: { project: Project }) {
  const { data, error, refetch } = useInvoices(project.code);
  const { now } = useMe();
  if (error) return <Failed error={error} retry={refetch} />;
  if (!data) return <Loading what="the invoice sheets" rows={6} />;
  return (
    <div className="grid gap-x-12 gap-y-6 lg:grid-cols-[minmax(0,1.5fr)_minmax(0,1fr)]">
      <section aria-label="Sheets">
        <h2 className="mb-1 text-[15px]">Invoice sheets</h2>
        {data.length ? (
          <ul className="border-t border-rule-2">
            {data.map((one) => (
              <li key={one.id} className="border-b border-rule">
                <Link
                  to={`/p/${project.code}/invoices/${one.id}`}
                  className={`flex min-h-10 items-center gap-3 hover:bg-rose-soft ${one.state === "cancelled" ? "text-ink-3 line-through" : ""}`}
                >
                  <b className="w-24 flex-none font-semibold">{one.number ?? "no number"}</b>
                  <span className="min-w-0 flex-1 truncate">{one.client || "no client named yet"}</span>
                  <span className="hidden flex-none text-ink-2 sm:inline">
                    {sayDay(one.first, now)} to {sayDay(one.last, now)}
                  </span>
                  <span className="w-20 flex-none text-ink-2">{STATES[one.state]}</span>
                  <span className="w-28 flex-none text-right font-semibold tabular-nums">
                    {saySum(one.payable)} {one.currency}
                  </span>
                </Link>
              </li>
            ))}
          </ul>
        ) : (
          <p className="text-ink-2">
            None yet. A sheet gathers the hours of some days that can be charged; once frozen under a number it never
            changes, and its hours stand on no other.
          </p>
        )}
      </section>
      {project.archived ? null : project.time ? (
        <Gather project={project} usual={String(Number(data[0]?.tax ?? 0))} />
      ) : (
        <p className="text-ink-2">This project records no time, so there are no hours to charge.</p>
      )}
    </div>
  );
}

/** From hours to a sheet: which days, by what, for whom. */
function Gather({ project, usual }: { project: Project; usual: string }) {
  const { now } = useMe();
  const month = now.getDate() < 15 ? subMonths(now, 1) : now;
  const [first, setFirst] = useState(format(startOfMonth(month), "yyyy-MM-dd"));
  const [last, setLast] = useState(format(endOfMonth(month), "yyyy-MM-dd"));
  const [client, setClient] = useState(project.client);
  const [grouped, setGrouped] = useState<"task" | "person">("task");
  const [tax, setTax] = useState(usual);
  const [wrong, setWrong] = useState("");
  const [typedRate, setTypedRate] = useState("");
  const [rate, setRate] = useState<string | null>(null);
  const { data } = useChargeable(project.code, first, last, rate);
  const { make } = useInvoiceActions(project.code);
  const navigate = useNavigate();
  async function submit(event: React.FormEvent) {
    event.preventDefault();
    try {
      const wish = { first, last, client, grouped, tax: readSum(tax) ?? "0", rate: readSum(typedRate, 4) };
      const id = await make(wish);
      navigate(`/p/${project.code}/invoices/${id}`);
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <form aria-label="Gather hours" onSubmit={submit} noValidate>
      <h2 className="mb-1 text-[15px]">Gather hours to be charged</h2>
      <div className="grid grid-cols-[84px_minmax(0,1fr)] items-center gap-x-3 gap-y-2 border-t border-rule-2 pt-2">
        <span className="text-ink-2">Client</span>
        <input
          className="input w-full"
          aria-label="Client"
          maxLength={200}
          placeholder="who is charged"
          value={client}
          onChange={(event) => setClient(event.target.value)}
        />
        <span className="text-ink-2">Hours of</span>
        <span className="flex flex-wrap items-center gap-2">
          <DateField label="From" value={first} onChange={setFirst} /> to{" "}
          <DateField label="To" value={last} onChange={setLast} />
        </span>
        <span className="text-ink-2">A line for</span>
        <Select
          aria-label="A line for"
          className="w-40"
          value={grouped}
          onChange={(event) => setGrouped(event.target.value as "task" | "person")}
        >
          <option value="task">each task</option>
          <option value="person">each person</option>
        </Select>
        <span className="text-ink-2">An hour at</span>
        <span className="flex items-center gap-1.5">
          <input
            className="input w-40"
            aria-label="Rate of an hour"
            placeholder="each person’s rate"
            value={typedRate}
            onChange={(event) => {
              setTypedRate(event.target.value);
              try {
                setRate(readSum(event.target.value, 4));
                setWrong("");
              } catch (error) {
                setWrong(sentence(error));
              }
            }}
          />
          {data?.currency}
        </span>
        <span className="text-ink-2">Tax</span>
        <span className="flex items-center gap-1.5">
          <input
            className="input w-20 text-right"
            aria-label="Tax in a hundred"
            value={tax}
            onChange={(event) => setTax(event.target.value)}
          />{" "}
          %
        </span>
      </div>
      <p className="my-3 text-[15px]">
        {!data ? (
          "…"
        ) : data.minutes ? (
          <>
            <b className="font-semibold">{sayTime(data.minutes)}</b> can be charged and stand on no sheet yet:{" "}
            {saySum(data.amount)} {data.currency} {rate === null ? "at the rates of people" : "at that rate"}.
            {data.unpriced > 0 && (
              <span className="text-ochre"> {sayTime(data.unpriced)} are of people without a rate to charge.</span>
            )}
          </>
        ) : (
          "No hours of these days can be charged and stand on no sheet yet."
        )}
      </p>
      <Wrong text={wrong} />
      <Button look="go" type="submit" disabled={!data?.minutes}>
        Make a sheet of them
      </Button>
    </form>
  );
}
