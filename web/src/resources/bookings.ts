/** Bookings of a task as they are sent. */
import type { Schemas, TaskRow } from "../data/api";

export type Booking = Schemas["BookingOut"];

/** A booking as it stands, to be sent again. */
export const bookingsSent = ({ who, minutes, shape, by_day, resource }: Booking): Record<string, unknown> => ({
  who,
  minutes,
  shape,
  by_day: [...by_day],
  resource,
});

/**
 * The bookings of a task once somebody's hours on it are another's, who may have some already; of hours that nobody has,
 * all that are open.
 */
export function given(row: TaskRow, from: string, to: string): Record<string, unknown>[] {
  const moved = row.bookings.find((one) => one.who === from);
  const minutes = moved?.minutes ?? row.open ?? 0;
  const rest = row.bookings.filter((one) => one !== moved);
  const there = rest.find((one) => one.who === to);
  if (there)
    return rest.map((one) =>
      one === there
        ? { ...bookingsSent({ ...one, shape: "even", by_day: [] }), minutes: one.minutes + minutes }
        : bookingsSent(one),
    );
  const fresh = moved ? { ...bookingsSent(moved), who: to, resource: false } : { who: to, minutes };
  return [...rest.map(bookingsSent), fresh];
}
