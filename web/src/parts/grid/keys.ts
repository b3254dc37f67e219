/** Where the keys of a grid lead, and which rows lie between two. Nothing here draws. */

/** A row and a cell, counted from the top left. */
export interface Spot {
  row: number;
  cell: number;
}

export interface Extent {
  rows: number;
  cells: number;
  /** how many rows a page has */
  page: number;
}

export type Pressed = Pick<KeyboardEvent, "key" | "ctrlKey" | "metaKey" | "altKey" | "shiftKey">;

const within = (index: number, count: number) => Math.max(0, Math.min(count - 1, index));

/** The spot that a key leads to, within the grid; null where the key leads nowhere, or out of it. */
export function spotAfter(pressed: Pressed, { row, cell }: Spot, { rows, cells, page }: Extent): Spot | null {
  if (pressed.altKey) return null;
  const whole = pressed.ctrlKey || pressed.metaKey;
  const to = (nextRow: number, nextCell: number) => ({ row: within(nextRow, rows), cell: within(nextCell, cells) });
  switch (pressed.key) {
    case "ArrowDown":
      return to(row + 1, cell);
    case "ArrowUp":
      return to(row - 1, cell);
    case "ArrowRight":
      return to(row, cell + 1);
    case "ArrowLeft":
      return to(row, cell - 1);
    case "PageDown":
      return to(row + page, cell);
    case "PageUp":
      return to(row - page, cell);
    case "Home":
      return whole ? to(0, cell) : to(row, 0);
    case "End":
      return whole ? to(rows - 1, cell) : to(row, cells - 1);
    case "Tab": {
      const next = cell + (pressed.shiftKey ? -1 : 1);
      return next >= 0 && next < cells ? { row, cell: next } : null;
    }
    default:
      return null;
  }
}

/** True for a key that writes a character. */
export const writes = (pressed: Pressed) =>
  pressed.key.length === 1 && !pressed.ctrlKey && !pressed.metaKey && !pressed.altKey;

/** The ids from one to another, both with them, whichever stands first; the other alone where one is not there. */
export function between(ids: string[], from: string, to: string): Set<string> {
  const a = ids.indexOf(from);
  const b = ids.indexOf(to);
  if (a < 0 || b < 0) return new Set([to]);
  return new Set(ids.slice(Math.min(a, b), Math.max(a, b) + 1));
}
