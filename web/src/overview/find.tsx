/** One field to find work, or to write a new task: what was understood is shown as it is typed. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Command } from "cmdk";
import { Plus, Search } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { ask, client, newId, send, sentence } from "../data/api";
import { usePeople } from "../data/hooks";
import { refreshProject } from "../data/keys";
import { note } from "../data/notes";
import { remember } from "../data/undo";
import { Facet } from "../parts/facet";
import { sayDay } from "../parts/format";
import { Tile } from "../parts/tile";
import { isTyping } from "../parts/typing";
import { useSettled } from "../parts/use-settled";

const KEPT = "rhodonite.line";
/** Where a task was found, unless in its title. */
const WHERE: Record<string, string> = {
  description: "in its description",
  comment: "in a comment",
  file: "an attachment",
  field: "in a field",
};

const KINDS = { labour: "crew or role", material: "material", fixed: "fixed cost" };

export default function Find() {
  const [text, setText] = useState(() => sessionStorage.getItem(KEPT) ?? "");
  const [open, setOpen] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const root = useRef<HTMLDivElement>(null);
  const navigate = useNavigate();
  const queries = useQueryClient();
  const { byId } = usePeople();
  const code = useLocation().pathname.match(/^\/p\/([^/]+)/)?.[1] ?? null;
  const asked = useSettled(text.trim(), 120);

  useEffect(() => sessionStorage.setItem(KEPT, text), [text]);
  useEffect(() => {
    const focus = (event: KeyboardEvent) => {
      if (event.key === "/" && !isTyping(event.target) && !event.ctrlKey && !event.metaKey) {
        event.preventDefault();
        input.current?.focus();
      }
    };
    const outside = (event: PointerEvent) => {
      if (!root.current?.contains(event.target as Node)) setOpen(false);
    };
    window.addEventListener("keydown", focus);
    window.addEventListener("pointerdown", outside);
    return () => {
      window.removeEventListener("keydown", focus);
      window.removeEventListener("pointerdown", outside);
    };
  }, []);

  const found = useQuery({
    queryKey: ["find", asked],
    enabled: open && asked.length > 0,
    queryFn: ({ signal }) => ask(client.GET("/api/find", { params: { query: { text: asked } }, signal })),
    placeholderData: (before) => before,
  });
  const line = useQuery({
    queryKey: ["line", asked, code],
    enabled: open && asked.length > 2,
    queryFn: ({ signal }) => ask(client.POST("/api/lines/read", { body: { line: asked, code }, signal })),
    placeholderData: (before) => before,
  });

  const go = (to: string) => {
    setOpen(false);
    setText("");
    input.current?.blur();
    navigate(to);
  };

  async function write() {
    const typed = text.trim();
    const id = newId();
    try {
      const made = await send((headers) => client.POST("/api/lines", { body: { line: typed, code, id }, headers }));
      setText("");
      setOpen(false);
      refreshProject(queries, made.code);
      remember(queries, { change: made.change, code: made.code, what: `Added “${made.title}”` });
      note(`Added “${made.title}” to ${made.code}`, "plain", {
        label: "Show it",
        run: () => navigate(`/p/${made.code}/outline?open=${made.id}`),
      });
    } catch (error) {
      note(sentence(error), "wrong");
    }
  }

  const answer = found.data;
  const nothing =
    answer &&
    !(
      answer.tasks.length ||
      answer.projects.length ||
      answer.people.length ||
      answer.resources.length ||
      answer.goals.length ||
      answer.pages.length
    );
  return (
    <Command
      ref={root}
      shouldFilter={false}
      label="Find work, or write a new task"
      className="relative ml-auto min-w-0 flex-1 sm:max-w-[380px]"
      onKeyDown={(event) => {
        if (event.key === "Escape") {
          setOpen(false);
          input.current?.blur();
        }
        if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) {
          event.preventDefault();
          write();
        }
      }}
    >
      <div className="flex h-7 items-center gap-2 border border-mast-line bg-mast-2 px-2.5 focus-within:border-rose-mid">
        <Search size={13} aria-hidden="true" className="flex-none" />
        <Command.Input
          ref={input}
          value={text}
          onValueChange={(value) => {
            setText(value);
            setOpen(true);
          }}
          onFocus={() => setOpen(true)}
          placeholder="Find work, or write a new task"
          className="min-w-0 flex-1 bg-transparent text-white outline-none placeholder:text-[#b9acb8]"
        />
        {!text && <kbd className="hidden text-[11px] text-[#b9acb8] sm:block">/</kbd>}
      </div>
      {/* always there, for the field names it */}
      <Command.List
        hidden={!(open && text.trim())}
        className="absolute top-8 right-0 z-50 max-h-[70vh] w-[460px] max-w-[94vw] overflow-auto border border-ink bg-sheet p-1.5 text-ink shadow-[0_14px_34px_-12px_#231a2455]"
      >
        {answer?.tasks.map((task) => (
          <Item key={task.id} value={task.id} onSelect={() => go(`/p/${task.code}/outline?open=${task.id}`)}>
            <Facet
              row={{
                percent: task.percent,
                health: "steady",
                state_class: task.state_class as "queued",
                kind: "task",
              }}
              size={14}
            />
            <span className="min-w-0 flex-1">
              <span className="block truncate">{task.title}</span>
              {task.excerpt && (
                <span className="block truncate text-[12px] text-ink-2">
                  {WHERE[task.source ?? ""]}: {task.excerpt}
                </span>
              )}
            </span>
            <span className="text-ink-3">
              {task.code} {task.number}
            </span>
            {task.finish && <span className="w-14 text-right text-ink-2">{sayDay(task.finish)}</span>}
            <Tile person={byId.get(task.owner_id ?? "")} size={18} />
          </Item>
        ))}
        {answer?.projects.map((project) => (
          <Item key={project.code} value={`project ${project.code}`} onSelect={() => go(`/p/${project.code}`)}>
            <span className="w-10 text-[11px] font-semibold tracking-wider text-rose">{project.code}</span>
            {project.name}
          </Item>
        ))}
        {answer?.people.map((person) => (
          <Item key={person.id} value={person.id} onSelect={() => go(`/people?person=${person.id}`)}>
            <Tile person={byId.get(person.id)} size={18} label={false} />
            {person.name}
            <span className="text-ink-3">{person.title}</span>
          </Item>
        ))}
        {answer?.goals.map((one) => (
          <Item key={one.id} value={one.id} onSelect={() => go(`/goals?open=${one.id}`)}>
            <Tile person={byId.get(one.owner_id)} size={18} label={false} />
            {one.title}
            <span className="text-ink-3">{one.closed ? "a closed goal" : "a goal"}</span>
          </Item>
        ))}
        {answer?.resources.map((one) => (
          <Item
            key={one.id}
            value={one.id}
            onSelect={() => go(one.code ? `/p/${one.code}/settings/hours` : "/people/crews")}
          >
            <span className="w-10 text-[11px] font-semibold tracking-wider text-rose">{one.code}</span>
            {one.name}
            <span className="text-ink-3">{KINDS[one.kind]}</span>
          </Item>
        ))}
        {answer?.pages.map((one) => (
          <Item key={one.to} value={one.to} onSelect={() => go(one.to)}>
            {one.name}
            <span className="text-ink-3">{one.what}</span>
          </Item>
        ))}
        {nothing && <p className="px-2 py-1.5 text-ink-2">Nothing is called that.</p>}
        {line.data && (
          <Item value="write a new task" onSelect={write}>
            <Plus size={14} className="mt-0.5 self-start text-rose" aria-hidden="true" />
            <span className="flex-1">
              <span className="font-semibold">{line.data.title || "…"}</span>
              <span className="mt-1 flex flex-wrap gap-1">
                {line.data.understood.map((one) => (
                  <span key={one.phrase} className="bg-verdigris-soft px-1.5 text-[12px]">
                    {one.says}
                  </span>
                ))}
                {line.data.code && !line.data.understood.some((one) => one.field === "project") && (
                  <span className="bg-band px-1.5 text-[12px]">in {line.data.code}</span>
                )}
                {!line.data.code && <span className="text-[12px] text-ember">say where: in LAN</span>}
              </span>
              {line.data.notes.map((one) => (
                <span key={one} className="block text-[12px] text-ochre">
                  {one}
                </span>
              ))}
              <span className="block text-[12px] text-ink-3">Write this as a new task · Ctrl Enter</span>
            </span>
          </Item>
        )}
      </Command.List>
    </Command>
  );
}

function Item({ children, value, onSelect }: { children: React.ReactNode; value: string; onSelect: () => void }) {
  return (
    <Command.Item
      value={value}
      onSelect={onSelect}
      className="flex min-h-8 cursor-pointer items-center gap-2 px-2 py-1 data-[selected=true]:bg-rose-soft"
    >
      {children}
    </Command.Item>
  );
}
