/** Whether to cut the hours or to change the load a day, where a task with hours gets another length. */
import { useState } from "react";
import { Button, Modal, Tick } from "../parts/basics";
import { sayDuration, sayHours } from "../parts/format";
import { type Stays, useLength } from "./length";

export default function LengthDialog() {
  const open = useLength();
  const [always, setAlways] = useState(false);
  if (!open) return null;
  const { stretched: is } = open;
  const shorter = is.becomes < is.was;
  const answer = (what: Stays["what"]) => open.answer({ what, always });
  const all = is.bookings.reduce((sum, one) => sum + one.minutes, 0);
  const cut = is.bookings.reduce((sum, one) => sum + one.cut, 0);
  return (
    <Modal open onOpenChange={() => open.answer(null)} title={`“${open.title}” with its hours`} width={640}>
      <p className="mb-3">
        It becomes {shorter ? "shorter" : "longer"}: {sayDuration(is.becomes, is.day_minutes)}, not{" "}
        {sayDuration(is.was, is.day_minutes)}. {sayHours(all)} are booked on it.
      </p>
      <table className="mb-4 w-full">
        <thead>
          <tr className="text-left text-[12px] text-ink-2">
            <th className="font-normal">Person</th>
            <th className="text-right font-normal">now</th>
            <th className="text-right font-normal">load a day stays</th>
            <th className="text-right font-normal">hours stay</th>
          </tr>
        </thead>
        <tbody>
          {is.bookings.map((one) => (
            <tr key={one.who} className="border-t border-rule">
              <td className="py-1.5 pr-2">{one.name}</td>
              <td className="text-right">
                {sayHours(one.minutes)}, {sayHours(one.a_day)} {one.by_day ? "on average" : "a day"}
              </td>
              <td className="pl-3 text-right">
                <b className="font-semibold">{sayHours(one.cut)}</b>, {sayHours(one.a_day)} a day
              </td>
              <td className="pl-3 text-right">
                {sayHours(one.minutes)},{" "}
                <b className="font-semibold">
                  {sayHours(one.raised)} {one.by_day ? "on average" : "a day"}
                </b>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Tick checked={always} onChange={setAlways}>
        Do the same with this task from now on
      </Tick>
      <div className="mt-3 flex flex-wrap gap-2">
        <Button look="go" onClick={() => answer("units")}>
          {shorter ? "Cut" : "Add"} the hours to {sayHours(cut)}
        </Button>
        <Button onClick={() => answer("hours")}>
          {shorter ? "Raise" : "Lower"} the load a day, keep {sayHours(all)}
        </Button>
        <Button look="quiet" onClick={() => open.answer(null)}>
          Put the length back
        </Button>
      </div>
    </Modal>
  );
}
