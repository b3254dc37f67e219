/** Checklists: ticked, ordered and written by keyboard and pointer. */
import { useState } from "react";
import type { Project } from "../../data/api";
import { note } from "../../data/notes";
import { Menu, MenuItem, MenuLine } from "../../parts/basics";
import { TextField } from "../../parts/text-field";
import { Section } from "../../shell/folio/section";
import { type Check, type Checklist, orTell, type Parts, useChecklistTemplates } from "../parts";

export function Checklists({
  lists,
  project,
  canEdit,
  parts,
}: {
  lists: Checklist[];
  project: Project;
  canEdit: boolean;
  parts: Parts;
}) {
  return (
    <>
      {lists.map((list, index) => (
        <One
          key={list.id}
          list={list}
          above={lists[index - 2]?.id ?? null}
          first={index === 0}
          canEdit={canEdit}
          parts={parts}
        />
      ))}
      {canEdit && <AddChecklist project={project} parts={parts} />}
    </>
  );
}

export function AddChecklist({ project, parts }: { project: Project; parts: Parts }) {
  const templates = useChecklistTemplates(project.code);
  return (
    <div className="mt-3">
      <Menu
        trigger={
          <button type="button" className="text-rose hover:underline">
            + checklist
          </button>
        }
      >
        <MenuItem onSelect={() => orTell(parts.addChecklist("To do"))}>An empty one</MenuItem>
        {(templates.data?.length ?? 0) > 0 && <MenuLine />}
        {templates.data?.map((one) => (
          <MenuItem key={one.id} onSelect={() => orTell(parts.addChecklist(one.name, one.items))}>
            {one.name}, {one.items.length} to tick
          </MenuItem>
        ))}
      </Menu>
    </div>
  );
}

function One({
  list,
  above,
  first,
  canEdit,
  parts,
}: {
  list: Checklist;
  above: string | null;
  first: boolean;
  canEdit: boolean;
  parts: Parts;
}) {
  const [hidden, setHidden] = useState(false);
  const done = list.checks.filter((check) => check.done_at).length;
  const shown = hidden ? list.checks.filter((check) => !check.done_at) : list.checks;
  return (
    <Section
      title={list.name}
      heading={
        canEdit ? (
          <TextField
            value={list.name}
            label={`Name of the checklist ${list.name}`}
            className="-mx-1.5 field-sizing-content max-w-60 px-1.5 font-semibold"
            onSave={(name) => parts.editChecklist(list.id, { name })}
          />
        ) : undefined
      }
      aside={`${done} of ${list.checks.length}`}
      end={
        <span className="flex gap-3">
          {done > 0 && (
            <button type="button" className="text-ink-2 hover:text-ink" onClick={() => setHidden(!hidden)}>
              {hidden ? "show ticked" : "hide ticked"}
            </button>
          )}
          {canEdit && (
            <Menu
              align="end"
              trigger={
                <button type="button" className="text-ink-2 hover:text-ink" aria-label={`More for ${list.name}`}>
                  More
                </button>
              }
            >
              {!first && (
                <MenuItem onSelect={() => orTell(parts.editChecklist(list.id, { after_id: above }))}>Move up</MenuItem>
              )}
              <MenuItem
                onSelect={() =>
                  orTell(parts.keepTemplate(list.id).then(() => note(`The project keeps “${list.name}” for loading.`)))
                }
              >
                Keep for other tasks
              </MenuItem>
              <MenuItem onSelect={() => orTell(parts.deleteChecklist(list.id))}>Take away</MenuItem>
            </Menu>
          )}
        </span>
      }
    >
      <ul>
        {shown.map((check) => (
          <Line key={check.id} check={check} list={list} canEdit={canEdit} parts={parts} />
        ))}
      </ul>
      {canEdit && <AddLine list={list} parts={parts} />}
    </Section>
  );
}

/** One thing to tick. Alt and up or down moves it. */
function Line({ check, list, canEdit, parts }: { check: Check; list: Checklist; canEdit: boolean; parts: Parts }) {
  const [ticked, setTicked] = useState<boolean | null>(null);
  const done = ticked ?? check.done_at !== null;
  function tick(on: boolean) {
    setTicked(on); // shown at once
    orTell(parts.editCheck(check.id, { done: on })).finally(() => setTicked(null));
  }
  function move(step: 1 | -1) {
    const at = list.checks.findIndex((one) => one.id === check.id);
    if (at + step < 0 || at + step >= list.checks.length) return;
    const after = step === 1 ? list.checks[at + 1] : list.checks[at - 2];
    orTell(parts.editCheck(check.id, { after_id: after?.id ?? null }));
  }
  return (
    <li
      className="group flex min-h-7 items-center gap-2"
      onKeyDown={(event) => {
        if (!canEdit || !event.altKey || (event.key !== "ArrowUp" && event.key !== "ArrowDown")) return;
        event.preventDefault();
        move(event.key === "ArrowDown" ? 1 : -1);
      }}
    >
      <input
        type="checkbox"
        className="size-3.5 flex-none accent-ink"
        aria-label={check.text}
        checked={done}
        disabled={!canEdit}
        onChange={(event) => tick(event.target.checked)}
      />
      <span className="min-w-0 flex-1">
        <TextField
          value={check.text}
          label={`Text: ${check.text}`}
          readOnly={!canEdit}
          className={`w-full ${done ? "text-ink-2 line-through" : ""}`}
          onSave={(text) => (text.trim() ? parts.editCheck(check.id, { text }) : parts.deleteCheck(check.id))}
        />
      </span>
      {canEdit && (
        <Menu
          align="end"
          trigger={
            <button
              type="button"
              aria-label={`More for ${check.text}`}
              className="px-1 text-[12px] text-ink-2 opacity-0 group-hover:opacity-100 focus-visible:opacity-100 data-[state=open]:opacity-100"
            >
              More
            </button>
          }
        >
          <MenuItem onSelect={() => move(-1)}>Move up</MenuItem>
          <MenuItem onSelect={() => move(1)}>Move down</MenuItem>
          <MenuItem onSelect={() => orTell(parts.checkToTask(check.id))}>Make it a task below</MenuItem>
          <MenuLine />
          <MenuItem onSelect={() => orTell(parts.deleteCheck(check.id))}>Take out</MenuItem>
        </Menu>
      )}
    </li>
  );
}

/** Enter adds; several pasted lines become several things to tick. */
function AddLine({ list, parts }: { list: Checklist; parts: Parts }) {
  const [text, setText] = useState("");
  async function add(lines: string[]) {
    const texts = lines.map((line) => line.replace(/^\s*(?:[-*•]|\[[ x]?\]|\d+[.)])\s+/i, "").trim()).filter(Boolean);
    if (!texts.length) return;
    setText("");
    if (!(await orTell(parts.addChecks(list.id, texts).then(() => true)))) setText(texts.join(" "));
  }
  return (
    <input
      className="h-7 w-full border border-transparent bg-transparent pl-[22px] hover:border-rule-2 focus:border-rose"
      aria-label={`Add to ${list.name}`}
      placeholder="Something to tick"
      value={text}
      onChange={(event) => setText(event.target.value)}
      onKeyDown={(event) => event.key === "Enter" && add([text])}
      onPaste={(event) => {
        const lines = event.clipboardData.getData("text").split("\n");
        if (lines.filter((line) => line.trim()).length < 2) return;
        event.preventDefault();
        add(lines);
      }}
    />
  );
}
