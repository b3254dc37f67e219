/** The ripple card: what a change carries on, before it is applied. */
import { type ReactNode, useEffect, useRef, useState } from "react";
import { saySum } from "../cost/cost";
import { useMe, usePeople } from "../data/hooks";
import { Button } from "../parts/basics";
import { count, sayDay, sayFull, sayHours, sayMove } from "../parts/format";
import { DaysField } from "./days-field";
import { type OpenRipple, type Ripple, showAlone } from "./ripple";

export function RippleCard({ open, dayMinutes }: { open: OpenRipple; dayMinutes: number }) {
  const { ripple, answer } = open;
  const first = useRef<HTMLButtonElement>(null);
  const [asked, setAsked] = useState(false);
  const alone = ripple.alone.length > 0;
  useEffect(() => {
    const before = document.activeElement as HTMLElement | null;
    first.current?.focus({ preventScroll: true });
    return () => before?.focus?.({ preventScroll: true });
  }, []);
  const moved = ripple.moved;
  const stuck = ripple.waiting.length > 0;
  return (
    <div className="absolute right-4 bottom-4 z-40 max-w-[calc(100%-32px)] drop-shadow-[0_14px_26px_#231a2440]">
      <div
        role="dialog"
        aria-label="What this change carries on"
        className="cut-16 w-[400px] max-w-full border border-ink bg-sheet px-4 pt-3.5 pb-3.5"
        onKeyDown={(event) => {
          if (event.key !== "Escape") return;
          event.stopPropagation();
          answer(null);
        }}
      >
        <h2 className="pr-5 text-[16px]">{heading(open)}</h2>
        {open.again && (
          <p role="status" className="mt-1 bg-rose-soft px-2 py-1 text-[12px]">
            Somebody else changed the plan. This is computed anew.
          </p>
        )}
        <dl className="mt-2 mb-3 grid grid-cols-[64px_1fr] gap-x-3 gap-y-1.5 [&_dt]:text-ink-2">
          <Dates ripple={ripple} dayMinutes={dayMinutes} />
          <Names label="Deadlines" ripple={ripple} />
          <Vein ripple={ripple} />
          <People ripple={ripple} />
          <Money ripple={ripple} />
          <Goals ripple={ripple} />
          <Announced ripple={ripple} />
        </dl>
        {alone && (
          <ul
            aria-label="What moving this one only does"
            tabIndex={0}
            className="mb-3 max-h-48 list-disc overflow-auto border-l-[3px] border-rose bg-rose-soft py-1.5 pr-2 pl-6 text-[12.5px]"
          >
            {ripple.alone.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        )}
        <div className="flex flex-wrap gap-2">
          <Button ref={first} look="go" onClick={() => answer("all")}>
            {moved > 1 ? `Apply to all ${moved}` : moved ? applyWords(ripple) : stuck ? "Leave it there" : "Apply"}
          </Button>
          {ripple.can_alone &&
            (alone ? (
              <Button onClick={() => answer("only")}>Do that</Button>
            ) : (
              <Button
                disabled={asked}
                onClick={() => {
                  setAsked(true);
                  showAlone().finally(() => setAsked(false));
                }}
              >
                Move this one only
              </Button>
            ))}
          {ripple.can_try && (
            <Button
              look="quiet"
              title="Keep the plan as it is, and the change beside it"
              onClick={() => answer("draft")}
            >
              Try in a draft
            </Button>
          )}
          <Button look="quiet" onClick={() => answer(null)}>
            Put back
          </Button>
        </div>
        <Threshold />
      </div>
    </div>
  );
}

const MOST_PEOPLE = 4;
const LOOKS: Record<number, string> = { 1: "text-ember", 0: "text-ink-2", [-1]: "text-verdigris" };

/** Who becomes over by the change, or no longer is. */
export function People({ ripple, sign }: { ripple: Ripple; sign?: ReactNode }) {
  const { now } = useMe();
  const { byId } = usePeople();
  if (!ripple.people.length) return null;
  const rest = ripple.people.length - MOST_PEOPLE;
  return (
    <>
      <dt className={sign ? "text-ink-2" : undefined}>{sign}People</dt>
      <dd>
        <ul className="max-w-[420px] text-[12.5px]">
          {ripple.people.slice(0, MOST_PEOPLE).map((one) => (
            <li key={one.who} className="flex gap-2">
              <span className="min-w-0 flex-1 truncate" title={byId.get(one.who)?.name}>
                {byId.get(one.who)?.short ?? "A crew"}
              </span>
              <b className={`flex-none font-semibold ${LOOKS[Math.sign(one.more - one.less)]}`}>
                {one.more > one.less
                  ? `${sayHours(one.more - one.less)} more over`
                  : one.more < one.less
                    ? `${sayHours(one.less - one.more)} less over`
                    : "over on other days"}
              </b>
              <span className="w-[112px] flex-none text-right whitespace-nowrap text-ink-2">
                {sayDay(one.first, now)}
                {one.last !== one.first && ` to ${sayDay(one.last, now)}`}
              </span>
            </li>
          ))}
          {rest > 0 && <li className="text-ink-2">and {count(rest, "more", "more")}</li>}
        </ul>
      </dd>
    </>
  );
}

/** What the change costs, and which budgets it passes; for who may see cost. */
function Money({ ripple }: { ripple: Ripple }) {
  const money = ripple.money;
  if (!money) return null;
  const more = Number(money.at_completion) - Number(money.at_completion_before);
  const by = saySum(Math.abs(more).toFixed(money.at_completion.split(".")[1]?.length ?? 0));
  return (
    <>
      <dt>Money</dt>
      <dd>
        <p>
          {more === 0 ? (
            <>
              Planned {saySum(money.planned)} {money.currency}, not {saySum(money.planned_before)}
            </>
          ) : (
            <>
              At completion{" "}
              <b className="font-semibold">
                {saySum(money.at_completion)} {money.currency}
              </b>
              ,{" "}
              <span className={more > 0 ? "text-ember" : "text-verdigris"}>
                {by} {more > 0 ? "more" : "less"}
              </span>
            </>
          )}
          .
        </p>
        {money.passed.map((one) => (
          <p key={one.id}>
            <b className="font-semibold text-ember">▼ passes the budget</b>
            {one.title ? ` of ${one.title}` : ""} by {saySum(one.by)}
          </p>
        ))}
        {money.kept.map((one) => (
          <p key={one.id}>
            <b className="font-semibold text-verdigris">● within the budget again</b>
            {one.title ? `: ${one.title}` : ""}
          </p>
        ))}
      </dd>
    </>
  );
}

/** Which goals the change endangers, or endangers no longer. */
function Goals({ ripple }: { ripple: Ripple }) {
  const { now } = useMe();
  if (!ripple.goals.length) return null;
  return (
    <>
      <dt>Goals</dt>
      <dd>
        {ripple.goals.slice(0, MOST_PEOPLE).map((one) => (
          <p key={one.id}>
            {one.count > 0 ? (
              <>
                <b className="font-semibold text-ember">▼ endangers</b> {one.title}: {one.worst} comes{" "}
                {one.finish && sayDay(one.finish, now)}
                {one.count > 1 && ` with ${one.count - 1} more`}, after its end on {sayDay(one.last, now)}
              </>
            ) : (
              <>
                <b className="font-semibold text-verdigris">● within its period again</b>: {one.title}
              </>
            )}
          </p>
        ))}
      </dd>
    </>
  );
}

function heading(open: OpenRipple): string {
  if (open.ripple.moved === 0 && open.ripple.waiting.length) return "This cannot stand where you put it";
  if (!othersMove(open.ripple) && open.ripple.money?.passed.length) return "This passes a budget";
  if (!othersMove(open.ripple) && open.ripple.announced.length) return "Before you go on";
  return "This carries on";
}

/** One other task moves: with the one that was touched, or by itself where nobody touched a single task. */
const applyWords = (ripple: Ripple) => (ripple.moves.some((move) => move.touched) ? "Apply to both" : "Apply to one");

const othersMove = (ripple: Ripple) => ripple.moves.some((move) => !move.touched);

/** What the change does besides, in sentences of the server. */
function Announced({ ripple }: { ripple: Ripple }) {
  if (!ripple.announced.length) return null;
  return (
    <>
      <dt>Also</dt>
      <dd>
        {ripple.announced.map((line) => (
          <p key={line}>{line}</p>
        ))}
      </dd>
    </>
  );
}

function Dates({ ripple, dayMinutes }: { ripple: Ripple; dayMinutes: number }) {
  const { now } = useMe();
  const others = ripple.moves.filter((move) => !move.touched);
  const finish = ripple.finish.slice(0, 10) !== ripple.finish_before.slice(0, 10);
  if (!ripple.moved && !finish && !ripple.waiting.length) return null;
  return (
    <>
      <dt>Dates</dt>
      <dd>
        {ripple.waiting.map((one) => (
          <p key={one.id}>
            <b className="font-semibold">{one.title}</b> stays at{" "}
            <b className="font-semibold" title={sayFull(one.start)}>
              {sayDay(one.start, now)}
            </b>
            {one.waits_for ? `: it waits for ${one.waits_for}` : ", for nothing may begin sooner"}.
          </p>
        ))}
        {ripple.moved > 0 && (
          <p>
            {count(ripple.moved, "task moves", "tasks move")}
            {finish ? (
              <>
                ; the project finishes{" "}
                <b className="font-semibold" title={sayFull(ripple.finish)}>
                  {sayDay(ripple.finish, now)}
                </b>
                , not {sayDay(ripple.finish_before, now)}
              </>
            ) : (
              "; the project finishes as before"
            )}
            .
          </p>
        )}
        {ripple.moved === 0 && finish && (
          <p>
            The project finishes <b className="font-semibold">{sayDay(ripple.finish, now)}</b>, not{" "}
            {sayDay(ripple.finish_before, now)}.
          </p>
        )}
        <ul className="mt-1 text-[12.5px] text-ink-2">
          {others.slice(0, 3).map((move) => (
            <li key={move.id} className="flex gap-2">
              <span className="min-w-0 flex-1 truncate" title={move.title}>
                {ripple.milestones.some((one) => one.id === move.id) ? "◆ " : ""}
                {move.title}
              </span>
              <span className="flex-none font-semibold text-rose">{sayMove(move.minutes, dayMinutes)}</span>
              <span className="w-[52px] flex-none text-right" title={sayFull(move.finish)}>
                {sayDay(move.finish, now)}
              </span>
            </li>
          ))}
          {others.length > 3 && <li>and {others.length - 3} more</li>}
        </ul>
      </dd>
    </>
  );
}

const names = (list: { title: string }[]) =>
  list
    .slice(0, 3)
    .map((one) => one.title)
    .join(", ") + (list.length > 3 ? ` and ${list.length - 3} more` : "");

function Names({ label, ripple }: { label: string; ripple: Ripple }) {
  const { deadlines_missed: missed, deadlines_met: met, pins_contradicted: pins } = ripple;
  return (
    <>
      {(missed.length > 0 || met.length > 0) && (
        <>
          <dt>{label}</dt>
          <dd>
            {missed.length > 0 && (
              <p>
                <b className="font-semibold text-ember">▼ broken</b>: {names(missed)}
              </p>
            )}
            {met.length > 0 && (
              <p>
                <b className="font-semibold text-verdigris">● met again</b>: {names(met)}
              </p>
            )}
          </dd>
        </>
      )}
      {pins.length > 0 && (
        <>
          <dt>Pins</dt>
          <dd>
            <b className="font-semibold text-ember">⊙ against its links</b>: {names(pins)}
          </dd>
        </>
      )}
    </>
  );
}

function Vein({ ripple }: { ripple: Ripple }) {
  const { became_critical: more, no_longer_critical: fewer } = ripple;
  if (!more.length && !fewer.length) return null;
  return (
    <>
      <dt>Vein</dt>
      <dd>
        {more.length > 0 && (
          <p>
            {count(more.length, "task becomes", "tasks become")} critical: {names(more)}
          </p>
        )}
        {fewer.length > 0 && <p>{count(fewer.length, "task is", "tasks are")} no longer critical</p>}
      </dd>
    </>
  );
}

/** From how far a move of other tasks is asked about. */
function Threshold() {
  return (
    <div className="mt-3 border-t border-rule pt-2">
      <DaysField name="ripple_days" before="Ask when others move by more than" />
    </div>
  );
}
