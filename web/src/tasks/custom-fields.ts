/** The project's own fields, kinds and marks, and their values in words. */
import type { Project, Schemas, TaskRow } from "../data/api";
import type { People } from "../data/hooks";

export type CustomField = Schemas["FieldOut"];
export type Mark = Schemas["MarkOut"];

export const ownKey = (field: CustomField) => `own.${field.id}`;

export const fieldOf = (project: Project, key: string): CustomField | undefined =>
  key.startsWith("own.") ? project.fields.find((one) => ownKey(one) === key) : undefined;

/** True where a task of this kind has the field. */
export const hasField = (row: TaskRow, field: CustomField) => !field.kinds.length || field.kinds.includes(row.kind);

/** What a kind is called. */
export const kindName = (project: Pick<Project, "kinds">, kind: string) =>
  project.kinds.find((one) => one.id === kind)?.name ?? kind;

/** The text that a value is shown and edited as; of ids the names. */
export function ownText(field: CustomField, value: unknown, people?: People): string {
  if (value === undefined || value === null) return "";
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (typeof value === "number") {
    const said = value.toLocaleString("en", {
      minimumFractionDigits: field.decimals,
      maximumFractionDigits: field.decimals,
    });
    return field.unit ? `${said} ${field.unit}` : said;
  }
  const name = (id: string) =>
    field.options.find((option) => option.id === id)?.name ?? people?.byId.get(id)?.name ?? id;
  return Array.isArray(value) ? value.map((one) => name(String(one))).join(", ") : name(String(value));
}

/** The types whose values are typed; others are chosen. */
export const TYPED = new Set(["text", "number", "money", "date", "link"]);
