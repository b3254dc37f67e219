/** When a page asks for what has changed: at once after quiet, then about a second apart, longer where changes come fast. */

/** Milliseconds between two times, while no more than so many changes a second come. */
const APART = 950;
const A_SECOND = 5;
/** Pages that hear of the same change at the same moment ask within so many milliseconds. */
const SPREAD = 150;

/**
 * Milliseconds to wait.
 *
 * Args:
 *   rate: changes a second, of late.
 *   since: milliseconds since it was asked last.
 *   share: from 0 to 1, of this page alone.
 */
export function waitFor(rate: number, since: number, share: number): number {
  const apart = APART * Math.max(1, rate / A_SECOND) * (1 + share / 10);
  return Math.max(share * SPREAD, apart - since);
}

/** Once nothing was heard for so many milliseconds, it is asked, however fast changes came before: news comes four times a second. */
const QUIET = 400;

/** Calls something for changes, not more often than their number allows; the last change is never left out. */
export function makePace(call: () => void, now = () => performance.now()) {
  const share = Math.random();
  let asked = Number.NEGATIVE_INFINITY;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let heard: [at: number, changes: number][] = [];
  /** when it is asked while changes go on */
  let due = 0;
  const ask = () => {
    timer = undefined;
    asked = now();
    call();
  };
  return {
    /** So many changes came. */
    hear(changes: number) {
      const at = now();
      heard = [...heard.filter(([before]) => at - before < 2000), [at, changes]];
      if (timer === undefined) {
        const rate = heard.reduce((sum, [, some]) => sum + some, 0) / 2;
        due = at + waitFor(rate, at - asked, share);
      }
      clearTimeout(timer);
      const soonest = at + Math.max(QUIET + share * SPREAD, APART - (at - asked));
      timer = setTimeout(ask, Math.min(due, soonest) - at);
    },
    stop: () => clearTimeout(timer),
  };
}
