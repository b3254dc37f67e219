/** At the end of a line in a list that one puts in order: up, down, and away. */
import { ArrowDown, ArrowUp, Trash2 } from "lucide-react";
import { IconButton } from "./basics";

/**
 * Args:
 *   name: of what the line is about, for the labels.
 *   at, of: its place, from 0, and how many there are.
 *   move: by one, up or down.
 *   remove: takes it away; `away` is the verb that says so.
 */
export function Reorder({
  name,
  at,
  of,
  move,
  remove,
  away = `Take ${name} away`,
}: {
  name: string;
  at: number;
  of: number;
  move: (by: 1 | -1) => void;
  remove: () => void;
  away?: string;
}) {
  return (
    <>
      <IconButton label={`Move ${name} up`} disabled={at === 0} onClick={() => move(-1)}>
        <ArrowUp size={14} />
      </IconButton>
      <IconButton label={`Move ${name} down`} disabled={at === of - 1} onClick={() => move(1)}>
        <ArrowDown size={14} />
      </IconButton>
      <IconButton label={away} onClick={remove}>
        <Trash2 size={14} />
      </IconButton>
    </>
  );
}
