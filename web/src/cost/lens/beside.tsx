/** Beside the tree of costs: earned value with its curves, months, and people and resources. */
import { Suspense, useState } from "react";
import type { Project, Schemas } from "../../data/api";
import { usePeople } from "../../data/hooks";
import { Loading } from "../../parts/basics";
import { later } from "../../parts/later";
import { Tile } from "../../parts/tile";
import { useBookable } from "../../resources/use-bookable";
import { isNothing, saySum, useEarned, useMonths } from "../cost";

const Curves = later(() => import("./curves").then((module) => module.default));

export function Beside({ project, currency }: { project: Project; currency: string }) {
  return (
    <aside
      aria-label="Earned value, months and people"
      className="hidden w-[388px] flex-none overflow-auto border-l border-rule-2 px-[18px] py-3 xl:block"
      tabIndex={0}
    >
      <EarnedValue project={project} />
      <Months project={project} currency={currency} />
    </aside>
  );
}

/** The same where there is no room beside: folded below the tree, and asked for once it is opened. */
export function Below({ project, currency }: { project: Project; currency: string }) {
  const [open, setOpen] = useState(false);
  return (
    <details
      className="max-h-[60%] flex-none overflow-auto border-t border-rule-2 px-3 sm:px-[18px] xl:hidden"
      onToggle={(event) => setOpen(event.currentTarget.open)}
    >
      <summary className="min-h-8 cursor-pointer py-1.5 font-semibold">Earned value, months and people</summary>
      {open && (
        <>
          <EarnedValue project={project} />
          <Months project={project} currency={currency} />
        </>
      )}
    </details>
  );
}

function EarnedValue({ project }: { project: Project }) {
  const { data } = useEarned(project.code);
  return (
    <section aria-label="Earned value" className="mb-6">
      <h2 className="mb-1 text-[15px]">Earned value</h2>
      {!data ? (
        <Loading what="earned value" rows={6} />
      ) : data.figures.length ? (
        <>
          <Suspense fallback={<div className="h-[190px]" />}>
            <Curves points={data.curve} currency={data.currency} />
          </Suspense>
          <Figures earned={data} />
          {data.why && <p className="pt-1 text-[12px] text-ink-2">{data.why}</p>}
          {data.estimates && <p className="pt-1 text-[12px] text-ink-2">{data.estimates}</p>}
        </>
      ) : (
        <p className="text-ink-2">{data.why}</p>
      )}
    </section>
  );
}

/** Each figure under its trade name; how it is reckoned, and from where, on hover and to screen readers. */
function Figures({ earned }: { earned: Schemas["EarnedOut"] }) {
  return (
    <dl className="mt-2 grid grid-cols-2 gap-x-5 border-t border-rule-2">
      {earned.figures.map((one) => {
        const said = one.index !== null ? one.index : one.amount !== null ? saySum(one.amount) : "not given";
        const bad =
          (one.amount?.startsWith("-") && one.key !== "ETC") ||
          (one.index !== null && Number(one.index) < 1 && one.index !== undefined);
        return (
          <div
            key={one.key}
            className="flex min-h-7 items-baseline gap-2 border-b border-rule"
            title={`${one.name}: ${one.formula}. ${earned.source}`}
          >
            <dt className="font-semibold">
              {one.key}
              <span className="sr-only">
                , {one.name}: {one.formula}
              </span>
            </dt>
            <dd className={`ml-auto text-[12.5px] tabular-nums ${bad ? "font-semibold text-ember" : ""}`}>{said}</dd>
          </div>
        );
      })}
    </dl>
  );
}

function Months({ project, currency }: { project: Project; currency: string }) {
  const { data } = useMonths(project.code);
  const { byId } = usePeople();
  const bookable = useBookable(project.code);
  if (!data) return <Loading what="the months" rows={6} />;
  const nameOf = (who: string) =>
    who ? (byId.get(who)?.name ?? bookable.find((one) => one.id === who)?.name ?? "A resource") : "Not planned";
  const head = (
    <tr className="h-7 border-b border-rule-2 text-[12px] text-ink-2">
      <th scope="col" className="text-left font-semibold">
        {currency}
      </th>
      <th scope="col" className="w-[84px] text-right font-semibold">
        Planned
      </th>
      <th scope="col" className="w-[84px] text-right font-semibold">
        Spent
      </th>
      <th scope="col" className="w-[84px] text-right font-semibold">
        To come
      </th>
    </tr>
  );
  return (
    <>
      <section aria-label="By month" className="mb-6">
        <h2 className="mb-1 text-[15px]">By month</h2>
        <table className="w-full border-collapse">
          <thead>{head}</thead>
          <tbody>
            {data.months.map((one) => (
              <Sums key={one.month} name={monthName(one.month)} sums={one} />
            ))}
          </tbody>
        </table>
      </section>
      <section aria-label="By person and resource">
        <h2 className="mb-1 text-[15px]">By person and resource</h2>
        <table className="w-full border-collapse">
          <thead>{head}</thead>
          <tbody>
            {data.who.map((one) => (
              <Sums
                key={one.who}
                name={
                  <span className="flex min-w-0 items-center gap-1.5">
                    {one.of === "labour" && <Tile person={byId.get(one.who)} size={17} label={false} />}
                    <span className="truncate">{nameOf(one.who)}</span>
                    {one.unpriced > 0 && <span className="flex-none text-[11.5px] text-ochre">no rate</span>}
                  </span>
                }
                sums={one}
              />
            ))}
          </tbody>
        </table>
      </section>
    </>
  );
}

const monthName = (month: string) =>
  new Date(`${month}-01T00:00`).toLocaleDateString("en-GB", { month: "short", year: "numeric" });

function Sums({ name, sums }: { name: React.ReactNode; sums: { planned: string; spent: string; to_come: string } }) {
  return (
    <tr className="h-7 border-b border-rule">
      <th scope="row" className="max-w-0 truncate text-left font-normal">
        {name}
      </th>
      {[sums.planned, sums.spent, sums.to_come].map((amount, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: three sums in their order
        <td key={index} className="text-right text-[12.5px] tabular-nums">
          {isNothing(amount) ? <span className="text-ink-3">–</span> : saySum(amount)}
        </td>
      ))}
    </tr>
  );
}
