/** People › Time sheets: the weeks that wait for one, and the sheet of the person that is looked at. */
import { Link, useSearchParams } from "react-router";
import { useMe, usePeople } from "../../data/hooks";
import { Empty, Failed, Loading } from "../../parts/basics";
import { Tile } from "../../parts/tile";
import { peopleSheets } from "../../people/people";
import { SheetBar } from "../../shell/sheet-bar";
import { TitleLine } from "../../shell/title-line";
import { sayTime } from "../say";
import { useWeeks } from "../time";
import { SheetPage, sayWeek } from ".";

export default function WeeksPlace() {
  const me = useMe();
  const [params] = useSearchParams();
  const person = params.get("person");
  const sheets = peopleSheets(me.person);
  if (person) return <SheetPage person={person} sheets={sheets} current="Time sheets" />;
  return (
    <>
      <Waiting />
      <SheetBar sheets={sheets} current="Time sheets" />
    </>
  );
}

function Waiting() {
  const { data, error, refetch } = useWeeks();
  const { active, byId } = usePeople();
  const me = useMe();
  const others = active.filter((one) => one.id !== me.person.id && one.role !== "guest");
  return (
    <>
      <TitleLine title="Time sheets">
        {data && (
          <span>
            <b>{data.waiting.length}</b> wait for you
          </span>
        )}
      </TitleLine>
      <div className="min-h-0 flex-1 overflow-auto border-t border-rule-2 bg-sheet px-3 py-3 sm:px-[18px]">
        {error ? (
          <Failed error={error} retry={refetch} />
        ) : !data ? (
          <Loading what="the weeks" rows={6} />
        ) : (
          <div className="grid gap-x-12 lg:grid-cols-[minmax(0,1.5fr)_minmax(0,1fr)]">
            <section aria-label="Handed in">
              <h2 className="mb-1 text-[15px]">Handed in, to be accepted by you</h2>
              {data.waiting.length ? (
                <ul>
                  {data.waiting.map((one) => (
                    <li key={`${one.person_id} ${one.monday} ${one.code}`} className="border-b border-rule">
                      <Link
                        to={`/people/time-sheets?person=${one.person_id}&week=${one.monday}`}
                        className="flex min-h-10 items-center gap-3 hover:bg-rose-soft"
                      >
                        <Tile person={byId.get(one.person_id)} size={24} label={false} />
                        <b className="min-w-0 flex-1 truncate font-semibold">
                          {byId.get(one.person_id)?.name ?? "Somebody"}
                        </b>
                        <span className="text-ink-2">{sayWeek(one.monday)}</span>
                        <span className="w-12 text-ink-2">{one.code}</span>
                        <span className="w-16 text-right tabular-nums">{sayTime(one.minutes)}</span>
                      </Link>
                    </li>
                  ))}
                </ul>
              ) : (
                <Empty title="Nothing waits for you">Weeks that people hand in are here, oldest first.</Empty>
              )}
            </section>
            <section aria-label="Everybody">
              <h2 className="mb-1 text-[15px]">The week of</h2>
              <ul>
                {others.map((one) => (
                  <li key={one.id} className="border-b border-rule">
                    <Link
                      to={`/people/time-sheets?person=${one.id}`}
                      className="flex min-h-9 items-center gap-3 hover:bg-rose-soft"
                    >
                      <Tile person={one} size={22} label={false} /> {one.name}
                    </Link>
                  </li>
                ))}
              </ul>
            </section>
          </div>
        )}
      </div>
    </>
  );
}
