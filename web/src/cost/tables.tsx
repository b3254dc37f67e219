/** Rates, budgets and expenses that come and go as tables. */
import { useQueryClient } from "@tanstack/react-query";
import { client, type Project, type Schemas } from "../data/api";
import { allKey, projectKey, refreshTasks } from "../data/keys";
import { sendUndoable } from "../data/undo";
import { AsTable, BringTable, fileForm } from "../parts/table-file";
import { refreshCosts } from "./cost";

type Brought = Schemas["BroughtOut"];
const LINE = "flex flex-wrap items-center gap-x-3 gap-y-1 text-ink-2";

/** The rates of people and of the organisation's resources. */
export function RateTables() {
  const queries = useQueryClient();
  return (
    <div className={LINE}>
      <BringTable
        what="rate"
        columns="Who, E-mail, Kind, From, Amount"
        send={async (file) => {
          const done = await sendUndoable<Brought>(queries, "", "Brought rates in", (headers) =>
            client.POST("/api/rates/table", { ...fileForm(file), headers }),
          );
          queries.invalidateQueries({ queryKey: allKey("rates") });
          refreshCosts(queries);
          return done;
        }}
      />
      <AsTable what="Take the rates out " address={(kind) => `/api/rates.${kind}`} />
    </div>
  );
}

/** Budgets, what was spent, and the rates of a project's own resources. */
export function CostTables({ project }: { project: Project }) {
  const queries = useQueryClient();
  const { code } = project;
  const params = { params: { path: { code } } };
  const bring = async (what: string, call: Parameters<typeof sendUndoable<Brought>>[3]) => {
    const done = await sendUndoable<Brought>(queries, code, what, call);
    refreshTasks(queries, code);
    queries.invalidateQueries({ queryKey: projectKey(code, "rates") });
    return done;
  };
  return (
    <div className="mt-4 grid gap-2">
      <div className={LINE}>
        <span className="w-[160px]">Budgets</span>
        <BringTable
          what="budget"
          columns="Number, Title, Budget; the project itself has no number"
          send={(file) =>
            bring("Brought budgets in", (headers) =>
              client.POST("/api/projects/{code}/budgets/table", { ...params, ...fileForm(file), headers }),
            )
          }
        />
        <AsTable what="Take them out " address={(kind) => `/api/projects/${code}/budgets.${kind}`} />
      </div>
      <div className={LINE}>
        <span className="w-[160px]">Spent</span>
        <BringTable
          what="expense"
          columns="Task, What, Day, Units, Amount, Note"
          send={(file) =>
            bring("Brought expenses in", (headers) =>
              client.POST("/api/projects/{code}/expenses/table", { ...params, ...fileForm(file), headers }),
            )
          }
        />
        <AsTable what="Take them out " address={(kind) => `/api/projects/${code}/expenses.${kind}`} />
      </div>
      <div className={LINE}>
        <span className="w-[160px]">Own rates</span>
        <BringTable
          what="rate"
          columns="Who, Kind, From, Amount; of crews and materials of this project"
          send={(file) =>
            bring("Brought rates in", (headers) =>
              client.POST("/api/projects/{code}/rates/table", { ...params, ...fileForm(file), headers }),
            )
          }
        />
        <AsTable what="Take them out " address={(kind) => `/api/projects/${code}/rates.${kind}`} />
      </div>
    </div>
  );
}
