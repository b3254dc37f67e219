/** Something that a project has or has not, with what that means. */
import { useState } from "react";

export function Choice({
  on,
  name,
  change,
  children,
}: {
  on: boolean;
  name: string;
  /** put: shows again how it is, where it was refused */
  change: (on: boolean, put: () => void) => void;
  children: React.ReactNode;
}) {
  const [shown, setShown] = useState(on);
  return (
    <label className="mb-3 flex items-start gap-2">
      <input
        type="checkbox"
        className="mt-0.5 size-3.5 accent-rose"
        checked={shown}
        onChange={(event) => {
          setShown(event.target.checked);
          change(event.target.checked, () => setShown(on));
        }}
      />
      <span>
        <b className="font-semibold">{name}</b>
        <span className="block max-w-prose text-ink-2">{children}</span>
      </span>
    </label>
  );
}
