/** One invoice sheet: its lines are adjusted while it is a draft; frozen it is had as PDF, table and open document. */
import { addDays, format } from "date-fns";
import { Plus, X } from "lucide-react";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { newId, type Project, type Schemas, sentence } from "../../data/api";
import { useMe } from "../../data/hooks";
import { orTell } from "../../data/notes";
import { Button, Failed, IconButton, Loading, Modal, Wrong } from "../../parts/basics";
import { DateField } from "../../parts/dates/field";
import { sayDay } from "../../parts/format";
import { TextField } from "../../parts/text-field";
import { sayTime } from "../../time/say";
import { readSum, saySum } from "../cost";
import { type Invoice, type Line, useChargeable, useInvoice, useInvoiceActions } from "./invoices";

type LineIn = Schemas["InvoiceLineModel"];
const sent = ({ id, text, minutes, rate, amount }: Line): LineIn => ({ id, text, minutes, rate, amount });

/** Hours as they are charged: `1:30` and `1.5` are the same. */
function readMinutes(text: string): number {
  const clock = /^(\d+):([0-5]\d)$/.exec(text.trim());
  if (clock) return Number(clock[1]) * 60 + Number(clock[2]);
  const hours = Number(text.trim().replace(",", ".").replace(/\s*h$/, ""));
  if (!text.trim() || !Number.isFinite(hours) || hours < 0) throw new Error(`“${text}” is no number of hours.`);
  return Math.round(hours * 60);
}

/** A rate with all its decimals, two at least, so that it times the hours is the sum. */
const sayRate = (rate: string) => saySum(Number(rate).toFixed(Math.max(2, rate.split(".")[1]?.length ?? 0)));

export function SheetOf({ project, id }: { project: Project; id: string }) {
  const { data, error, refetch } = useInvoice(project.code, id);
  if (error) return <Failed error={error} retry={refetch} />;
  if (!data) return <Loading what="the sheet" rows={8} />;
  return <Sheet project={project} invoice={data} />;
}

