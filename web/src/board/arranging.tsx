/** What stands on the board while it is arranged: things to do with a column, a lane, a period or a workflow, and to add one. */
import { Plus } from "lucide-react";
import { useState } from "react";
import { orTell } from "../data/notes";
import { Button, Modal, Pop } from "../parts/basics";
import { Select } from "../parts/select";

/** A thing to do, as a line of a popover. */
export function Act({ children, ...rest }: React.ComponentProps<"button">) {
  return (
    <button
      type="button"
      className="min-h-7 px-1.5 text-left hover:bg-rose-soft disabled:opacity-40 disabled:hover:bg-transparent"
      {...rest}
    >
      {children}
    </button>
  );
}

/** Up, down, and away, as lines of a popover. */
export function OrderActs({
  at,
  of,
  moveTo,
  remove,
}: {
  at: number;
  of: number;
  moveTo: (at: number) => void;
  remove: () => void;
}) {
  return (
    <div className="mt-1 grid border-t border-rule pt-1">
      <Act disabled={at === 0} onClick={() => moveTo(at - 1)}>
        Move up
      </Act>
      <Act disabled={at === of - 1} onClick={() => moveTo(at + 1)}>
        Move down
      </Act>
      <Act onClick={remove}>Delete</Act>
    </div>
  );
}

/** Adds something to the board: a word that opens a small form. */
export function AddPop({
  what,
  name,
  className = "",
  width = "w-64",
  align,
  children,
}: {
  /** as it is spoken of: “a lane” */
  what: string;
  name: string;
  className?: string;
  width?: string;
  align?: "end";
  children: React.ReactNode;
}) {
  return (
    <Pop
      label={`Add ${what}`}
      className={width}
      align={align}
      trigger={
        <button
          type="button"
          className={`flex items-center gap-1 font-semibold whitespace-nowrap text-rose hover:underline ${className}`}
        >
          <Plus size={14} aria-hidden="true" /> {name}
        </button>
      }
    >
      {children}
    </Pop>
  );
}

/** Before a lane or a period goes: where that goes which stands there. */
export function MoveOut({
  title,
  says,
  nowhere,
  others,
  remove,
  close,
}: {
  title: string;
  says: string;
  nowhere: string;
  others: { id: string; name: string }[];
  remove: (to: string | null) => Promise<unknown>;
  close: () => void;
}) {
  const [to, setTo] = useState("");
  return (
    <Modal open onOpenChange={close} title={title}>
      <label>
        <span className="label">{says}</span>
        <Select className="w-full" value={to} onChange={(event) => setTo(event.target.value)}>
          <option value="">{nowhere}</option>
          {others.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </Select>
      </label>
      <div className="mt-4 flex gap-2">
        <Button look="go" onClick={() => orTell(remove(to || null).then(close))}>
          Delete
        </Button>
        <Button look="quiet" onClick={close}>
          Keep it
        </Button>
      </div>
    </Modal>
  );
}
