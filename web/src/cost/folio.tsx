/** The cost of a task in the folio: what each person and resource costs on it, what was used and spent, its budget. */
import { format } from "date-fns";
import { X } from "lucide-react";
import { useState } from "react";
import { type Project, sentence, type TaskRow } from "../data/api";
import { mayManage, useMe, usePeople } from "../data/hooks";
import { note } from "../data/notes";
import { Button, IconButton, Wrong } from "../parts/basics";
import { DateField } from "../parts/dates/field";
import { sayDay, sayHours } from "../parts/format";
import { Select } from "../parts/select";
import { TextField } from "../parts/text-field";
import { Tile } from "../parts/tile";
import { sayAmount } from "../resources/bookings";
import { useBookable } from "../resources/use-bookable";
import { Section } from "../shell/folio/section";
import { type Expense, isNothing, readSum, saySum, type TaskCost, useCostActions, useTaskCost } from "./cost";

export default function CostOfTask({ row, project }: { row: TaskRow; project: Project }) {
  const { data } = useTaskCost(row.id);
  if (!data || !project.costs || !(data.seen || data.may_enter || data.expenses.length)) return null;
  const below = data.below;
  const budgeted = row.is_summary || row.kind === "deliverable";
  return (
    <Section
      title="Cost"
      aside={
        below && (
          <span className="tabular-nums">
            {saySum(below.at_completion)} {data.currency} at completion, {saySum(below.spent)} spent
          </span>
        )
      }
    >
      {below && budgeted && <Budget row={row} project={project} cost={data} />}
      {data.lines.length > 0 && <Lines cost={data} project={project} />}
      {data.may_enter && <Spend row={row} project={project} currency={data.currency} />}
      <ul aria-label="Used and spent">
        {data.expenses.map((one) => (
          <ExpenseLine key={one.id} expense={one} cost={data} project={project} />
        ))}
      </ul>
    </Section>
  );
}

function Budget({ row, project, cost }: { row: TaskRow; project: Project; cost: TaskCost }) {
  const { budget } = useCostActions(project.code);
  const stands = cost.below;
  const over = stands?.worry === "over";
  return (
    <p className="flex min-h-8 items-center gap-2 border-t border-rule-2">
      <span className="w-20 flex-none text-ink-2">Budget</span>
      <TextField
        value={saySum(stands?.budget)}
        label={`Budget of ${row.title}`}
        placeholder="none"
        readOnly={!mayManage(project)}
        className="w-28 px-1"
        onSave={(text) => budget(row.id, readSum(text))}
      />
      {stands?.budget && (
        <span className={over ? "font-semibold text-ember" : stands.worry ? "font-semibold text-ochre" : "text-ink-2"}>
          {over ? "▼ " : stands.worry ? "▲ " : ""}
          {stands.used} % at completion, {saySum(stands.variance)} left
        </span>
      )}
    </p>
  );
}