function Sheet({ project, invoice }: { project: Project; invoice: Invoice }) {
  const { now } = useMe();
  const { edit, remove, cancel } = useInvoiceActions(project.code);
  const navigate = useNavigate();
  const [freezing, setFreezing] = useState(false);
  const draft = invoice.state === "draft" && !project.archived;
  const lines = invoice.lines.map(sent);
  const save = async (next: LineIn[]) => {
    await edit(invoice.id, { lines: next });
  };
  const replace = (line: Line, fields: Partial<LineIn>) =>
    save(lines.map((one) => (one.id === line.id ? { ...one, ...fields } : one)));
  return (
    <div className="max-w-4xl">
      <p className="text-[12px]">
        <Link className="text-rose hover:underline" to={`/p/${project.code}/invoices`}>
          All invoice sheets
        </Link>
      </p>
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <h2 className="text-[19px]">
          {invoice.number ? `Invoice sheet ${invoice.number}` : "Invoice sheet, draft"}
          {invoice.state === "cancelled" && <span className="ml-2 text-[15px] text-ember">cancelled</span>}
        </h2>
        <span className="text-ink-2">
          hours from {sayDay(invoice.first, now)} to {sayDay(invoice.last, now)}
          {invoice.issued && `, issued ${sayDay(invoice.issued, now)}`}
          {invoice.due && `, due ${sayDay(invoice.due, now)}`}
        </span>
        <span className="ml-auto flex items-center gap-3">
          <Files project={project} invoice={invoice} />
          {draft && (
            <>
              <Button
                look="quiet"
                onClick={() => orTell(remove(invoice.id).then(() => navigate(`/p/${project.code}/invoices`)))}
              >
                Take it away
              </Button>
              <Button look="go" onClick={() => setFreezing(true)}>
                Freeze it …
              </Button>
            </>
          )}
          {invoice.state === "frozen" && !project.archived && (
            <Button look="quiet" title="Its hours can then be charged anew" onClick={() => orTell(cancel(invoice.id))}>
              Cancel it
            </Button>
          )}
        </span>
      </div>
      <dl className="mt-2 grid grid-cols-[84px_minmax(0,1fr)] items-center gap-x-3 border-y border-rule-2 py-1">
        <dt className="text-ink-2">Client</dt>
        <dd>
          <TextField
            value={invoice.client}
            label="Client"
            readOnly={!draft}
            placeholder="who is charged"
            className="w-full px-1.5 font-semibold"
            onSave={(client) => edit(invoice.id, { client }).then(() => undefined)}
          />
        </dd>
      </dl>
      <table className="w-full border-collapse" aria-label="Lines">
        <thead>
          <tr className="h-8 border-b border-rule-2 text-[12px] text-ink-2">
            <th scope="col" className="text-left font-semibold">
              For what
            </th>
            <th scope="col" className="w-20 text-right font-semibold">
              Hours
            </th>
            <th scope="col" className="w-24 text-right font-semibold">
              Rate
            </th>
            <th scope="col" className="w-28 text-right font-semibold">
              {invoice.currency}
            </th>
            <th aria-label="Take out" className="w-8" />
          </tr>
        </thead>
        <tbody>
          {invoice.lines.map((line) => (
            <LineRow
              key={line.id}
              {...{ line, draft }}
              change={(fields) => replace(line, fields)}
              take={() => orTell(save(lines.filter((one) => one.id !== line.id)))}
            />
          ))}
        </tbody>
        <tfoot>
          <Sum name="Net" amount={invoice.net} />
          <tr className="h-8">
            <th scope="row" className="font-normal text-ink-2" colSpan={3}>
              <span className="flex items-center justify-end gap-1">
                Tax
                <TextField
                  value={String(Number(invoice.tax))}
                  label="Tax in a hundred"
                  readOnly={!draft}
                  className="w-14 px-1 text-right"
                  onSave={(tax) => edit(invoice.id, { tax: readSum(tax) ?? "0" }).then(() => undefined)}
                />
                %
              </span>
            </th>
            <td className="text-right tabular-nums">{saySum(invoice.tax_sum)}</td>
            <td />
          </tr>
          <Sum name="Payable" amount={invoice.payable} strong />
        </tfoot>
      </table>
      {draft && <AddLine add={(line) => save([...lines, line])} />}
      <div className="mt-4">
        <span className="text-ink-2">Note under the sums</span>
        <TextField
          value={invoice.note}
          label="Note under the sums"
          readOnly={!draft}
          placeholder="terms, account, thanks"
          className="w-full !border-rule-2 px-1.5"
          onSave={(text) => edit(invoice.id, { note: text }).then(() => undefined)}
        />
      </div>
      {freezing && <Freeze project={project} invoice={invoice} close={() => setFreezing(false)} />}
    </div>
  );
}

function Files({ project, invoice }: { project: Project; invoice: Invoice }) {
  const address = (kind: string) => `/api/projects/${project.code}/invoices/${invoice.id}/file.${kind}`;
  const kinds = [
    ["pdf", "PDF"],
    ["csv", "CSV"],
    ["xlsx", "XLSX"],
    ...(invoice.state === "frozen" ? [["xml", "UBL"]] : []),
  ];
  return (
    <span className="text-[12.5px] whitespace-nowrap text-ink-2">
      as{" "}
      {kinds.map(([kind, name], index) => (
        <span key={kind}>
          {index > 0 && " · "}
          <a className="underline decoration-rule-2 hover:text-ink" href={address(kind ?? "")} download>
            {name}
          </a>
        </span>
      ))}
    </span>
  );
}

function LineRow({
  line,
  draft,
  change,
  take,
}: {
  line: Line;
  draft: boolean;
  change: (fields: Partial<LineIn>) => Promise<void>;
  take: () => void;
}) {
  const differs = line.entered !== null && typeof line.minutes === "number" && line.entered !== line.minutes;
  return (
    <tr className="border-b border-rule">
      <td>
        <TextField
          value={line.text}
          label="For what"
          readOnly={!draft}
          className="w-full px-1"
          onSave={(text) => change({ text })}
        />
        {differs && draft && (
          <span className="block pb-1 pl-1 text-[11.5px] text-ink-2">{sayTime(line.entered ?? 0)} were entered</span>
        )}
      </td>
      <td className="text-right">
        {typeof line.minutes === "number" && (
          <TextField
            value={sayTime(line.minutes)}
            label={`Hours of ${line.text}`}
            readOnly={!draft}
            className="w-full px-1 text-right tabular-nums"
            onSave={(text) => change({ minutes: readMinutes(text) })}
          />
        )}
      </td>
      <td className="text-right">
        {typeof line.rate === "string" && (
          <TextField
            value={sayRate(line.rate)}
            label={`Rate of ${line.text}`}
            readOnly={!draft}
            className={`w-full px-1 text-right tabular-nums ${Number(line.rate) ? "" : "text-ochre"}`}
            onSave={(text) => change({ rate: readSum(text, 4) ?? "0" })}
          />
        )}
      </td>
      <td className="text-right tabular-nums">
        {typeof line.amount === "string" && draft ? (
          <TextField
            value={saySum(line.sum)}
            label={`Sum of ${line.text}`}
            className="w-full px-1 text-right"
            onSave={(text) => change({ amount: readSum(text) ?? "0" })}
          />
        ) : (
          saySum(line.sum)
        )}
      </td>
      <td>
        {draft && (
          <IconButton label={`Take out ${line.text}`} className="!size-7" onClick={take}>
            <X size={13} />
          </IconButton>
        )}
      </td>
    </tr>
  );
}

