/** Reports, a place of the masthead: of every project the newest status report, those first that are due. */
import { useEffect } from "react";
import { Link } from "react-router";
import { useMe, usePeople } from "../data/hooks";
import { Empty, Failed, Loading } from "../parts/basics";
import { count, sayDay } from "../parts/format";
import { Health } from "../parts/health";
import { SheetBar } from "../shell/sheet-bar";
import { TitleLine } from "../shell/title-line";
import { useReportTabs } from "./dashboards/tabs";
import { type IndicatorKey, useNewestReports } from "./reports";

const NAMES: Record<IndicatorKey, string> = { overall: "Overall", time: "Time", cost: "Cost", scope: "Scope" };
const KEYS = Object.keys(NAMES) as IndicatorKey[];

export default function ReportsPlace() {
  const { now } = useMe();
  const { byId } = usePeople();
  const { data, error, refetch } = useNewestReports();
  const tabs = useReportTabs("Status reports");
  useEffect(() => {
    document.title = "Reports";
  }, []);
  const due = data?.filter((one) => one.is_due).length ?? 0;
  return (
    <>
      <TitleLine title="Status reports">
        {data && (
          <>
            <span>
              <b>{data.filter((one) => one.report).length}</b> of {count(data.length, "project")} told of
            </span>
            {due > 0 && <span className="font-semibold text-ember">{due} due</span>}
          </>
        )}
      </TitleLine>
      <div
        className="mt-2 min-h-0 flex-1 overflow-auto border-t border-rule-2 bg-sheet px-3 sm:px-[18px]"
        tabIndex={-1}
      >
        {error && !data ? (
          <Failed error={error} retry={refetch} />
        ) : !data ? (
          <Loading what="the reports" rows={6} />
        ) : data.length ? (
          <table className="w-full border-collapse">
            <thead>
              <tr className="h-8 border-b border-rule-2 text-left text-[12px] text-ink-2 [&_th]:font-normal">
                <th scope="col">Project</th>
                {KEYS.map((key) => (
                  <th key={key} scope="col" className={key === "overall" ? "" : "max-md:hidden"}>
                    {NAMES[key]}
                  </th>
                ))}
                <th scope="col" className="max-sm:hidden">
                  Finish, as told
                </th>
                <th scope="col" className="max-lg:hidden">
                  Told
                </th>
                <th scope="col">Next</th>
              </tr>
            </thead>
            <tbody>
              {data.map((one) => {
                const report = one.report;
                const told = report?.told;
                return (
                  <tr key={one.code} className="h-11 border-b border-rule align-middle">
                    <th scope="row" className="pr-3 text-left font-normal">
                      <Link to={`/p/${one.code}/reports`} className="flex items-center gap-2 hover:underline">
                        <span className="w-9 flex-none text-[11px] font-semibold tracking-wider text-rose">
                          {one.code}
                        </span>
                        <span className={one.read || !report ? "" : "font-semibold"}>{one.name}</span>
                      </Link>
                    </th>
                    {KEYS.map((key) => {
                      const each = report?.indicators[key];
                      return (
                        <td
                          key={key}
                          className={`pr-3 ${key === "overall" ? "" : "max-md:hidden"}`}
                          title={each && `${each.why}${each.reason && `; ${each.reason}`}`}
                        >
                          {each && <Health value={each.health} />}
                        </td>
                      );
                    })}
                    <td className="pr-3 max-sm:hidden">
                      {told?.finish && sayDay(told.finish, now)}
                      {told?.agreed && told.agreed !== told.finish && (
                        <span className="text-ink-2">, agreed {sayDay(told.agreed, now)}</span>
                      )}
                    </td>
                    <td className="pr-3 text-ink-2 max-lg:hidden">
                      {report
                        ? `${sayDay(report.day, now)}, ${byId.get(report.person_id)?.short ?? "somebody"}`
                        : "nothing yet"}
                    </td>
                    <td className="whitespace-nowrap">
                      {one.may_write ? (
                        <Link
                          to={`/p/${one.code}/reports/draft`}
                          className={`hover:underline ${one.is_due ? "font-semibold text-ember" : "text-rose"}`}
                        >
                          {one.is_due
                            ? `write it, due since ${sayDay(one.due, now)}`
                            : one.due
                              ? `due ${sayDay(one.due, now)}`
                              : "write one"}
                        </Link>
                      ) : (
                        one.due && <span className="text-ink-2">{sayDay(one.due, now)}</span>
                      )}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        ) : (
          <Empty title="No projects yet">Each project’s newest status report stands here.</Empty>
        )}
      </div>
      <SheetBar {...tabs} />
    </>
  );
}
