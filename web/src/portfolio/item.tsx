/** A larger item as the portfolio shows it: how far, when against what was agreed, and what holds it up. */
import { ArrowUpRight, Flag } from "lucide-react";
import type { Project } from "../data/api";
import { useMe, usePeople } from "../data/hooks";
import { Pop, Tick } from "../parts/basics";
import { Facet } from "../parts/facet";
import { count, sayDay, sayFull } from "../parts/format";
import { Picker } from "../parts/picker";
import { Sign } from "../parts/sign";
import { Tile } from "../parts/tile";
import { type Item, type Part, tiedField, useItemChanges } from "./portfolio";

export interface ItemProps {
  item: Item;
  /** of which it comes; null for an item of the portfolio itself */
  part: Part | null;
  project: Project;
  items: Item[];
  canEdit: boolean;
  open: (id: string, code: string) => void;
}

/** When it is expected, against what was agreed. */
export function Expected({ item, brief = false }: { item: Item; brief?: boolean }) {
  const { now } = useMe();
  const at = item.expected ?? item.finish;
  const days = item.past ?? 0;
  const late = item.state_class !== "finished" && (item.late_days > 0 || days > 0);
  return (
    <span
      title={item.promised ? `promised: ${sayFull(item.promised)}` : sayFull(at)}
      className={late ? "text-ember" : ""}
    >
      {at ? sayDay(at, now) : "no date"}
      {days !== 0 &&
        item.state_class !== "finished" &&
        (brief
          ? `, ${Math.abs(days)} d ${days > 0 ? "past" : "before"}`
          : `, ${count(Math.abs(days), "day")} ${days > 0 ? "past" : "before"} the promise`)}
    </span>
  );
}

/** The task that has to move first, one click away. */
export function HoldsUp({ item, open, named = true }: Pick<ItemProps, "item" | "open"> & { named?: boolean }) {
  const { byId } = usePeople();
  const at = item.holds_up;
  if (!at) return null;
  const path = [...at.path, at.title].join(" › ");
  const owner = byId.get(at.owner_id ?? "")?.name;
  return (
    <button
      type="button"
      className="line-clamp-2 w-full text-left text-[11.5px] leading-[1.3] text-ink-2 hover:text-rose hover:underline"
      title={`${path}${owner ? `, ${owner}` : ""}: ${at.why}`}
      onClick={(event) => {
        event.stopPropagation();
        open(at.task_id, at.code);
      }}
    >
      {at.itself ? "" : `${named ? "hinges on " : ""}${at.title}: `}
      {at.why}
    </button>
  );
}

/** The marks that its team sees: those that are on it, and a way to put one on. */
export function ItemMarks({ item, part, project, canEdit }: Pick<ItemProps, "item" | "part" | "project" | "canEdit">) {
  const changes = useItemChanges(project.code);
  const all = part ? part.marks : project.marks;
  const on = all.filter((one) => item.marks.includes(one.id));
  const may = part ? part.may_mark : canEdit;
  const signs = on.map((one) => (
    <span key={one.id} title={one.name} className="inline-flex">
      <Sign shape={one.shape} colour={one.colour} size={11} />
      <span className="sr-only">{one.name}</span>
    </span>
  ));
  if (!may || !all.length) return signs;
  return (
    <Pop
      label={`Marks of ${item.title}`}
      align="end"
      trigger={
        <button
          type="button"
          aria-label={`Marks of ${item.title}: ${on.map((one) => one.name).join(", ") || "none"}`}
          className="inline-flex min-h-5 min-w-5 items-center gap-0.5 text-ink-3 hover:text-rose"
          onClick={(event) => event.stopPropagation()}
        >
          {on.length ? signs : <Flag size={12} aria-hidden="true" />}
        </button>
      }
    >
      {all.map((one) => (
        <Tick
          key={one.id}
          checked={item.marks.includes(one.id)}
          onChange={(checked) =>
            changes.mark(item, checked ? [...item.marks, one.id] : item.marks.filter((each) => each !== one.id))
          }
        >
          <Sign shape={one.shape} colour={one.colour} /> {one.name}
        </Tick>
      ))}
    </Pop>
  );
}

