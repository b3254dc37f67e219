import { type Schemas, sentence } from "../../data/api";
import { mayShape, useMe, usePeople } from "../../data/hooks";
import { note } from "../../data/notes";
import { kinds, sayPriority } from "../../data/vocabulary";
import { Menu, MenuItem } from "../../parts/basics";
import { PersonChooser, PriorityItems, StateMenu } from "../../parts/choosers";
import { Facet } from "../../parts/facet";
import { sayHours, sayLength, sayWeekday } from "../../parts/format";
import { Health } from "../../parts/health";
import { Sign } from "../../parts/sign";
import { TextField } from "../../parts/text-field";
import { Tile } from "../../parts/tile";
import { Hours } from "../../resources/hours";
import { hasField, kindName } from "../custom-fields";
import { ParsedLinks } from "../parsed-links";
import { Cell, type FieldProps, PICK } from "./cell";
import { CalendarPick, Constraint, isPinned } from "./constraint";
import { CustomCell, MarksField } from "./custom-fields";
import { type Fact, Groups } from "./groups";
import { Neighbours } from "./neighbours";
import { lanesFor, OnBoard } from "./on-board";
import { RepeatsField } from "./recurrence";
import { HeldBy, Helpers } from "./who";

export function Fields({
  row,
  project,
  canEdit,
  edit,
  openTask,
  detail,
}: FieldProps & {
  detail: Schemas["TaskOut"];
  openTask: (id: string) => void;
}) {
  const { byId } = usePeople();
  const { now } = useMe();
  const tell = (promise: Promise<void>) => promise.catch((error) => note(sentence(error), "wrong"));
  const state = project.states.find((one) => one.id === row.state_id);
  const owner = byId.get(row.owner_id ?? "");
  const open = canEdit && !row.is_summary;
  const milestone = row.kind === "milestone";
  const typed = (label: string, name: string, value: string, editable = open) => (
    <Cell label={isPinned(row, name) ? `⊙ ${label}` : label}>
      <TextField
        value={value}
        label={label}
        readOnly={!editable}
        hint={row.is_summary && name !== "deadline" ? "Computed from the tasks under it" : undefined}
        className="-mx-1.5 w-full px-1.5"
        onSave={(text) => edit(label, { [name]: text })}
      />
    </Cell>
  );
  /** What has really happened: a day that is typed begins or finishes the task. */
  const happened = (label: string, name: "actual_start" | "actual_finish") => (
    <Cell label={label}>
      <TextField
        value={row[name] ? sayWeekday(row[name], now) : ""}
        label={label}
        placeholder="not yet"
        readOnly={!open}
        className="-mx-1.5 w-full px-1.5"
        onSave={(text) => edit(label, { [name]: text })}
      />
    </Cell>
  );
  const stateShown = (
    <span className="flex items-center gap-2">
      <Facet row={row} /> {state?.name}
    </span>
  );
  const facts: Fact[] = [
    {
      key: "state",
      node: (
        <Cell label="State">
          {open ? (
            <StateMenu
              project={project}
              row={row}
              onChoose={(id) => tell(edit("State", { state_id: id }))}
              trigger={
                <button type="button" className={PICK} aria-label={`State: ${state?.name}`}>
                  {stateShown}
                </button>
              }
            />
          ) : (
            stateShown
          )}
        </Cell>
      ),
    },
    {
      key: "owner",
      node: (
        <Cell label="Owner">
          {canEdit ? (
            <PersonChooser
              project={project}
              value={row.owner_id}
              onChoose={(id) => tell(edit("Owner", { owner_id: id }, { owner_id: id }))}
              trigger={
                <button
                  type="button"
                  className={`${PICK} flex items-center gap-2`}
                  aria-label={`Owner: ${owner?.name ?? "nobody"}`}
                >
                  <Tile person={owner} size={22} label={false} /> {owner?.name ?? "No owner"}
                </button>
              }
            />
          ) : (
            <span className="flex items-center gap-2">
              <Tile person={owner} size={22} label={false} /> {owner?.name ?? "No owner"}
            </span>
          )}
        </Cell>
      ),
    },
    {
      key: "health",
      node: (
        <Cell label="Health">
          <Health value={row.health} />
        </Cell>
      ),
    },
    { key: "percent", node: typed("Percent done", "percent", `${row.percent} %`) },
    {
      key: "start",
      group: "When",
      not: milestone,
      node: typed("Start", "start", row.start ? sayWeekday(row.start, now) : ""),
    },
    {
      key: "finish",
      group: "When",
      node: typed(milestone ? "Date" : "Finish", "finish", row.finish ? sayWeekday(row.finish, now) : ""),
    },
    { key: "duration", group: "When", not: milestone, node: typed("Duration", "duration", sayLength(row)) },
    {
      key: "Deadline",
      group: "When",
      empty: !row.deadline,
      node: typed("Deadline", "deadline", row.deadline ? sayWeekday(row.deadline, now) : "", canEdit),
    },
    {
      key: "Started on",
      group: "When",
      not: row.is_summary || milestone,
      empty: !row.actual_start,
      node: happened("Started on", "actual_start"),
    },
    {
      key: milestone ? "Reached on" : "Finished on",
      group: "When",
      not: row.is_summary,
      empty: !row.actual_finish,
      node: happened(milestone ? "Reached on" : "Finished on", "actual_finish"),
    },
    {
      key: "waits",
      group: "When",
      node: (
        <Cell label="Waits for" wide>
          <TextField
            value={row.waits}
            label="Waits for"
            placeholder={canEdit ? "Nothing. Write a number or a title: 12 + 2 d" : "Nothing"}
            readOnly={!canEdit}
            className="-mx-1.5 w-full px-1.5"
            below={(text) => <ParsedLinks code={project.code} id={row.id} text={text} />}
            onSave={(text) => edit("Links", { waits_for: text })}
          />
        </Cell>
      ),
    },
    {
      key: "before",
      group: "When",
      node: <Neighbours label="Which are" tasks={detail.waits_for} openTask={openTask} />,
    },
    {
      key: "after",
      group: "When",
      node: <Neighbours label="Awaited by" tasks={detail.awaited_by} openTask={openTask} />,
    },
    {
      key: "constraint",
      group: "When",
      not: row.is_summary,
      node: <Constraint row={row} open={open} edit={(fields) => tell(edit("Constraint", fields))} />,
    },
    {
      key: "Calendar",
      group: "When",
      not: row.is_summary || !project.calendars.length,
      empty: !row.calendar_id,
      node: (
        <Cell label="Calendar">
          <CalendarPick
            project={project}
            row={row}
            open={open}
            choose={(id) => tell(edit("Calendar", { calendar_id: id }))}
          />
        </Cell>
      ),
    },
    {
      key: "Repeats",
      group: "When",
      not: row.is_summary,
      empty: !row.repeats,
      node: <RepeatsField row={row} project={project} canEdit={canEdit && mayShape(project)} edit={edit} />,
    },
    {
      key: "Helpers",
      group: "Who",
      empty: !row.helpers.length,
      node: (
        <Cell label="Helpers">
          <Helpers
            row={row}
            project={project}
            canEdit={canEdit}
            onChange={(ids) => tell(edit("Helpers", { helpers: ids }, { helpers: ids }))}
          />
        </Cell>
      ),
    },
    {
      key: "Held by",
      group: "Who",
      not: row.is_summary || (row.state_class !== "queued" && row.state_class !== "active"),
      empty: !row.held && !row.held_minutes,
      node: <HeldBy {...{ row, project, canEdit, edit, openTask }} />,
    },
    {
      key: project.hours ? "Estimate" : "Effort",
      group: "How much",
      empty: !row.effort && !project.hours,
      node: typed(project.hours ? "Estimate" : "Effort", "effort", sayHours(row.effort)),
    },
    {
      key: "Booked",
      group: "How much",
      not: !(project.hours || project.costs) || milestone,
      node: <Hours {...{ row, project, canEdit, edit }} />,
    },
    {
      key: "Priority",
      group: "How much",
      empty: !row.priority,
      node: (
        <Cell label="Priority">
          {canEdit ? (
            <Menu
              trigger={
                <button type="button" className={PICK} aria-label={`Priority: ${sayPriority(row.priority) || "none"}`}>
                  {sayPriority(row.priority) || "none"}
                </button>
              }
            >
              <PriorityItems value={row.priority} onChoose={(value) => tell(edit("Priority", { priority: value }))} />
            </Menu>
          ) : (
            sayPriority(row.priority) || "none"
          )}
        </Cell>
      ),
    },
    {
      key: "Lane",
      group: "Besides" as const,
      not: row.is_summary || !lanesFor(project, row).length,
      empty: !row.lane_id,
      node: (
        <OnBoard
          label="Lane"
          none="by rule"
          all={lanesFor(project, row)}
          value={row.lane_id}
          open={open}
          choose={(lane_id) => tell(edit("Lane", { lane_id }, { lane_id }))}
        />
      ),
    },
    {
      key: "Backlog",
      group: "Besides" as const,
      not: row.is_summary || row.state_class !== "queued" || !project.periods.length,
      empty: !row.period_id,
      node: (
        <OnBoard
          label="Backlog"
          none="pulled"
          all={project.periods}
          value={row.period_id}
          open={open}
          choose={(period_id) => tell(edit("Backlog", { period_id }))}
        />
      ),
    },
    ...project.fields
      .filter((field) => hasField(row, field))
      .map((field) => ({
        key: field.name,
        group: "Own fields" as const,
        // what a state asks for is offered before that state refuses
        empty: row.own[field.id] === undefined && field.type !== "computed" && !field.required_from,
        node: (
          <CustomCell
            {...{ field, row, project, canEdit, edit, openTask }}
            computed={detail.computed[field.id] ?? ""}
          />
        ),
      })),
    {
      key: "kind",
      group: "Besides",
      node: (
        <Cell label="Kind">
          {canEdit ? (
            <Menu
              trigger={
                <button
                  type="button"
                  className={`${PICK} flex items-center gap-1.5`}
                  aria-label={`Kind: ${kindName(project, row.kind)}`}
                >
                  {kindName(project, row.kind)}
                </button>
              }
            >
              {kinds().map(({ id, name }) => (
                <MenuItem key={id} chosen={id === row.kind} onSelect={() => tell(edit("Kind", { kind: id }))}>
                  {name}
                </MenuItem>
              ))}
              {project.kinds.map((kind) => (
                <MenuItem
                  key={kind.id}
                  chosen={kind.id === row.kind}
                  onSelect={() => tell(edit("Kind", { kind: kind.id }))}
                >
                  <Sign shape={kind.shape} colour={kind.colour} /> {kind.name}
                </MenuItem>
              ))}
            </Menu>
          ) : (
            kindName(project, row.kind)
          )}
        </Cell>
      ),
    },
    {
      key: "Marks",
      group: "Besides",
      not: !project.marks.length && !row.marks.length,
      empty: !row.marks.length,
      node: (
        <Cell label="Marks" wide>
          <MarksField row={row} project={project} canEdit={canEdit} edit={edit} />
        </Cell>
      ),
    },
    ...[...new Set(detail.named_in.map((one) => one.field))].map((field) => ({
      key: `${field} of`,
      group: "Besides" as const,
      node: (
        <Neighbours
          label={`${field} of`}
          tasks={detail.named_in.filter((one) => one.field === field).map((one) => one.task)}
          openTask={openTask}
        />
      ),
    })),
  ];
  return <Groups facts={facts} canAdd={canEdit} />;
}
