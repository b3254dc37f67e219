/** Whether a project reckons cost, in which currency, and for whom the work is done. */
import { client, type Project, sentence } from "../data/api";
import { manages, mayManage, useMe } from "../data/hooks";
import { note } from "../data/notes";
import { TextField } from "../parts/text-field";
import { useStaff } from "../resources/use-staff";
import { Choice } from "../tasks/settings/choice";
import { useSaveProject } from "../tasks/settings/save";
import { CostTables } from "./tables";

type Fields = { costs?: boolean; currency?: string | null; exchange?: string; client?: string };

export function CostSettings({ project }: { project: Project }) {
  const save = useSaveProject(project);
  const common = useStaff(manages(useMe().person)).data;
  const change = (what: string, fields: Fields) =>
    save(what, (headers) =>
      client.PATCH("/api/projects/{code}", {
        params: { path: { code: project.code } },
        body: { revision: project.revision, ...fields },
        headers,
      }),
    );
  const own = common?.currency ?? "";
  const currency = project.currency ?? own;
  return (
    <section>
      <h2 className="mt-8 mb-2 text-[17px]">Cost</h2>
      <Choice
        on={project.costs}
        name="Reckon what the work costs"
        change={(costs, put) =>
          change(costs ? "Switched cost on" : "Switched cost off", { costs }).catch((error) => {
            put();
            note(sentence(error), "wrong");
          })
        }
      >
        From the hours, materials and fixed sums that are booked, what was entered and spent, and the rates of people
        and resources. Leads, managers and administrators see it, nobody else.
      </Choice>
      {project.costs && (
        <dl className="grid max-w-md grid-cols-[160px_minmax(0,1fr)] gap-x-3 gap-y-1">
          <dt className="pt-1 text-ink-2">Currency</dt>
          <dd>
            <TextField
              value={currency}
              label="Currency of the project"
              className="w-20 !border-rule-2 px-1.5"
              onSave={async (text) => {
                const typed = text.trim().toUpperCase();
                await change("Changed the currency", { currency: typed && typed !== own ? typed : null });
              }}
            />
          </dd>
          {currency !== own && own && (
            <>
              <dt className="pt-1 text-ink-2">One {own} buys</dt>
              <dd className="flex items-center gap-2">
                <TextField
                  value={String(Number(project.exchange))}
                  label={`How many ${currency} one ${own} buys`}
                  className="w-28 !border-rule-2 px-1.5"
                  onSave={async (text) => {
                    await change("Changed the exchange rate", { exchange: text.trim().replace(",", ".") });
                  }}
                />
                {currency}
              </dd>
              <dd className="col-span-2 text-[12px] text-ink-2">
                Rates of people and of the organisation’s materials are kept in {own} and reckoned into {currency} by
                this; rates of the project’s own, budgets and sums are in {currency} themselves.
              </dd>
            </>
          )}
        </dl>
      )}
      {(project.costs || project.time) && (
        <dl className="mt-2 grid max-w-md grid-cols-[160px_minmax(0,1fr)] gap-x-3">
          <dt className="pt-1 text-ink-2">Client</dt>
          <dd>
            <TextField
              value={project.client}
              label="For whom the work is done"
              placeholder="as it stands on invoice sheets"
              className="w-full !border-rule-2 px-1.5"
              onSave={async (text) => {
                await change("Changed the client", { client: text.trim() });
              }}
            />
          </dd>
        </dl>
      )}
      {project.costs && mayManage(project) && <CostTables project={project} />}
    </section>
  );
}
