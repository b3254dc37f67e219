/** The fields by which work is shown and asked for, to choose one from. */
import { useRef, useState } from "react";
import { Pop } from "../parts/basics";
import { Picker } from "../parts/picker";
import type { Catalogue, CatalogueColumn } from "./view";

export function FieldList({
  catalogue,
  onChoose,
  without = [],
  height = "",
}: {
  catalogue: Catalogue;
  onChoose: (column: CatalogueColumn) => void;
  without?: string[];
  /** of the list, where other things stand under it */
  height?: string;
}) {
  const columns = catalogue.columns.filter((one) => !without.includes(one.key));
  return (
    <Picker
      label="Find a field"
      nothing="No field is called that."
      height={height}
      choices={columns.map((one) => ({ id: one.key, name: one.name, help: one.help }))}
      onChoose={(key) => {
        const column = columns.find((one) => one.key === key);
        if (column) onChoose(column);
      }}
    />
  );
}

/** A button whose list of fields closes once one is chosen. */
export function FieldPop({
  label,
  trigger,
  catalogue,
  onChoose,
}: {
  label: string;
  trigger: React.ReactNode;
  catalogue: Catalogue;
  onChoose: (column: CatalogueColumn) => void;
}) {
  const [open, setOpen] = useState(false);
  const leads = useRef(false);
  return (
    <Pop label={label} open={open} onOpenChange={setOpen} trigger={trigger} leads={leads}>
      <FieldList
        catalogue={catalogue}
        onChoose={(column) => {
          leads.current = true;
          setOpen(false);
          onChoose(column);
        }}
      />
    </Pop>
  );
}
