/** Which columns the outline shows: chosen, ordered, made wider, and with a sum at the foot. */
import { ArrowDown, ArrowUp, Columns3 } from "lucide-react";
import { useRef, useState } from "react";
import { Button, IconButton, Pop } from "../../parts/basics";
import { Select } from "../../parts/select";
import { FieldList } from "../../views/field-list";
import type { Catalogue, Foot, ShownColumn, View } from "../../views/view";
import { type Column, keyOf } from "./columns";

const FEET: [Foot | "", string][] = [
  ["", "nothing"],
  ["sum", "the sum"],
  ["average", "the average"],
  ["least", "the least"],
  ["most", "the most"],
  ["filled", "how many are filled"],
];
const NUMBERS = new Set<string>(["", "sum", "average", "least", "most", "filled"]);
const DATES = new Set<string>(["", "least", "most", "filled"]);
const OTHER = new Set<string>(["", "filled"]);

const toShown = (columns: Column[]): ShownColumn[] =>
  columns.slice(1).map((one) => ({ key: keyOf(one), width: one.width, ...(one.foot ? { foot: one.foot } : {}) }));

export function ColumnsButton({
  columns,
  chosen,
  catalogue,
  change,
}: {
  columns: Column[];
  /** true where the view names its columns; else they follow the room there is */
  chosen: boolean;
  catalogue: Catalogue;
  change: (part: Partial<View>) => void;
}) {
  const [adding, setAdding] = useState(false);
  const shown = toShown(columns);
  const set = (next: ShownColumn[]) => change({ columns: next });
  const typeOf = (key: string) => catalogue.columns.find((one) => one.key === key)?.type;
  const feetFor = (key: string) => (typeOf(key) === "number" ? NUMBERS : typeOf(key) === "date" ? DATES : OTHER);
  return (
    <Pop
      label="Columns"
      align="end"
      onOpenChange={() => setAdding(false)}
      trigger={
        <button
          type="button"
          aria-label="Columns"
          title="Columns"
          className="grid size-6 place-items-center hover:bg-band"
        >
          <Columns3 size={13} aria-hidden="true" />
        </button>
      }
    >
      {adding ? (
        <FieldList
          catalogue={catalogue}
          without={["title", ...shown.map((one) => one.key)]}
          onChoose={(column) => {
            setAdding(false);
            set([...shown, { key: column.key }]);
          }}
        />
      ) : (
        <div className="w-80">
          {shown.map((one, index) => {
            const name = columns[index + 1]?.head ?? "";
            return (
              <div key={one.key} className="flex min-h-8 items-center gap-1 px-1">
                <span className="min-w-0 flex-1 truncate">{name}</span>
                <Select
                  className="!h-6 w-28 !px-1 text-[12px]"
                  aria-label={`At the foot of ${name}`}
                  value={one.foot ?? ""}
                  onChange={(event) =>
                    set(shown.with(index, { ...one, foot: (event.target.value || undefined) as Foot | undefined }))
                  }
                >
                  {FEET.filter(([foot]) => feetFor(one.key).has(foot)).map(([foot, words]) => (
                    <option key={foot} value={foot}>
                      {foot ? words : "no foot"}
                    </option>
                  ))}
                </Select>
                <IconButton
                  label={`Move ${name} to the left`}
                  className="!size-6"
                  disabled={index === 0}
                  onClick={() => set(moved(shown, index, index - 1))}
                >
                  <ArrowUp size={13} />
                </IconButton>
                <IconButton
                  label={`Move ${name} to the right`}
                  className="!size-6"
                  disabled={index === shown.length - 1}
                  onClick={() => set(moved(shown, index, index + 1))}
                >
                  <ArrowDown size={13} />
                </IconButton>
                <button
                  type="button"
                  className="px-1 text-ink-2 hover:text-ink"
                  aria-label={`Do not show ${name}`}
                  onClick={() => set(shown.filter((each) => each !== one))}
                >
                  ×
                </button>
              </div>
            );
          })}
          <div className="mt-1 flex gap-1 border-t border-rule pt-1">
            <Button look="rose" onClick={() => setAdding(true)}>
              + column
            </Button>
            {chosen && (
              <Button look="quiet" className="ml-auto" onClick={() => change({ columns: [] })}>
                The usual ones
              </Button>
            )}
          </div>
        </div>
      )}
    </Pop>
  );
}

function moved<T>(list: T[], from: number, to: number): T[] {
  const rest = list.filter((_, index) => index !== from);
  return [...rest.slice(0, to), list[from] as T, ...rest.slice(to)];
}

/** The head of a column; its edge is dragged, or moved by arrow keys, to make it wider. */
export function Head({
  column,
  columns,
  change,
}: {
  column: Column;
  columns: Column[];
  change: (part: Partial<View>) => void;
}) {
  const [wide, setWide] = useState<number | null>(null);
  const begun = useRef({ x: 0, width: 0 });
  const set = (width: number) => {
    const fitting = Math.round(Math.min(600, Math.max(40, width)));
    change({ columns: toShown(columns.map((one) => (one === column ? { ...one, width: fitting } : one))) });
  };
  return (
    <span className="relative block truncate">
      {column.head}
      <span
        role="separator"
        tabIndex={0}
        aria-orientation="vertical"
        aria-label={`Width of ${column.head}`}
        aria-valuenow={wide ?? column.width}
        aria-valuemin={40}
        aria-valuemax={600}
        className={`absolute inset-y-0 -right-1.5 w-2 cursor-col-resize touch-none ${wide === null ? "" : "bg-rose-mid"} hover:bg-rule-2`}
        onKeyDown={(event) => {
          if (event.key !== "ArrowLeft" && event.key !== "ArrowRight") return;
          event.preventDefault();
          event.stopPropagation();
          set(column.width + (event.key === "ArrowRight" ? 8 : -8));
        }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          begun.current = { x: event.clientX, width: column.width };
          setWide(column.width);
        }}
        onPointerMove={(event) => wide !== null && setWide(begun.current.width + event.clientX - begun.current.x)}
        onPointerUp={() => {
          if (wide !== null && wide !== begun.current.width) set(wide);
          setWide(null);
        }}
      />
    </span>
  );
}
