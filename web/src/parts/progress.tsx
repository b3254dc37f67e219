/** How far something long is, and a way to stop it. */
import { Button } from "./basics";

export function Progress({ doing, percent, onCancel }: { doing: string; percent: number; onCancel?: () => void }) {
  return (
    <div className="mt-4 flex max-w-xl items-center gap-3">
      <div
        role="progressbar"
        aria-label={doing}
        aria-valuenow={percent}
        aria-valuemin={0}
        aria-valuemax={100}
        className="h-2 min-w-24 flex-1 border border-ink bg-sheet"
      >
        <div className="h-full bg-ink" style={{ width: `${percent}%` }} />
      </div>
      <span className="w-40 text-ink-2 tabular-nums" role="status">
        {doing}, {percent} %
      </span>
      {onCancel && (
        <Button look="plain" onClick={onCancel}>
          Cancel
        </Button>
      )}
    </div>
  );
}
