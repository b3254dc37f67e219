/** The goals that a project serves, and what it adds to each. */
import { Link } from "react-router";
import { useServed } from "./goals";
import { HealthOf, HowFar } from "./how-far";

export function Serves({ code }: { code: string }) {
  const { data = [] } = useServed(code);
  if (!data.length) return null;
  return (
    <section aria-label="Goals that it serves">
      <h2 className="mt-5 mb-1 text-[15px]">
        Goals that it serves <span className="font-normal text-ink-2">{data.length}</span>
      </h2>
      <ul>
        {data.map(({ goal, adds }) => (
          <li key={goal.id} className="flex min-h-10 items-center gap-3 border-b border-rule">
            <span className="min-w-0 flex-1">
              <Link to={`/goals?open=${goal.id}`} className="block truncate hover:underline">
                {goal.title}
              </Link>
              <span className="block text-[12px] text-ink-2">adds {adds}</span>
            </span>
            <span className="w-28 flex-none max-sm:hidden">
              <HowFar goal={goal} words={false} />
            </span>
            <span className="w-[104px] flex-none">
              <HealthOf goal={goal} />
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
