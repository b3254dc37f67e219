/** Rates of a person or resource: amounts an hour or a unit, each from a day on. Only for who may see what people cost. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useState } from "react";
import { refreshCosts } from "../cost/cost";
import { ask, client, type Schemas, sentence } from "../data/api";
import { useMe } from "../data/hooks";
import { allKey, projectKey } from "../data/keys";
import { note } from "../data/notes";
import { sendUndoable } from "../data/undo";
import { Button, IconButton, Wrong } from "../parts/basics";
import { DateField } from "../parts/dates/field";
import { readNumber, sayDay, sayMoney } from "../parts/format";
import { useStaff } from "./use-staff";

type Kind = Schemas["RatesOut"]["kind"];
type Rate = { first: string | null; amount: string };
const NONE: Schemas["RatesOut"][] = [];

/** The rates of all, or of a project's own resources. */
function useRates(code: string | null) {
  const key = code ? projectKey(code, "rates") : allKey("rates");
  const { data } = useQuery({
    queryKey: key,
    queryFn: () =>
      code
        ? ask(client.GET("/api/projects/{code}/rates", { params: { path: { code } } }))
        : ask(client.GET("/api/rates")),
  });
  return { all: data ?? NONE, key };
}

export function Rates({
  code = null,
  who,
  name,
  kind,
  label,
  own,
}: {
  code?: string | null;
  who: string;
  name: string;
  kind: Kind;
  /** what the amount is for, such as “An hour costs” */
  label: string;
  /** the currency of a project that has its own */
  own?: string | null;
}) {
  const queries = useQueryClient();
  const { now } = useMe();
  const usual = useStaff().data?.currency ?? "";
  const currency = own ?? usual;
  const { all, key } = useRates(code);
  const [first, setFirst] = useState("");
  const [amount, setAmount] = useState("");
  const [wrong, setWrong] = useState("");
  const rates: Rate[] = (all.find((one) => one.who === who && one.kind === kind)?.rates ?? []).map((one) => ({
    first: one.first ?? null,
    amount: String(one.amount),
  }));
  async function save(wanted: Rate[]) {
    const body = { who, kind, rates: wanted };
    await sendUndoable(queries, code ?? "", `Changed a rate of ${name}`, (headers) =>
      code
        ? client.PUT("/api/projects/{code}/rates", { params: { path: { code } }, body, headers })
        : client.PUT("/api/rates", { body, headers }),
    );
    refreshCosts(queries);
    await queries.invalidateQueries({ queryKey: key });
  }
  async function add(event: React.FormEvent) {
    event.preventDefault();
    const read = readNumber(amount);
    if (read === null) return setWrong("Write the amount as a number, such as 32.50.");
    try {
      const day = first || null;
      await save([...rates.filter((one) => one.first !== day), { first: day, amount: String(read) }]);
      setFirst("");
      setAmount("");
      setWrong("");
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <form onSubmit={add} aria-label={`${label}: ${name}`} noValidate>
      <h4 className="label">{label}</h4>
      <ul className="border-t border-rule">
        {rates.map((one) => (
          <li key={one.first ?? ""} className="flex min-h-8 items-center gap-3 border-b border-rule">
            <span className="min-w-0 flex-1 text-ink-2">
              {one.first ? `from ${sayDay(one.first, now)}` : "from the beginning"}
            </span>
            <span>
              {sayMoney(Number(one.amount))} {currency}
            </span>
            <IconButton
              label={`Take away the rate ${one.first ? `from ${sayDay(one.first, now)}` : "from the beginning"}`}
              onClick={() =>
                save(rates.filter((each) => each !== one)).catch((error) => note(sentence(error), "wrong"))
              }
            >
              <X size={13} />
            </IconButton>
          </li>
        ))}
      </ul>
      <div className="mt-1.5 flex flex-wrap items-center gap-2">
        <input
          className="input w-24 text-right"
          aria-label={`${label}: amount`}
          inputMode="decimal"
          placeholder="32.50"
          value={amount}
          onChange={(event) => setAmount(event.target.value)}
        />
        <span className="text-ink-2">{currency} from</span>
        <DateField label={`${label}: from, empty: from the beginning`} value={first} onChange={setFirst} />
        <Button type="submit">{rates.length ? "Add it" : "Set it"}</Button>
      </div>
      <Wrong text={wrong} />
    </form>
  );
}
