/** A fact of a task with its name, as the folio shows it. */
import type { Project, TaskRow } from "../../data/api";

export type EditField = (what: string, fields: Record<string, unknown>, shown?: Partial<TaskRow>) => Promise<void>;

/** What every field of a task is given. */
export interface FieldProps {
  row: TaskRow;
  project: Project;
  canEdit: boolean;
  edit: EditField;
}

export const PICK = "-mx-1.5 min-h-6 w-[calc(100%+12px)] px-1.5 hover:bg-rose-soft";

export function Cell({
  label,
  wide,
  tall,
  children,
}: {
  label: string;
  wide?: boolean;
  /** of several lines, with its name beside the first */
  tall?: boolean;
  children: React.ReactNode;
}) {
  return (
    <div
      data-fact={label}
      className={`flex min-h-8 gap-2 border-b border-rule ${tall ? "items-start" : "items-center"} ${wide ? "col-span-2" : ""}`}
    >
      <dt className={`w-[84px] flex-none text-[12px] text-ink-2 ${tall ? "pt-1.5" : ""}`}>{label}</dt>
      <dd className="min-w-0 flex-1">{children}</dd>
    </div>
  );
}
