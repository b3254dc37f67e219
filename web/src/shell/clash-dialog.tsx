/** Two people changed the same field: which value stays. */
import type { ClashField } from "../data/api";
import { useClash } from "../data/clash";
import { usePeople } from "../data/hooks";
import { Button, Modal } from "../parts/basics";
import { sayDay } from "../parts/format";

const NAMES: Record<string, string> = {
  owner_id: "owner",
  state_id: "state",
  percent: "percent done",
  held_reason: "held",
};

function Value({ field, value }: { field: string; value: unknown }) {
  const { byId } = usePeople();
  if (value === null || value === "") return <i>none</i>;
  if (field === "owner_id") return byId.get(String(value))?.name ?? "somebody";
  if (["start", "finish", "deadline"].includes(field) && /^\d{4}-/.test(String(value))) return sayDay(String(value));
  return String(value);
}

function ClashRow({ clash, title }: { clash: ClashField; title: string }) {
  const { byId } = usePeople();
  return (
    <tr className="border-t border-rule align-top">
      <td className="py-1.5 pr-3">
        <b className="block font-semibold">{title}</b>
        {NAMES[clash.field] ?? clash.field}
      </td>
      <td className="py-1.5 pr-3">
        <Value field={clash.field} value={clash.yours} />
      </td>
      <td className="py-1.5">
        <Value field={clash.field} value={clash.theirs} />
        <span className="block text-[12px] text-ink-2">{byId.get(clash.by)?.name}</span>
      </td>
    </tr>
  );
}

export default function ClashDialog() {
  const clash = useClash();
  if (!clash) return null;
  return (
    <Modal open onOpenChange={() => clash.answer(false)} title="Two people changed the same field" keepOpen>
      <p className="mb-3 text-ink-2">{clash.problem.sentence}</p>
      <table className="mb-4 w-full">
        <thead>
          <tr className="text-left text-ink-2">
            <th className="font-normal">Field</th>
            <th className="font-normal">Yours</th>
            <th className="font-normal">Theirs</th>
          </tr>
        </thead>
        <tbody>
          {clash.problem.clashes.map((one) => (
            <ClashRow key={`${one.task_id}${one.field}`} clash={one} title={clash.titleOf(one.task_id ?? "")} />
          ))}
        </tbody>
      </table>
      <div className="flex gap-2">
        <Button look="go" onClick={() => clash.answer(true)}>
          Keep mine
        </Button>
        <Button onClick={() => clash.answer(false)}>Keep theirs</Button>
      </div>
    </Modal>
  );
}
