/** What the sentence says of groups, order and tints, with the choosers behind each word. */
import { ArrowDown, ArrowUp } from "lucide-react";
import { Suspense, useState } from "react";
import { IconButton, Pop } from "../parts/basics";
import { later } from "../parts/later";
import { FieldList } from "./field-list";
import { type Catalogue, type Ground, type TintCount, useCatalogue, useView, type View } from "./view";
import { WORD, Word } from "./word";

const Tints = later(() => import("./tints").then((module) => module.default));
const MOST_GROUPS = 2;
const MOST_SORTS = 4;

const nameOf = (catalogue: Catalogue, key: string) =>
  catalogue.columns.find((one) => one.key === key)?.name.toLowerCase() ?? "a field that is gone";

/** “, grouped by owner, sorted by finish” */
export function ArrangeWords({ project }: { project: Ground }) {
  const [view, change] = useView();
  const { data } = useCatalogue(project.code);
  if (!data) return null;
  const groups = view.groups ?? [];
  const sorts = view.sorts ?? [];
  return (
    <>
      {groups.length > 0 && (
        <span>
          , grouped by{" "}
          <Word label="Groups" chooser={<GroupChooser view={view} change={change} catalogue={data} />}>
            {groups.map((key) => nameOf(data, key)).join(" and ")}
          </Word>
        </span>
      )}
      {sorts.length > 0 && (
        <span>
          , sorted by{" "}
          <Word label="Order" chooser={<SortChooser view={view} change={change} catalogue={data} />}>
            {sorts.map((one) => `${nameOf(data, one.key)}${one.down ? " from the top" : ""}`).join(", then ")}
          </Word>
        </span>
      )}
    </>
  );
}

/** “+ arrange”, where nothing is grouped or sorted yet. */
export function ArrangeButton({ project }: { project: Ground }) {
  const [view, change] = useView();
  const { data } = useCatalogue(project.code);
  if (!data) return null;
  return (
    <Pop
      label="Group and sort"
      trigger={
        <button type="button" className="font-[550] text-rose hover:underline">
          + arrange
        </button>
      }
    >
      <p className="px-2 pt-1 text-[12px] text-ink-2">Group by</p>
      <GroupChooser view={view} change={change} catalogue={data} />
      <p className="px-2 pt-2 text-[12px] text-ink-2">Sort by</p>
      <SortChooser view={view} change={change} catalogue={data} />
    </Pop>
  );
}

interface ChooserProps {
  view: View;
  change: (part: Partial<View>) => void;
  catalogue: Catalogue;
}

function GroupChooser({ view, change, catalogue }: ChooserProps) {
  const groups = view.groups ?? [];
  return (
    <div className="w-64">
      {groups.map((key, index) => (
        <p key={key} className="flex items-center gap-1 px-2">
          <span className="min-w-0 flex-1 truncate">{nameOf(catalogue, key)}</span>
          {index > 0 && (
            <IconButton
              label={`${nameOf(catalogue, key)} first`}
              onClick={() => change({ groups: [...groups].reverse() })}
            >
              <ArrowUp size={13} />
            </IconButton>
          )}
          <button
            type="button"
            className="px-1 text-ink-2 hover:text-ink"
            aria-label={`Do not group by ${nameOf(catalogue, key)}`}
            onClick={() => change({ groups: groups.filter((one) => one !== key) })}
          >
            ×
          </button>
        </p>
      ))}
      {groups.length < MOST_GROUPS && (
        <FieldList
          catalogue={catalogue}
          without={groups}
          onChoose={(column) => change({ groups: [...groups, column.key] })}
        />
      )}
    </div>
  );
}

function SortChooser({ view, change, catalogue }: ChooserProps) {
  const sorts = view.sorts ?? [];
  return (
    <div className="w-64">
      {sorts.map((one, index) => (
        <p key={one.key} className="flex items-center gap-1 px-2">
          <span className="min-w-0 flex-1 truncate">{nameOf(catalogue, one.key)}</span>
          <IconButton
            label={`${nameOf(catalogue, one.key)}: ${one.down ? "from the top; turn round" : "from the bottom; turn round"}`}
            onClick={() => change({ sorts: sorts.with(index, { ...one, down: !one.down }) })}
          >
            {one.down ? <ArrowDown size={13} /> : <ArrowUp size={13} />}
          </IconButton>
          <button
            type="button"
            className="px-1 text-ink-2 hover:text-ink"
            aria-label={`Do not sort by ${nameOf(catalogue, one.key)}`}
            onClick={() => change({ sorts: sorts.filter((each) => each.key !== one.key) })}
          >
            ×
          </button>
        </p>
      ))}
      {sorts.length < MOST_SORTS && (
        <FieldList
          catalogue={catalogue}
          without={sorts.map((one) => one.key)}
          onChoose={(column) => change({ sorts: [...sorts, { key: column.key, down: false }] })}
        />
      )}
    </div>
  );
}

/** “coloured by …”, and the editor of tints behind it. */
export function ColouredBy({ project, counts }: { project: Ground; counts: TintCount[] | undefined }) {
  const [view] = useView();
  const [open, setOpen] = useState(false);
  const tints = view.tints ?? [];
  const words = tints.length > 2 ? `${tints.length} tints` : tints.map((one) => one.name).join(", ");
  const hidden = counts?.some((one) => one.hidden);
  return (
    <>
      {tints.length > 0 && "coloured by "}
      <button
        type="button"
        className={tints.length ? WORD : "underline decoration-rule-2 hover:text-ink"}
        onClick={() => setOpen(true)}
      >
        {tints.length ? words : "tints"}
        {hidden && <span className="ml-1 font-semibold text-ember">(one cannot show)</span>}
      </button>
      {open && (
        <Suspense fallback={null}>
          <Tints project={project} counts={counts} close={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}
