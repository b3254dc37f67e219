/** What the rows of a grid of tasks do: take the focus, be edited, saved, folded, opened. */
import { useMemo } from "react";
import { sentence, type TaskRow } from "../data/api";
import { note } from "../data/notes";
import type { Come, Grid, Left } from "../parts/grid/use-grid";
import { CARRIED, carriedIn, useEditTied, useHeldTied } from "../views/tied";
import type { Changes } from "./changes";
import type { Column, ColumnId } from "./outline/columns";

export interface RowActions {
  focus: (id: string, column: ColumnId, how?: Come) => void;
  beginEdit: (id: string, column: ColumnId) => void;
  endEdit: (id: string, column: ColumnId, how: Left) => void;
  save: (row: TaskRow, column: Column, value: unknown, shown?: Partial<TaskRow>) => void;
  fold: (id: string) => void;
  open: (row: TaskRow) => void;
}

export function useRowActions(
  code: string,
  act: Grid["act"],
  changes: Changes,
  fold: (id: string) => void,
  openTask: (id: string) => void,
): RowActions {
  const tied = useHeldTied(code);
  const editTied = useEditTied(code);
  return useMemo(() => {
    /** What was typed comes back to its cell with the reason, unless another cell is being typed in by now. */
    function refuse(row: TaskRow, column: Column, value: unknown, error: unknown) {
      const why = sentence(error);
      if (column.typed && !act.isEditing()) act.refuse(row.id, column.id, String(value), why);
      else note(column.typed ? `${why} You typed “${value}” for “${row.title}”.` : why, "wrong");
    }
    return {
      focus: act.focus,
      beginEdit: act.edit,
      endEdit: act.end,
      save: async (row, column, value, shown) => {
        // a title is one task's; any other cell is changed in all that are chosen
        if (column.id.startsWith(CARRIED)) {
          const found = carriedIn(tied(), row.id, column.id);
          if (!found) note("It is tied to no single task that you may change.", "wrong");
          else
            editTied(found.of, column.head, { [found.field]: value }).catch((error) =>
              refuse(row, column, value, error),
            );
          return;
        }
        const ids = column.id === "title" ? [row.id] : act.withChosen(row.id);
        const what = ids.length > 1 ? `${column.head} of ${ids.length} tasks` : `${column.head} of “${row.title}”`;
        try {
          await changes.edit(
            what,
            ids.map((id) => ({ id, fields: { [column.field]: value }, shown })),
          );
        } catch (error) {
          refuse(row, column, value, error);
        }
      },
      fold,
      open: (row) => openTask(row.id),
    };
  }, [act, changes, fold, openTask, tied, editTied]);
}
