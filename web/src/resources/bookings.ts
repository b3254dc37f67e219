/** Bookings of a task as they are sent. */
import type { Schemas } from "../data/api";
import { readNumber, sayHours, sayMoney } from "../parts/format";

export type Booking = Schemas["BookingOut"];

/** How hours lie over a task, as it is typed behind them and shown. */
export const SHAPES: Record<Booking["shape"], string> = {
  even: "even over its days",
  front: "most at first",
  back: "most at last",
  by_day: "set day by day",
};

/** A booking as it stands, to be sent again. */
export const bookingsSent = ({
  who,
  minutes,
  shape,
  by_day,
  resource,
  of,
  amount,
}: Booking): Record<string, unknown> =>
  of === "labour" ? { who, minutes, shape, by_day: [...by_day], resource } : { who, resource, of, amount };

/** Amounts of materials and fixed costs are sent in thousandths. */
const PARTS = 1000;

/** So many units, or a sum. */
export const sayAmount = (of: Booking["of"], amount: number) =>
  of === "fixed"
    ? sayMoney(amount / PARTS)
    : (amount / PARTS).toLocaleString("en-GB", { maximumFractionDigits: amount < PARTS ? 3 : 1 });

/** How much is booked: hours, units with their name, or a sum. */
export const sayBooked = (one: Booking, unit = "") =>
  one.of === "labour"
    ? sayHours(one.minutes)
    : one.amount === null
      ? ""
      : `${sayAmount(one.of, one.amount)} ${unit}`.trim();

/** An amount as it is typed, the unit behind it or not. */
export function readAmount(text: string): number {
  const number = readNumber(text.replace(/[^\d.,]+$/, "").replace(/,(?=\d{3}\b)/g, ""));
  if (!number) throw new Error(`“${text}” is no amount. Write a number, such as 12.`);
  return Math.round(number * PARTS);
}
