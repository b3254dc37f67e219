/** A task by its number and title, in a list; it opens the task. */
export function TaskName({ number, title, open }: { number: number; title: string; open: () => void }) {
  return (
    <button type="button" className="block w-full truncate text-left hover:underline" onClick={open}>
      <span className="mr-1.5 text-ink-3">{number}</span>
      {title}
    </button>
  );
}
