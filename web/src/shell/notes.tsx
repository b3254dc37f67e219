/** Notes at the foot of the page: what was done, and what was refused. */
import { X } from "lucide-react";
import { dismiss, useNotes } from "../data/notes";
import { IconButton } from "../parts/basics";

export function Notes() {
  const notes = useNotes();
  return (
    <div
      className="pointer-events-none fixed bottom-12 left-1/2 z-40 grid w-[min(520px,94vw)] -translate-x-1/2 gap-1.5"
      aria-live="polite"
    >
      {notes.map((note) => (
        <div
          key={note.id}
          role={note.tone === "wrong" ? "alert" : "status"}
          className={`pointer-events-auto flex items-center gap-3 border px-3 py-2 shadow-[0_14px_34px_-12px_#231a2455] ${
            note.tone === "wrong" ? "border-ember bg-ember-soft text-ink" : "border-ink bg-ink text-paper"
          }`}
        >
          <span className="flex-1">{note.text}</span>
          {note.action && (
            <button
              type="button"
              className="font-semibold underline"
              onMouseDown={(event) => event.preventDefault()} // whoever types goes on typing
              onClick={() => {
                dismiss(note.id);
                note.action?.run();
              }}
            >
              {note.action.label}
            </button>
          )}
          <IconButton
            label="Dismiss"
            className="size-5 text-current hover:bg-transparent"
            onClick={() => dismiss(note.id)}
          >
            <X size={13} />
          </IconButton>
        </div>
      ))}
    </div>
  );
}
