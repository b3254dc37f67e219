/** The folio: one task, beside the lens or on a page of its own. Every field is edited in place. */
import { ChevronDown, ChevronUp, Maximize2, X } from "lucide-react";
import { Suspense, useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import type { Project, Schemas, TaskRow } from "../../data/api";
import { draftHere } from "../../data/draft-here";
import { may, mayShape, useMe, useTask } from "../../data/hooks";
import { note } from "../../data/notes";
import { SimilarWork } from "../../overview/similar";
import { Button, Failed, IconButton, Loading, Menu, MenuItem, Modal, Reading } from "../../parts/basics";
import { DateField } from "../../parts/dates/field";
import { later } from "../../parts/later";
import { TextField } from "../../parts/text-field";
import { Attachments, useDroppedFiles, useSending } from "../../talk/folio/attachments";
import { Checklists } from "../../talk/folio/checklists";
import { Followers } from "../../talk/folio/followers";
import { Relations } from "../../talk/folio/relations";
import { Said } from "../../talk/folio/said";
import { useParts } from "../../talk/parts";
import type { Changes } from "../../tasks/changes";
import { Description } from "../../tasks/folio/description";
import { Fields } from "../../tasks/folio/fields";
import { ProposeTasks } from "../../tasks/folio/proposals";
import { TaskFinder } from "../../tasks/folio/task-finder";
import { useHeldRow } from "../../tasks/rows";

const ProjectOfTask = later(() => import("../project-of-task").then((module) => module.default));
const KeepBlank = later(() => import("../../board/keep-blank").then((module) => module.default));
const CostOfTask = later(() => import("../../cost/folio").then((module) => module.default));
const TimeOfTask = later(() => import("../../time/folio").then((module) => module.default));
const CopyTasks = later(() => import("../../tasks/copy").then((module) => module.default));

interface FolioProps {
  id: string;
  project: Project;
  changes: Changes;
  close: () => void;
  openTask: (id: string) => void;
  /** opens the row before or after in what the lens shows */
  step?: (by: 1 | -1) => void;
  /** true where it has the page to itself */
  whole?: boolean;
}

const BESIDE =
  "absolute inset-0 z-30 flex flex-col overflow-auto border-l border-ink bg-sheet px-4 py-3 outline-none sm:relative sm:inset-auto sm:w-[440px] sm:flex-none sm:shadow-[-14px_0_34px_-22px_#231a2455] lg:w-[500px]";
const WHOLE = "flex min-w-0 flex-1 flex-col overflow-auto bg-sheet px-4 py-4 outline-none sm:px-6";

export function Folio(props: FolioProps) {
  const { id, close, step, whole } = props;
  const { data, error, refetch, dataUpdatedAt } = useTask(id);
  // the lens may know of a change that the folio is still asking for: what was typed does not go back for a moment
  const held = useHeldRow(props.project.code, id);
  const detail = data && held.row && held.at >= dataUpdatedAt ? { ...data, row: held.row } : data;
  const panel = useRef<HTMLElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the folio takes the focus each time another task opens
  useEffect(() => {
    panel.current?.focus({ preventScroll: true });
    panel.current?.scrollTo({ top: 0 });
  }, [id]);
  function keys(event: React.KeyboardEvent) {
    const typing = (event.target as HTMLElement).closest("input, textarea, [contenteditable=true]");
    if (event.key === "Escape" && !typing && !whole) close();
    if (event.altKey && (event.key === "PageDown" || event.key === "PageUp")) {
      event.preventDefault();
      step?.(event.key === "PageDown" ? 1 : -1);
    }
  }
  return (
    <aside ref={panel} tabIndex={-1} aria-label="Task" className={whole ? WHOLE : BESIDE} onKeyDown={keys}>
      {error ? (
        <>
          <IconButton label="Close" className="self-end" onClick={close}>
            <X size={15} />
          </IconButton>
          <Failed error={error} retry={refetch} />
        </>
      ) : detail ? (
        <Contents key={detail.row.id} {...props} detail={detail} panel={panel} />
      ) : (
        <Loading what="the task" />
      )}
    </aside>
  );
}

type Detail = Schemas["TaskOut"];

function Contents(props: FolioProps & { detail: Detail; panel: React.RefObject<HTMLElement | null> }) {
  const { detail, project, changes, openTask, whole, panel } = props;
  const { row } = detail;
  const canEdit = may(project, "edit");
  const inDraft = draftHere() !== null;
  const canHang = mayShape(project);
  const canSay = project.may.includes("comment") && !inDraft;
  const parts = useParts(project.code, row.id);
  const uploads = useSending(parts);
  const over = useDroppedFiles(panel, canHang ? uploads.add : null);
  const edit = (what: string, fields: Record<string, unknown>, shown?: Partial<TaskRow>) =>
    changes.edit(`${what} of “${row.title}”`, [{ id: row.id, fields, shown }]);
  const shared = { project, parts, canEdit: canHang };
  const texts = (
    <>
      <Suspense fallback={null}>
        <TimeOfTask row={row} project={project} />
        <CostOfTask row={row} project={project} />
      </Suspense>
      <Description key={row.id} id={row.id} text={detail.description} canEdit={canHang} edit={edit} parts={parts} />
      <Checklists lists={detail.checklists} {...shared} />
      <Attachments files={detail.files} canEdit={canHang} parts={parts} uploads={uploads} />
      <Relations id={row.id} related={detail.relations} openTask={openTask} {...shared} />
    </>
  );
  const said = <Said detail={detail} project={project} canSay={canSay} parts={parts} />;
  const fields = (
    <Fields row={row} detail={detail} project={project} canEdit={canEdit} edit={edit} openTask={openTask} />
  );
  return (
    <>
      {over && (
        <div className="pointer-events-none absolute inset-1.5 z-10 grid place-items-center border-2 border-dashed border-rose bg-rose-soft/80 text-[15px] font-semibold">
          Drop to attach
        </div>
      )}
      <Head {...props} />
      {whole ? (
        <div className="grid gap-x-10 lg:grid-cols-[minmax(0,1fr)_440px]">
          <div className="min-w-0">
            {texts}
            {said}
          </div>
          <div className="order-first mt-3 lg:order-none">{fields}</div>
        </div>
      ) : (
        <>
          {fields}
          {texts}
          {said}
        </>
      )}
    </>
  );
}

/** Code, place in the outline, title, and the reading. */
function Head({ detail, project, changes, close, openTask, step, whole }: FolioProps & { detail: Detail }) {
  const { row } = detail;
  const canEdit = may(project, "edit");
  const parts = useParts(project.code, row.id);
  const above = detail.above.at(-1);
  const [shifting, setShifting] = useState<string | null>(null);
  const [proposing, setProposing] = useState(false);
  const [copying, setCopying] = useState(false);
  const [merging, setMerging] = useState(false);
  const [keeping, setKeeping] = useState(false);
  const [becoming, setBecoming] = useState(false);
  const { person: me } = useMe();
  const edit = (title: string) =>
    changes.edit(`Title of “${row.title}”`, [{ id: row.id, fields: { title }, shown: { title } }]);
  const estimate = (effort: number) => changes.edit(`Estimate of “${row.title}”`, [{ id: row.id, fields: { effort } }]);
  const address = `/p/${project.code}/task/${row.number}`;
  // a sentence over all projects says nothing that one project can read
  const search = location.pathname.startsWith("/p/") ? location.search : "";
  return (
    <>
      <div className="flex items-center gap-2 text-[12px] text-ink-2">
        <b className="font-semibold tracking-wide text-rose">
          {detail.code} {row.number}
        </b>
        <span className="min-w-0 flex-1 truncate">
          {detail.outline}
          {above && (
            <>
              {" under "}
              <button
                type="button"
                className="underline decoration-rule-2 hover:text-ink"
                onClick={() => openTask(above.id ?? "")}
              >
                {above.title}
              </button>
            </>
          )}
        </span>
        <Followers detail={detail} parts={parts} />
        <Menu
          align="end"
          trigger={
            <button type="button" className="font-semibold text-ink-2 hover:text-ink">
              More
            </button>
          }
        >
          {canEdit && row.start && (
            <MenuItem onSelect={() => setShifting(row.start?.slice(0, 10) ?? "")}>Shift to a new start</MenuItem>
          )}
          {mayShape(project) && <MenuItem onSelect={() => setProposing(true)}>Propose tasks below</MenuItem>}
          {mayShape(project) && <MenuItem onSelect={() => setCopying(true)}>Copy or move</MenuItem>}
          {me.role !== "member" && me.role !== "guest" && draftHere() === null && (
            <MenuItem onSelect={() => setBecoming(true)}>Make it a project</MenuItem>
          )}
          {mayShape(project) && <MenuItem onSelect={() => setMerging(true)}>Merge into another task</MenuItem>}
          {may(project, "manage") && draftHere() === null && (
            <MenuItem onSelect={() => setKeeping(true)}>Keep as a blank</MenuItem>
          )}
          <MenuItem
            onSelect={() =>
              navigator.clipboard.writeText(location.origin + address).then(
                () => note("The address of the task is copied."),
                () => note(`Copy this address: ${location.origin}${address}`),
              )
            }
          >
            Copy its address
          </MenuItem>
          {canEdit && (
            <MenuItem
              onSelect={async () => {
                close();
                await changes.remove([row.id]);
              }}
            >
              Delete
            </MenuItem>
          )}
        </Menu>
        {step && (
          <span className="flex">
            <IconButton label="The row before (Alt Page up)" className="!size-6" onClick={() => step(-1)}>
              <ChevronUp size={15} />
            </IconButton>
            <IconButton label="The next row (Alt Page down)" className="!size-6" onClick={() => step(1)}>
              <ChevronDown size={15} />
            </IconButton>
          </span>
        )}
        {!whole && (
          <Link
            to={address + search.replace(/([?&])open=[^&]*&?/, "$1").replace(/[?&]$/, "")}
            aria-label="On a page of its own"
            title="On a page of its own"
            className="grid size-6 place-items-center hover:bg-band hover:text-ink"
          >
            <Maximize2 size={13} />
          </Link>
        )}
        <IconButton label="Close the task" onClick={close}>
          <X size={15} />
        </IconButton>
      </div>
      <TextField
        value={row.title}
        label="Title"
        readOnly={!canEdit}
        className="font-head -mx-1.5 w-full px-1.5 text-[19px] font-semibold"
        onSave={edit}
      />
      {shifting !== null && (
        <form
          aria-label="Shift to a new start"
          className="my-2 flex flex-wrap items-center gap-2 bg-band px-2 py-1.5"
          onSubmit={async (event) => {
            event.preventDefault();
            if (await changes.shift(row.id, shifting)) setShifting(null);
          }}
        >
          <div className="flex items-center gap-2">
            {row.is_summary ? "Let all under it start on" : "Let it start on"}
            <DateField
              required
              label={row.is_summary ? "Let all under it start on" : "Let it start on"}
              value={shifting}
              onChange={setShifting}
            />
          </div>
          <Button type="submit">Shift</Button>
          <Button look="quiet" onClick={() => setShifting(null)}>
            Cancel
          </Button>
        </form>
      )}
      <p className="mt-1 mb-3 max-w-3xl text-[14px] leading-relaxed text-ink-2">
        <Reading text={detail.reading} />
      </p>
      <SimilarWork
        id={row.id}
        title={row.title}
        project={project}
        openTask={openTask}
        offer={canEdit && !row.is_summary && row.effort === null ? estimate : undefined}
      />
      {copying && (
        <Suspense fallback={null}>
          <CopyTasks
            ids={[row.id]}
            project={project}
            changes={changes}
            close={(moved) => {
              setCopying(false);
              if (moved) close();
            }}
          />
        </Suspense>
      )}
      {becoming && (
        <Suspense fallback={null}>
          <ProjectOfTask row={row} close={() => setBecoming(false)} />
        </Suspense>
      )}
      {keeping && (
        <Suspense fallback={null}>
          <KeepBlank project={project} row={row} close={() => setKeeping(false)} />
        </Suspense>
      )}
      {merging && (
        <Modal open onOpenChange={() => setMerging(false)} title={`Merge “${row.title}” into`}>
          <p className="mb-2 text-ink-2">
            Comments, files, checklists, hours, expenses, the description and the tasks below move to the task that you
            choose; this one is dropped as a duplicate. It keeps its people, dates and fields, and leaves the backlog.
          </p>
          <TaskFinder
            code={project.code}
            without={row.id}
            onChoose={async (task) => {
              setMerging(false);
              if (await changes.merge(row.id, task.id)) openTask(task.id);
            }}
          />
        </Modal>
      )}
      {proposing && <ProposeTasks id={row.id} changes={changes} close={() => setProposing(false)} />}
    </>
  );
}
