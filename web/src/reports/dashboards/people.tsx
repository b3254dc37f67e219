/** People side by side with what each has in hand. A task is handed over by drawing it to another name, or from its menu. */
import {
  DndContext,
  DragOverlay,
  PointerSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../data/api";
import { usePeople } from "../../data/hooks";
import { Pop } from "../../parts/basics";
import { PersonList } from "../../parts/choosers";
import { count, sayHours, sayHoursOf } from "../../parts/format";
import { Tile } from "../../parts/tile";
import { useChangesOf } from "../../tasks/changes";
import { type Item, listAddress } from "./dashboards";
import { Due, TaskTitle } from "./shown";

type Person = Schemas["PersonWorkOut"];

export function PeopleShown({
  answer,
  scope,
}: {
  answer: Schemas["PanelPeople"];
  scope: Schemas["PanelScope"] | null;
}) {
  const changesOf = useChangesOf();
  const { byId } = usePeople();
  const [dragged, setDragged] = useState<Item | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  const handOver = (item: Item, owner_id: string | null) => {
    if (item.owner_id === owner_id) return;
    const to = owner_id ? (byId.get(owner_id)?.short ?? "somebody") : "nobody";
    changesOf(item.code).editOrTell(`Handed ${item.title} over to ${to}`, [
      { id: item.id, fields: { owner_id }, shown: { owner_id }, revision: item.revision },
    ]);
  };
  if (!answer.people.length) return <p className="pt-1 text-ink-2">Nobody has open work of the sentence.</p>;
  return (
    <DndContext
      sensors={sensors}
      onDragStart={({ active }) => setDragged(active.data.current as Item)}
      onDragCancel={() => setDragged(null)}
      onDragEnd={({ active, over }) => {
        setDragged(null);
        if (over) handOver(active.data.current as Item, over.id === "nobody" ? null : String(over.id));
      }}
    >
      <div className="grid h-full min-h-0 auto-cols-[minmax(212px,1fr)] grid-flow-col overflow-x-auto max-md:block">
        {answer.people.map((one) => (
          <Column key={one.person_id ?? "nobody"} person={one} scope={scope} handOver={handOver} />
        ))}
        {answer.more > 0 && <p className="p-2 text-ink-2">and {count(answer.more, "other person", "other people")}</p>}
      </div>
      <DragOverlay dropAnimation={null}>
        {dragged && (
          <div className="cut-10 max-w-60 truncate border border-ink bg-sheet px-2 py-1">{dragged.title}</div>
        )}
      </DragOverlay>
    </DndContext>
  );
}

function Column({
  person,
  scope,
  handOver,
}: {
  person: Person;
  scope: Schemas["PanelScope"] | null;
  handOver: (item: Item, owner: string | null) => void;
}) {
  const { byId } = usePeople();
  const { setNodeRef, isOver } = useDroppable({ id: person.person_id ?? "nobody" });
  const clause = person.person_id ? ["owner", "any", [person.person_id]] : ["owner", "empty"];
  return (
    <section
      ref={setNodeRef}
      aria-label={person.name}
      className={`min-w-0 border-r border-rule px-2.5 last:border-r-0 ${isOver ? "bg-rose-soft" : ""}`}
    >
      <header className="mb-1 flex items-start gap-2">
        <Tile person={byId.get(person.person_id ?? "")} size={24} label={false} />
        <span className="min-w-0">
          <Link
            to={listAddress(scope, [clause, ["class", "any", ["queued", "active"]]])}
            className="block truncate font-semibold hover:underline"
          >
            {person.name}
          </Link>
          <span className="block truncate text-[11.5px] text-ink-2">
            {person.active} of {person.open} under way
            {person.late > 0 && <b className="font-semibold text-ember">, {person.late} late</b>}
          </span>
          {person.booked !== null && person.capacity !== null && (
            <span
              className={`block truncate text-[11.5px] ${person.over > 0 ? "font-semibold text-ember" : "text-ink-2"}`}
            >
              {sayHoursOf(person.booked, person.capacity)}
              {person.over > 0 ? `, ${sayHours(person.over)} over` : " this week"}
            </span>
          )}
        </span>
      </header>
      <ul>
        {person.items.map((item) => (
          <Held key={item.id} item={item} handOver={handOver} />
        ))}
      </ul>
      {person.open > person.items.length && (
        <p className="py-1 text-[12px] text-ink-2">and {person.open - person.items.length} more</p>
      )}
    </section>
  );
}

function Held({ item, handOver }: { item: Item; handOver: (item: Item, owner: string | null) => void }) {
  const { setNodeRef, listeners, isDragging } = useDraggable({ id: item.id, data: item, disabled: !item.may_edit });
  const [choosing, setChoosing] = useState(false);
  return (
    <li
      ref={setNodeRef}
      {...listeners}
      className={`reveals flex h-[27px] items-center gap-1.5 border-b border-rule ${item.may_edit ? "cursor-grab" : ""} ${isDragging ? "opacity-40" : ""}`}
    >
      <span className="min-w-0 flex-1">
        <TaskTitle item={item} code={false} />
      </span>
      <span className="flex-none text-[12px] whitespace-nowrap">
        <Due item={item} />
      </span>
      {item.may_edit && (
        <Pop
          label={`Hand ${item.title} over`}
          open={choosing}
          onOpenChange={setChoosing}
          align="end"
          trigger={
            <button
              type="button"
              aria-label={`Hand ${item.title} over`}
              title="Hand it over"
              className="flex-none px-0.5 text-ink-3 reveal hover:text-ink"
            >
              ▾
            </button>
          }
        >
          <PersonList
            value={item.owner_id}
            onChoose={(owner) => {
              setChoosing(false);
              handOver(item, owner);
            }}
          />
        </Pop>
      )}
    </li>
  );
}
