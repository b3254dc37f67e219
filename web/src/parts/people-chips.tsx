/** People to whom something goes, each to be taken out again, and one more to be chosen. */
import { X } from "lucide-react";
import { useState } from "react";
import { usePeople } from "../data/hooks";
import { Pop } from "./basics";
import { PersonList } from "./choosers";

interface Props {
  people: string[];
  set: (people: string[]) => void;
  /** what the button that takes one out says to a screen reader */
  without: (name: string) => string;
  /** what the choice of one more is called, and what its button says */
  add: string;
  more: string;
}

export function PeopleChips({ people, set, without, add, more }: Props) {
  const { byId } = usePeople();
  return (
    <>
      {people.map((one) => (
        <button
          key={one}
          type="button"
          className="flex items-center gap-1 border border-rule-2 bg-sheet px-1.5 hover:border-ink"
          aria-label={without(byId.get(one)?.name ?? "somebody")}
          onClick={() => set(people.filter((each) => each !== one))}
        >
          {byId.get(one)?.short ?? "somebody"} <X size={11} />
        </button>
      ))}
      <AddPerson label={add} choose={(one) => set([...new Set([...people, one])])}>
        {more}
      </AddPerson>
    </>
  );
}

interface AddProps {
  label: string;
  choose: (id: string) => void;
  children: string;
}

export function AddPerson({ label, choose, children }: AddProps) {
  const [open, setOpen] = useState(false);
  return (
    <Pop
      label={label}
      open={open}
      onOpenChange={setOpen}
      trigger={
        <button type="button" className="text-rose hover:underline">
          {children}
        </button>
      }
    >
      <PersonList
        value={null}
        onChoose={(one) => {
          setOpen(false);
          if (one) choose(one);
        }}
      />
    </Pop>
  );
}
