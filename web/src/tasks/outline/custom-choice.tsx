/** A cell of one of the project's own fields whose value is chosen: yes or no, a person, one or several of a list. */
import { usePeople } from "../../data/hooks";
import { Pop } from "../../parts/basics";
import { CustomFieldPicker } from "../custom-field-picker";
import { type CustomField, ownText } from "../custom-fields";
import type { Column } from "./columns";
import type { CellProps } from "./row";

export function CustomChoice(props: CellProps & { column: Column; field: CustomField; isActive: boolean }) {
  const { row, column, project, editing, canEdit, actions, field, isActive } = props;
  const people = usePeople();
  const text = ownText(field, row.own[field.id], people);
  if (!canEdit) return <span className="truncate">{text}</span>;
  const button = (
    <button
      type="button"
      tabIndex={-1}
      className="min-h-6 w-full min-w-0 truncate text-left"
      aria-label={`${column.head} of ${row.title}: ${text || "none"}`}
      onClick={(event) => {
        if (event.shiftKey || event.ctrlKey || event.metaKey) return;
        event.stopPropagation();
        actions.beginEdit(row.id, column.id);
      }}
    >
      {text}
    </button>
  );
  if (editing === null || !isActive) return button;
  const done = () => actions.endEdit(row.id, column.id, "stay");
  return (
    <Pop label={column.head} open onOpenChange={(open) => !open && done()} trigger={button}>
      <CustomFieldPicker
        field={field}
        value={row.own[field.id]}
        project={project}
        onChoose={(value, close) => {
          actions.save(row, column, value, { own: { ...row.own, [field.id]: value } });
          if (close) done();
        }}
      />
    </Pop>
  );
}