const Sum = ({ name, amount, strong }: { name: string; amount: string; strong?: boolean }) => (
  <tr className={`h-8 ${strong ? "border-t border-rule-2 text-[15px] font-semibold" : ""}`}>
    <th scope="row" className={`text-right ${strong ? "font-semibold" : "font-normal text-ink-2"}`} colSpan={3}>
      {name}
    </th>
    <td className="text-right tabular-nums">{saySum(amount)}</td>
    <td />
  </tr>
);

/** A line of one's own: a sum, or hours that are put in afterwards. */
function AddLine({ add }: { add: (line: LineIn) => Promise<void> }) {
  const [text, setText] = useState("");
  const [amount, setAmount] = useState("");
  const [wrong, setWrong] = useState("");
  async function submit(event: React.FormEvent) {
    event.preventDefault();
    try {
      const read = readSum(amount);
      if (!text.trim() || read === null) throw new Error("Say what is charged, and the sum.");
      await add({ id: newId(), text: text.trim(), minutes: null, rate: null, amount: read });
      setText("");
      setAmount("");
      setWrong("");
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  return (
    <form className="mt-2" aria-label="Add a line" onSubmit={submit} noValidate>
      <div className="flex gap-2">
        <input
          className="input min-w-0 flex-1"
          aria-label="What is charged"
          placeholder="material, travel"
          maxLength={300}
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        <input
          className="input w-28 text-right"
          aria-label="Sum to charge"
          placeholder="sum"
          value={amount}
          onChange={(event) => setAmount(event.target.value)}
        />
        <Button type="submit">
          <Plus size={14} aria-hidden="true" /> Add a line
        </Button>
      </div>
      <Wrong text={wrong} />
    </form>
  );
}

function Freeze({ project, invoice, close }: { project: Project; invoice: Invoice; close: () => void }) {
  const { now } = useMe();
  const { freeze } = useInvoiceActions(project.code);
  const next = useChargeable(project.code, invoice.first, invoice.last);
  const [typed, setTyped] = useState<string | null>(null);
  const [issued, setIssued] = useState(format(now, "yyyy-MM-dd"));
  const [due, setDue] = useState(format(addDays(now, 30), "yyyy-MM-dd"));
  const [wrong, setWrong] = useState("");
  return (
    <Modal open onOpenChange={close} title="Freeze the sheet under a number">
      <form
        noValidate
        onSubmit={async (event) => {
          event.preventDefault();
          try {
            await freeze(invoice.id, { number: typed ?? next.data?.number ?? "", issued, due: due || null });
            close();
          } catch (error) {
            setWrong(sentence(error));
          }
        }}
      >
        <p className="mb-3 text-ink-2">
          From then on it never changes. It can be cancelled; its hours can then be charged anew.
        </p>
        <div className="mb-3 grid grid-cols-[84px_minmax(0,1fr)] items-center gap-x-3 gap-y-2">
          <span className="text-ink-2">Number</span>
          <input
            className="input w-40"
            aria-label="Number"
            maxLength={40}
            value={typed ?? next.data?.number ?? ""}
            onChange={(event) => setTyped(event.target.value)}
          />
          <span className="text-ink-2">Issued on</span>
          <DateField label="Issued on" value={issued} onChange={setIssued} />
          <span className="text-ink-2">Due on</span>
          <DateField label="Due on" value={due} onChange={setDue} />
        </div>
        <Wrong text={wrong} />
        <Button look="go" type="submit">
          Freeze it
        </Button>
      </form>
    </Modal>
  );
}
