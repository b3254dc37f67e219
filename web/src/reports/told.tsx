/** What stands at the head of a report, and what was told before: health by indicator, the finish as it was reported. */
import { differenceInCalendarDays, parseISO } from "date-fns";
import { Link } from "react-router";
import { useMe } from "../data/hooks";
import { sayDay } from "../parts/format";
import { Health } from "../parts/health";
import type { IndicatorKey, Reports } from "./reports";

type Told = Reports["reports"][number]["told"];

export function Figures({ told }: { told: Told }) {
  const { now } = useMe();
  const finish = told.finish ? sayDay(told.finish, now) : "no dates yet";
  const agreed = told.agreed && told.agreed !== told.finish ? `, agreed ${sayDay(told.agreed, now)}` : "";
  const before = told.before && told.before !== told.finish ? `, last told ${sayDay(told.before, now)}` : "";
  return (
    <dl className="my-3 grid gap-x-6 gap-y-2 sm:grid-cols-3 [&_dd]:font-semibold [&_dt]:text-[12px] [&_dt]:text-ink-2">
      <div>
        <dt>Phase</dt>
        <dd>{told.phase || "none under way"}</dd>
      </div>
      <div>
        <dt>Finish</dt>
        <dd>
          {finish}
          <span className="font-normal">
            {agreed}
            {before}
          </span>
        </dd>
      </div>
      <div>
        <dt>Done</dt>
        <dd>
          {told.percent} %
          <span className="font-normal">{told.planned === null ? "" : `, planned ${told.planned} %`}</span>
        </dd>
      </div>
    </dl>
  );
}

/** Health of the last reports as a grid of shapes, the newest at the right. */
export function ToldBefore({ code, page, most = 8 }: { code: string; page: Reports; most?: number }) {
  const { now } = useMe();
  const told = page.reports.slice(0, most).reverse();
  const keys = (Object.keys(page.indicators) as IndicatorKey[]).filter((key) =>
    told.some((one) => key in one.indicators),
  );
  if (!told.length) return null;
  return (
    <section aria-label="Told before">
      <h2 className="mb-1 text-[15px]">Told before</h2>
      <div className="overflow-x-auto">
        <table className="w-full border-collapse text-[12.5px]">
          <thead>
            <tr className="text-ink-2">
              <td />
              {told.map((one) => (
                <th key={one.id} scope="col" className="px-1 py-1 text-center font-normal whitespace-nowrap">
                  <Link to={`/p/${code}/reports/${one.number}`} className="hover:underline">
                    {sayDay(one.day, now)}
                  </Link>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {keys.map((key) => (
              <tr key={key} className="h-8 border-t border-rule">
                <th scope="row" className="text-left font-normal">
                  {page.indicators[key]}
                </th>
                {told.map((one) => {
                  const each = one.indicators[key];
                  return (
                    <td
                      key={one.id}
                      className="text-center"
                      title={each && `${each.why}${each.reason && `; ${each.reason}`}`}
                    >
                      {each && <Sign value={each.health} />}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

/** Only the shape, its word for who cannot see it. */
const Sign = ({ value }: { value: string }) => (
  <span className="inline-block w-[11px] overflow-hidden align-middle">
    <Health value={value} />
  </span>
);

const [WIDTH, HEIGHT] = [340, 84];

/** The finish as each report told it, against what was agreed. */
export function FinishTold({ page }: { page: Reports }) {
  const { now } = useMe();
  const told = page.reports
    .slice(0, 12)
    .reverse()
    .flatMap((one) => (one.told.finish ? [{ ...one, finish: one.told.finish }] : []));
  if (told.length < 2) return null;
  const agreed = told.at(-1)?.told.agreed ?? null;
  const days = [...told.map((one) => one.finish), ...(agreed ? [agreed] : [])].sort();
  const [low, high] = [days[0] ?? "", days.at(-1) ?? ""];
  const span = Math.max(1, differenceInCalendarDays(parseISO(high), parseISO(low)));
  const x = (index: number) => 64 + (index / (told.length - 1)) * (WIDTH - 74);
  const y = (day: string) =>
    HEIGHT - 10 - (differenceInCalendarDays(parseISO(day), parseISO(low)) / span) * (HEIGHT - 24);
  return (
    <section aria-label="Finish, as reported">
      <h2 className="mt-5 mb-1 text-[15px]">Finish, as reported</h2>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full max-w-[420px]"
        role="img"
        aria-label={told.map((one) => `${sayDay(one.day, now)}: ${sayDay(one.finish, now)}`).join("; ")}
      >
        {[...new Set([low, high])].map((day) => (
          <g key={day}>
            <line x1={60} x2={WIDTH} y1={y(day)} y2={y(day)} stroke="var(--color-rule)" />
            <text x={0} y={y(day) + 4} fontSize={11} fill="var(--color-ink-2)">
              {sayDay(day, now)}
            </text>
          </g>
        ))}
        {agreed && (
          <>
            <line x1={60} x2={WIDTH} y1={y(agreed)} y2={y(agreed)} stroke="var(--color-rule-2)" strokeDasharray="4 3" />
            <text x={66} y={y(agreed) - 4} fontSize={11} fill="var(--color-ink-2)">
              agreed
            </text>
          </>
        )}
        <polyline
          points={told.map((one, index) => `${x(index)},${y(one.finish)}`).join(" ")}
          fill="none"
          stroke="var(--color-ink)"
          strokeWidth={1.8}
        />
        {told.map((one, index) => (
          <rect
            key={one.id}
            x={x(index) - 4}
            y={y(one.finish) - 4}
            width={8}
            height={8}
            transform={`rotate(45 ${x(index)} ${y(one.finish)})`}
            fill={index === told.length - 1 ? "var(--color-rose)" : "var(--color-ink)"}
          />
        ))}
      </svg>
    </section>
  );
}
