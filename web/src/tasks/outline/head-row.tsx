/** The head of the outline: its columns, or what can be done with the tasks that are chosen. */
import { mayShape } from "../../data/hooks";
import { Button, Menu, MenuItem, MenuLine } from "../../parts/basics";
import { count } from "../../parts/format";
import { type Catalogue, useView } from "../../views/view";
import type { LensProps } from "../lens";
import type { BulkKind } from "./bulk";
import { ColumnsButton, Head } from "./column-choice";
import type { Column } from "./columns";

export interface Selection {
  project: LensProps["project"];
  changes: LensProps["changes"];
  count: number;
  ids: () => string[];
  canEdit: boolean;
  remove: () => void;
  clear: () => void;
  open: (kind: BulkKind) => void;
  copy: () => void;
}

export function HeadRow({
  columns,
  catalogue,
  selection,
}: {
  columns: Column[];
  catalogue: Catalogue | undefined;
  selection: Selection;
}) {
  const [view, change] = useView();
  return (
    <div
      role="row"
      tabIndex={-1}
      aria-rowindex={1}
      className="sticky top-0 z-10 flex h-[30px] items-center border-b border-rule-2 bg-sheet pl-1 text-[11.5px] text-ink-3"
    >
      {columns.map((column) =>
        column.id === "title" ? (
          <span key="title" role="columnheader" tabIndex={-1} className="flex-1 px-1.5 pl-[22px]">
            {selection.count > 1 ? <SelectionBar {...selection} /> : column.head}
          </span>
        ) : (
          <span
            key={column.id}
            role="columnheader"
            tabIndex={-1}
            aria-label={column.head}
            className={`flex-none px-1.5 ${column.right ? "text-right" : ""}`}
            style={{ width: column.width }}
          >
            <Head column={column} columns={columns} change={change} />
          </span>
        ),
      )}
      <span role="columnheader" tabIndex={-1} aria-label="Choose columns" className="w-9 flex-none text-center">
        {catalogue ? (
          <ColumnsButton columns={columns} chosen={Boolean(view.columns)} catalogue={catalogue} change={change} />
        ) : (
          <span className="sr-only">Choose columns</span>
        )}
      </span>
    </div>
  );
}

function SelectionBar({ project, changes, count: number, ids, canEdit, remove, clear, open, copy }: Selection) {
  return (
    <span className="flex items-center gap-3 text-[12.5px] text-ink">
      <b className="font-semibold">{count(number, "task")} chosen</b>
      {canEdit && (
        <Menu
          trigger={
            <button type="button" className="font-semibold text-rose">
              Do with them
            </button>
          }
        >
          <MenuItem onSelect={() => open("fields")}>Change fields</MenuItem>
          <MenuItem onSelect={() => open("shift")}>Shift dates</MenuItem>
          <MenuItem onSelect={() => changes.linkInARow(ids())}>Link in a row</MenuItem>
          <MenuItem onSelect={() => open("replace")}>Find and replace in titles</MenuItem>
          <MenuLine />
          {mayShape(project) && <MenuItem onSelect={copy}>Copy or move</MenuItem>}
          <MenuItem onSelect={() => changes.step(ids(), "indent")}>Indent</MenuItem>
          <MenuItem onSelect={() => changes.step(ids(), "outdent")}>Outdent</MenuItem>
          <MenuItem onSelect={() => changes.step(ids(), "up")}>Move up</MenuItem>
          <MenuItem onSelect={() => changes.step(ids(), "down")}>Move down</MenuItem>
          <MenuLine />
          <MenuItem onSelect={remove}>Delete</MenuItem>
        </Menu>
      )}
      <Button look="quiet" className="h-6 px-1.5 font-normal" onClick={clear}>
        clear
      </Button>
    </span>
  );
}