function Lines({ cost, project }: { cost: TaskCost; project: Project }) {
  const { byId } = usePeople();
  const bookable = useBookable(project.code);
  return (
    <table className="w-full border-collapse border-t border-rule-2">
      <thead className="sr-only">
        <tr>
          <th>Who or what</th>
          <th>How much</th>
          <th>Planned</th>
          <th>At completion</th>
        </tr>
      </thead>
      <tbody>
        {cost.lines.map((one) => {
          const known = bookable.find((each) => each.id === one.who);
          const name = byId.get(one.who)?.name ?? known?.name ?? (one.who ? "A resource" : "Not planned");
          const amount = (value: number) =>
            one.of === "labour" ? sayHours(value) : `${sayAmount(one.of, value)} ${known?.unit ?? ""}`.trim();
          return (
            <tr key={one.who} className="h-7 border-b border-rule">
              <td className="max-w-0 truncate">
                <span className="flex items-center gap-1.5">
                  {one.of === "labour" && <Tile person={byId.get(one.who)} size={17} label={false} />}
                  <span className="truncate">{name}</span>
                </span>
              </td>
              <td className="w-[104px] text-right text-[12.5px] text-ink-2 tabular-nums">
                {one.of === "fixed"
                  ? ""
                  : one.used
                    ? `${amount(one.used)} of ${amount(one.booked)}`
                    : amount(one.booked)}
              </td>
              <td className="w-[86px] text-right text-[12.5px] tabular-nums">
                {one.unpriced ? (
                  <span className="text-ochre">no rate</span>
                ) : isNothing(one.planned) ? (
                  "–"
                ) : (
                  saySum(one.planned)
                )}
              </td>
              <td className="w-[92px] text-right text-[12.5px] font-semibold tabular-nums">
                {isNothing(one.at_completion) ? "–" : saySum(one.at_completion)}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** One line that enters what was used of a material, or a sum that was spent. */
function Spend({ row, project, currency }: { row: TaskRow; project: Project; currency: string | null }) {
  const { now } = useMe();
  const { spend } = useCostActions(project.code);
  const bookable = useBookable(project.code).filter((one) => one.of !== "labour");
  const booked = new Set(row.bookings.map((one) => one.who));
  const things = [...bookable].sort((a, b) => Number(booked.has(b.id)) - Number(booked.has(a.id)));
  const today = format(now, "yyyy-MM-dd");
  const [what, setWhat] = useState("");
  const [amount, setAmount] = useState("");
  const [day, setDay] = useState(today);
  const [text, setText] = useState("");
  const [wrong, setWrong] = useState("");
  const chosen = bookable.find((one) => one.id === what);
  const units = chosen?.of === "material";
  async function submit(event: React.FormEvent) {
    event.preventDefault();
    try {
      const read = readSum(amount);
      if (read === null) throw new Error(units ? "Say how many were used." : "Say how much was spent.");
      await spend({
        task_id: row.id,
        day: day || today,
        resource_id: what || null,
        note: text,
        ...(units ? { units: read } : { amount: read }),
      });
      setAmount("");
      setText("");
      setWrong("");
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <form className="py-1.5" aria-label="Enter what was spent" onSubmit={submit} noValidate>
      <div className="flex flex-wrap items-center gap-1.5">
        <Select
          className="min-w-0 flex-1"
          aria-label="What was used or spent"
          value={what}
          onChange={(event) => setWhat(event.target.value)}
        >
          <option value="">a sum, not planned</option>
          {things.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
              {booked.has(one.id) ? "" : " (not booked here)"}
            </option>
          ))}
        </Select>
        <input
          className="input w-24 text-right"
          aria-label={units ? `How many ${chosen?.unit}` : "How much"}
          placeholder={units ? chosen?.unit : (currency ?? "sum")}
          value={amount}
          onChange={(event) => {
            setAmount(event.target.value);
            setWrong("");
          }}
        />
        <DateField label="Spent on" value={day} onChange={setDay} className="w-[118px]" />
      </div>
      <div className="mt-1.5 flex gap-1.5">
        <input
          className="input min-w-0 flex-1"
          aria-label="Note on what was spent"
          placeholder="what for"
          maxLength={500}
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        <Button type="submit" disabled={!amount.trim()}>
          Enter
        </Button>
      </div>
      <Wrong text={wrong} />
    </form>
  );
}

function ExpenseLine({ expense, cost, project }: { expense: Expense; cost: TaskCost; project: Project }) {
  const me = useMe();
  const { byId } = usePeople();
  const known = useBookable(project.code).find((one) => one.id === expense.resource_id);
  const { edit, remove } = useCostActions(project.code);
  const mine = expense.person_id === me.person.id;
  const open = cost.may_enter && (mine || cost.leads);
  const typed = (expense.units ?? expense.amount ?? "").replace(/(\.\d*?)0+$/, "$1").replace(/\.$/, "");
  const said = saySum(expense.units === null && expense.cost !== null ? expense.cost : typed);
  return (
    <li className="flex min-h-8 items-center gap-2 border-t border-rule text-[12.5px]">
      <Tile person={byId.get(expense.person_id)} size={18} />
      <span className="w-12 flex-none text-ink-2">{sayDay(expense.day, me.now)}</span>
      <span className="min-w-0 flex-1 truncate" title={expense.note}>
        {known?.name ?? (expense.resource_id ? "A resource" : expense.note || "a sum")}
        {known && expense.note && <span className="text-ink-2">: {expense.note}</span>}
      </span>
      <TextField
        value={said}
        label={`How much on ${sayDay(expense.day, me.now)}`}
        readOnly={!open}
        className="w-20 px-1 text-right tabular-nums"
        onSave={(text) => {
          const read = readSum(text);
          if (read === null) return remove(expense);
          return edit(expense, expense.units !== null ? { units: read } : { amount: read });
        }}
      />
      {expense.units !== null && <span className="text-ink-2">{known?.unit}</span>}
      {expense.cost !== null && expense.units !== null && (
        <span className="w-16 flex-none text-right font-semibold tabular-nums">{saySum(expense.cost)}</span>
      )}
      {open && (
        <IconButton
          label="Take this away"
          className="!size-6"
          onClick={() => remove(expense).catch((error) => note(sentence(error), "wrong"))}
        >
          <X size={13} />
        </IconButton>
      )}
    </li>
  );
}
