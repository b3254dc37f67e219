/** A month to choose a day from, with arrow keys. */
import { format, parseISO } from "date-fns";
import { useState } from "react";
import { DayPicker } from "react-day-picker";
import { useMe } from "../../data/hooks";

const CELL = "size-8 p-0 text-center";

export default function Month({ day, onChoose }: { day: string | null; onChoose: (day: string) => void }) {
  const { now } = useMe();
  const chosen = day ? parseISO(day) : undefined;
  const [month, setMonth] = useState(chosen ?? now);
  return (
    <DayPicker
      mode="single"
      autoFocus
      weekStartsOn={1}
      showOutsideDays
      startMonth={new Date(1970, 0)}
      endMonth={new Date(2200, 11)}
      month={month}
      onMonthChange={setMonth}
      today={now}
      selected={chosen}
      onSelect={(picked) => picked && onChoose(format(picked, "yyyy-MM-dd"))}
      classNames={{
        root: "relative select-none",
        month_caption: "flex h-7 items-center px-2 font-semibold",
        nav: "absolute top-0 right-0 flex",
        button_previous: "grid size-7 place-items-center text-ink-2 hover:bg-band hover:text-ink",
        button_next: "grid size-7 place-items-center text-ink-2 hover:bg-band hover:text-ink",
        chevron: "size-4 fill-current",
        month_grid: "mt-1 border-collapse",
        weekday: "h-6 w-8 text-[11.5px] font-normal text-ink-2",
        day: CELL,
        day_button: "size-8 hover:bg-rose-soft",
        today: "font-semibold text-rose",
        selected: "bg-ink !text-paper [&_button]:hover:bg-ink-2",
        outside: "text-ink-3",
      }}
    />
  );
}
