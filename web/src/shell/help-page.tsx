/** What the page in view understands: its keys, and what typed text is read as. The docs are made from the same list. */
import { useLocation } from "react-router";
import { Modal } from "../parts/basics";
import HELP from "./help.json";

/** Which lists of keys are for a page, by what its address holds. */
function keysFor(path: string, search: string): string[] {
  const lens = path.split("/")[3];
  const all = path === "/desk/all_work" ? ["list of all work"] : [];
  const here = lens === "outline" || lens === "board" || lens === "schedule" ? [lens, "horizon"] : [];
  const goals = path === "/goals" ? ["goals"] : [];
  const task = lens === "task" || (!goals.length && new URLSearchParams(search).has("open")) ? ["task"] : [];
  const load = lens === "load" || path === "/people/load" ? ["load"] : [];
  const sheet = path === "/desk/time" ? ["time sheet"] : [];
  return [...task, ...all, ...here, ...load, ...sheet, ...goals, "everywhere"];
}

export function HelpPage({ close }: { close: () => void }) {
  const { pathname, search } = useLocation();
  return (
    <Modal open onOpenChange={close} title="What is understood here" width={920}>
      <div className="grid gap-x-8 gap-y-5 sm:grid-cols-2">
        <div>
          <KeyLists first={keysFor(pathname, search)} />
        </div>
        <section>
          <h3 className="mb-1 border-b border-rule pb-0.5 font-sans text-[13px] font-semibold">Typed text</h3>
          <dl>
            {HELP.typed.map(({ field, examples, note }) => (
              <div key={field} className="mb-2.5">
                <dt className="font-[550]">{field}</dt>
                <dd className="flex flex-wrap gap-x-1.5 gap-y-1 py-0.5">
                  {examples.map((one) => (
                    <code key={one} className="bg-band px-1 font-[inherit] text-[12.5px] whitespace-nowrap">
                      {one}
                    </code>
                  ))}
                </dd>
                <dd className="text-[12px] text-ink-2">{note}</dd>
              </div>
            ))}
          </dl>
        </section>
      </div>
    </Modal>
  );
}

/** All keys, by where they are understood; those of the page in view first. */
export function KeyLists({ first = [] }: { first?: string[] }) {
  const wheres = [...first, ...HELP.keys.map((one) => one.where).filter((one) => !first.includes(one))];
  return wheres
    .map((where) => HELP.keys.find((one) => one.where === where))
    .filter((one) => one !== undefined)
    .map(({ where, keys }) => (
      <section key={where} className="mb-4 break-inside-avoid">
        <h3 className="mb-1 border-b border-rule pb-0.5 font-sans text-[13px] font-semibold">
          {where === "everywhere" ? "Everywhere" : `On the ${where}`}
        </h3>
        <dl className="grid grid-cols-[128px_minmax(0,1fr)] gap-x-3 gap-y-1">
          {keys.map(([key, does]) => (
            <div key={key} className="contents">
              <dt className="font-[550]">{key}</dt>
              <dd className="text-ink-2">{does}</dd>
            </div>
          ))}
        </dl>
      </section>
    ));
}
