/** Kept reports, in the place Reports: questions that are asked again and again, and the sheets of all work, each sent on a day of
 * the week to who wants it. */
import { Suspense, useEffect, useState } from "react";
import { Link } from "react-router";
import { useMe, usePeople } from "../data/hooks";
import { Button, Failed, Loading } from "../parts/basics";
import { WEEKDAYS } from "../parts/format";
import { later } from "../parts/later";
import { SheetBar } from "../shell/sheet-bar";
import { TitleLine } from "../shell/title-line";
import { ALL_PROJECTS, type Sheet, sheetAddress, standsAt, useSheets } from "../views/view";
import { useReportTabs } from "./dashboards/tabs";
import { QUESTIONS, questionAddress } from "./questions";

const SendForm = later(() => import("../views/send-sheet").then((module) => module.SendForm));

export default function KeptReports() {
  const { data, error, refetch } = useSheets(ALL_PROJECTS.code);
  const tabs = useReportTabs("Kept reports");
  const kept = data?.filter((one) => standsAt(one, "all_work"));
  const sent = kept?.filter((one) => one.send_on !== null).length ?? 0;
  useEffect(() => {
    document.title = "Kept reports";
  }, []);
  return (
    <>
      <TitleLine title="Kept reports">
        {kept && (
          <span>
            <b>{kept.length}</b> kept, <b>{sent}</b> sent every week
          </span>
        )}
      </TitleLine>
      <div
        className="mt-2 min-h-0 flex-1 overflow-auto border-t border-rule-2 bg-sheet px-3 py-4 sm:px-[18px]"
        tabIndex={-1}
      >
        <div className="grid max-w-6xl gap-x-10 gap-y-6 lg:grid-cols-[minmax(0,1fr)_minmax(0,1.2fr)]">
          <section aria-labelledby="asked">
            <h2 id="asked" className="mb-1 text-[16px]">
              Asked again and again
            </h2>
            <p className="mb-2 text-[12.5px] text-ink-2">
              Each opens as a list over all projects that you may see, with groups and sums. Narrow it, keep it under a
              name, take it away as CSV or XLSX.
            </p>
            <ul>
              {QUESTIONS.map((one) => (
                <li key={one.name} className="border-b border-rule py-1.5">
                  <Link to={questionAddress(one)} className="font-semibold hover:underline">
                    {one.name}
                  </Link>
                  <span className="block text-[12px] text-ink-2">{one.says}</span>
                </li>
              ))}
            </ul>
          </section>
          <section aria-labelledby="kept">
            <h2 id="kept" className="mb-1 text-[16px]">
              Kept by you and others
            </h2>
            {error && !kept ? (
              <Failed error={error} retry={refetch} />
            ) : !kept ? (
              <Loading what="the kept reports" rows={4} />
            ) : kept.length ? (
              <ul>
                {kept.map((one) => (
                  <Kept key={one.id} sheet={one} />
                ))}
              </ul>
            ) : (
              <p className="text-ink-2">
                Nothing is kept yet. Open a list beside this, make it your own, and choose <b>+ Keep this sheet</b> at
                its foot.
              </p>
            )}
          </section>
        </div>
      </div>
      <SheetBar {...tabs} />
    </>
  );
}

function Kept({ sheet }: { sheet: Sheet }) {
  const { byId } = usePeople();
  const { person } = useMe();
  const [sending, setSending] = useState(false);
  const keeper = sheet.mine ? "you" : (byId.get(sheet.person_id)?.short ?? "somebody");
  const to = sheet.send_to.map((one) => (one === person.id ? "you" : (byId.get(one)?.short ?? "somebody")));
  return (
    <li className="flex items-center gap-3 border-b border-rule py-1.5">
      <span className="min-w-0 flex-1">
        <Link to={sheetAddress("", sheet)} className="font-semibold hover:underline">
          {sheet.name}
        </Link>
        <span className="block truncate text-[12px] text-ink-2">
          kept by {keeper}
          {sheet.send_on !== null && (
            <>
              , sent every <b className="font-semibold text-ink">{WEEKDAYS[sheet.send_on]}</b> to {to.join(", ")}
            </>
          )}
        </span>
      </span>
      {sheet.sends && (sheet.mine || person.role === "administrator") && (
        <Button look="quiet" onClick={() => setSending(true)}>
          {sheet.send_on === null ? "Send it every week" : "Change"}
        </Button>
      )}
      {sending && (
        <Suspense fallback={null}>
          <SendForm sheet={sheet} code="" close={() => setSending(false)} />
        </Suspense>
      )}
    </li>
  );
}
