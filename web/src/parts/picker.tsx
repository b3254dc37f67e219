/** A list to choose one thing from, narrowed by what is typed: the arrow keys walk it, Enter chooses. */
import { Command } from "cmdk";
import { Check } from "lucide-react";
import { type ReactNode, useEffect, useRef, useState } from "react";

export interface Choice {
  id: string;
  name: string;
  /** what stands before the name, and after it */
  before?: ReactNode;
  after?: ReactNode;
  help?: string;
  chosen?: boolean;
}

/** The choices whose name holds what is typed: first those in which a word begins with it. */
function fitting(choices: Choice[], wanted: string): Choice[] {
  if (!wanted) return choices;
  const begins = ({ name }: Choice) => ` ${name.toLowerCase()}`.includes(` ${wanted}`);
  return choices
    .filter((one) => one.name.toLowerCase().includes(wanted))
    .sort((a, b) => Number(begins(b)) - Number(begins(a)));
}

export function Picker({
  label,
  choices,
  onChoose,
  nothing = "Nothing is called that.",
  hint,
  typed,
  onType,
  plain = false,
  className = "w-60",
  height = "",
}: {
  /** what is looked for, as “Find a person” */
  label: string;
  choices: Choice[];
  onChoose: (id: string) => void;
  /** what is said where nothing is left */
  nothing?: string;
  hint?: string;
  /** what is typed, where somebody else looks for it; else the names are looked through here */
  typed?: string;
  onType?: (text: string) => void;
  /** a short list, through which nobody needs to look */
  plain?: boolean;
  className?: string;
  /** of the list, where other things stand under it */
  height?: string;
}) {
  const [own, setOwn] = useState("");
  const root = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (plain) root.current?.focus();
  }, [plain]);
  const text = typed ?? own;
  const shown = fitting(choices, own.trim().toLowerCase());
  return (
    <Command ref={root} shouldFilter={false} label={label} className={`${className} outline-none`}>
      {!plain && (
        <Command.Input
          className="input mb-1 w-full"
          aria-label={label}
          placeholder={hint ?? label}
          value={text}
          onValueChange={onType ?? setOwn}
        />
      )}
      <Command.List label="What fits" className={`overflow-auto ${height}`}>
        {shown.map((one) => (
          <Command.Item
            key={one.id}
            value={`choice ${one.id}`}
            title={one.help || undefined}
            onSelect={() => onChoose(one.id)}
            className={`flex min-h-8 cursor-pointer items-center gap-2 px-2 text-left data-[selected=true]:bg-rose-soft ${one.chosen ? "font-semibold" : ""}`}
          >
            {one.before}
            <span className="min-w-0 flex-1 truncate">{one.name}</span>
            {one.after}
            {one.chosen && <Check size={13} className="flex-none text-rose" aria-label="chosen" />}
          </Command.Item>
        ))}
      </Command.List>
      {!shown.length && text.trim() && <p className="px-2 py-1 text-ink-2">{nothing}</p>}
    </Command>
  );
}