/** On an item of the portfolio itself: ties it to items of the parts. */
function TieTo({ item, project, items, canEdit }: Pick<ItemProps, "item" | "project" | "items" | "canEdit">) {
  const changes = useItemChanges(project.code);
  const field = tiedField(project);
  if (!field || !canEdit) return null;
  const others = items.filter((one) => one.code !== project.code);
  return (
    <Pop
      label={`What ${item.title} is tied to`}
      trigger={
        <button
          type="button"
          className="text-[11.5px] text-rose hover:underline"
          aria-label={`${item.tied.length ? `tied to ${item.tied.length}` : "+ tie"}: ${item.title}`}
          onClick={(event) => event.stopPropagation()}
        >
          {item.tied.length ? `tied to ${item.tied.length}` : "+ tie"}
        </button>
      }
    >
      <Picker
        label="Find an item"
        nothing="No item is called that."
        className="w-80"
        choices={others.map((one) => ({
          id: one.task_id,
          name: one.title,
          chosen: item.tied.includes(one.task_id),
          after: <span className="flex-none text-[11.5px] text-ink-2">{one.code}</span>,
        }))}
        onChoose={(id) =>
          changes.tie(
            item,
            field.id,
            item.tied.includes(id) ? item.tied.filter((one) => one !== id) : [...item.tied, id],
          )
        }
      />
    </Pop>
  );
}

/** An item on the board of a portfolio. */
export function ItemSlip({
  onKey,
  isOpen,
  ...props
}: ItemProps & { onKey?: (event: React.KeyboardEvent) => void; isOpen: boolean }) {
  const { item, part, project, open } = props;
  const { byId } = usePeople();
  return (
    <div role="listitem" className="relative mb-[7px]">
      <div
        className={`cut-10 slip-edge border bg-sheet px-2 pt-[7px] pb-1.5 ${isOpen ? "border-rose" : "border-rule-2"} ${part ? "" : "border-l-[3px] border-l-slate"}`}
      >
        <div
          role="button"
          tabIndex={0}
          data-slip={part ? undefined : item.task_id}
          data-item={item.task_id}
          aria-keyshortcuts={part ? undefined : "Alt+ArrowLeft Alt+ArrowRight"}
          onClick={() => open(item.task_id, item.code)}
          onKeyDown={(event) => {
            if (event.key === "Enter") {
              event.preventDefault();
              open(item.task_id, item.code);
            } else onKey?.(event);
          }}
          className="flex gap-[7px] select-none focus-visible:outline-offset-2"
        >
          <span className="pt-px">
            <Facet row={item} size={15} />
          </span>
          <span className="min-w-0 flex-1 pr-1.5 leading-[1.28] font-[550] break-words">{item.title}</span>
        </div>
        <div className="mt-1 flex items-center gap-x-2 text-[11.5px] text-ink-2">
          <span className="min-w-0 flex-1">
            <Expected item={item} />
          </span>
          <ItemMarks {...props} />
          <Tile person={byId.get(item.owner_id ?? "")} size={19} />
        </div>
        <div className="mt-1 flex items-center gap-2">
          <span className="flex h-[5px] flex-1 bg-band" role="presentation">
            <span className="bg-ink" style={{ width: `${item.percent}%` }} />
          </span>
          <span className="text-[11.5px] text-ink-2">{item.percent} %</span>
        </div>
        <div className="mt-1 flex items-start gap-2">
          <span className="min-w-0 flex-1">
            <HoldsUp item={item} open={open} />
          </span>
          {!part && <TieTo {...props} items={props.items} project={project} />}
          {part && <ArrowUpRight size={12} className="mt-0.5 flex-none text-slate" aria-label={`of ${item.code}`} />}
        </div>
        {item.held && (
          <div className="hatched -mx-2 mt-1.5 -mb-1.5 px-2 py-[3px] text-[11.5px] font-[550]">Held: {item.held}</div>
        )}
      </div>
    </div>
  );
}
