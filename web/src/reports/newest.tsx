/** When a project was told of last and when the next report is due, in a line. */
import { Link } from "react-router";
import { useMe, usePeople } from "../data/hooks";
import { sayDay } from "../parts/format";
import { Health } from "../parts/health";
import { useNewestReports, useReports } from "./reports";

/** In the list of all work: nothing where nothing was told and nothing is asked for. */
export function useToldLine(): (code: string) => string {
  const { now } = useMe();
  const { data = [] } = useNewestReports();
  return (code) => {
    const one = data.find((each) => each.code === code);
    const told = one?.report ? `, reported ${sayDay(one.report.day, now)}` : "";
    const due = one?.is_due ? `, report due since ${sayDay(one.due, now)}` : "";
    return told + due;
  };
}

/** In the head of a part of a portfolio: its newest report, and when the next is due. */
export function ToldLine({ code }: { code: string }) {
  const { now } = useMe();
  const one = useNewestReports().data?.find((each) => each.code === code);
  if (!one?.report && !one?.due) return null;
  return (
    <>
      {one.report && (
        <Link to={`/p/${code}/reports/${one.report.number}`} className="underline decoration-rule-2 hover:text-ink">
          reported {sayDay(one.report.day, now)}
        </Link>
      )}
      {one.due && (
        <span className={one.is_due ? "font-semibold text-ember" : ""}>
          {one.report && ", "}
          {one.is_due ? "due since" : "next due"} {sayDay(one.due, now)}
        </span>
      )}
    </>
  );
}

/** In the brief of a project. */
export function NewestReport({ code }: { code: string }) {
  const { now } = useMe();
  const { byId } = usePeople();
  const { data } = useReports(code);
  const last = data?.reports[0];
  if (!data || (!last && !data.due)) return null;
  return (
    <p className="mt-5 flex flex-wrap items-center gap-x-2 text-[13px]">
      {last ? (
        <>
          <Link to={`/p/${code}/reports`} className="font-semibold text-rose underline decoration-rose-mid">
            Status report of {sayDay(last.day, now)}
          </Link>
          <span className="text-ink-2">by {byId.get(last.person_id)?.short ?? "somebody"}</span>
          {last.indicators.overall && <Health value={last.indicators.overall.health} />}
        </>
      ) : (
        <Link to={`/p/${code}/reports`} className="font-semibold text-rose underline decoration-rose-mid">
          Status reports
        </Link>
      )}
      {data.due && (
        <span className={data.is_due ? "font-semibold text-ember" : "text-ink-2"}>
          the next is due {data.is_due ? "since" : "on"} {sayDay(data.due, now)}
        </span>
      )}
    </p>
  );
}
