/** Booking somebody, or something, on a task. */
import { useState } from "react";
import { type Project, sentence, type TaskRow } from "../data/api";
import { usePeople } from "../data/hooks";
import { Button, Pop, Wrong } from "../parts/basics";
import { sayHours } from "../parts/format";
import { Picker } from "../parts/picker";
import { Tile } from "../parts/tile";
import { readAmount } from "./bookings";
import type { Named, useBookable } from "./use-bookable";

/** Book somebody: who owns the task first; what is open is proposed. Of a material or a fixed cost it is asked how much. */
export function Book({
  row,
  project,
  bookable,
  onChoose,
}: {
  row: TaskRow;
  project: Project;
  bookable: ReturnType<typeof useBookable>;
  onChoose: (booking: Record<string, unknown>) => void;
}) {
  const { byId } = usePeople();
  const [choosing, setChoosing] = useState(false);
  const [asking, setAsking] = useState<Named | null>(null);
  const booked = new Set(row.bookings.map((one) => one.who));
  const rank = (one: Named) =>
    one.id === row.owner_id
      ? 0
      : row.helpers.includes(one.id)
        ? 1
        : one.id in project.members
          ? 2
          : byId.has(one.id)
            ? 3
            : one.of === "labour"
              ? 4
              : 5;
  const choices = bookable
    .filter((one) => !booked.has(one.id))
    .sort((a, b) => rank(a) - rank(b) || a.name.localeCompare(b.name));
  const minutes = Math.max(0, row.open ?? 0);
  const owner = row.owner_id && !booked.has(row.owner_id) ? bookable.find((one) => one.id === row.owner_id) : undefined;
  const book = (booking: Record<string, unknown>) => {
    setChoosing(false);
    setAsking(null);
    onChoose(booking);
  };
  return (
    <>
      {owner && minutes > 0 && (
        <button
          type="button"
          className="text-rose hover:underline"
          onClick={() => onChoose({ who: owner.id, resource: false, minutes })}
        >
          + {owner.name.split(" ")[0]} {sayHours(minutes)}
        </button>
      )}
      <Pop
        label="Book somebody"
        open={choosing}
        onOpenChange={(open) => {
          setChoosing(open);
          setAsking(null);
        }}
        trigger={
          <button type="button" className="text-rose hover:underline">
            + book somebody{minutes > 0 && !owner ? ` for ${sayHours(minutes)}` : ""}
          </button>
        }
      >
        {asking ? (
          <Amount of={asking} book={(amount) => book({ who: asking.id, resource: true, of: asking.of, amount })} />
        ) : (
          <Picker
            label="Find a person, crew, role or material"
            nothing="Nothing that can be booked is called that."
            choices={choices.map((one) => ({
              id: one.id,
              name: one.of === "labour" ? one.name : `${one.name}, ${one.unit || "a fixed cost"}`,
              before: <Tile person={byId.get(one.id)} size={20} label={false} />,
            }))}
            onChoose={(id) => {
              const chosen = bookable.find((one) => one.id === id);
              if (!chosen) return;
              if (chosen.of === "labour") book({ who: chosen.id, resource: chosen.resource, minutes });
              else setAsking(chosen);
            }}
          />
        )}
      </Pop>
    </>
  );
}

function Amount({ of, book }: { of: Named; book: (amount: number) => void }) {
  const [typed, setTyped] = useState("");
  const [wrong, setWrong] = useState("");
  return (
    <form
      className="w-64 p-2"
      aria-label={`How much of ${of.name}`}
      onSubmit={(event) => {
        event.preventDefault();
        try {
          book(readAmount(typed));
        } catch (error) {
          setWrong(sentence(error));
        }
      }}
    >
      <p className="mb-1.5 font-semibold">{of.name}</p>
      <div className="flex items-center gap-2">
        <input
          // biome-ignore lint/a11y/noAutofocus: it was just asked for
          autoFocus
          className="input min-w-0 flex-1 text-right"
          inputMode="decimal"
          aria-label={of.of === "fixed" ? "The sum" : `How many ${of.unit}`}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <span className="text-ink-2">{of.unit}</span>
        <Button type="submit">Book it</Button>
      </div>
      <Wrong text={wrong} />
    </form>
  );
}
