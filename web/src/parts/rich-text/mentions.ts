/** People and tasks named in a text: `@` offers people, `#` tasks. */
import { mergeAttributes } from "@tiptap/core";
import { Mention } from "@tiptap/extension-mention";
import { PluginKey } from "@tiptap/pm/state";
import type { SuggestionProps } from "@tiptap/suggestion";

export interface Choice {
  id: string;
  label: string;
  /** of a task, where it is opened */
  href?: string;
}

/** What can be named at the place where one writes. */
export interface Offer {
  choices: Choice[];
  at: number;
  rect: DOMRect | null;
  choose: (choice: Choice) => void;
}

export type Ask = (text: string) => Choice[] | Promise<Choice[]>;

/** Offers what `ask` finds. `show` gets what is to be drawn, and `held` what was shown last. */
function suggestion(
  key: string,
  char: string,
  ask: Ask,
  show: (offer: Offer | null) => void,
  held: () => Offer | null,
) {
  const offer = (props: SuggestionProps<Choice>): Offer => ({
    choices: props.items,
    at: 0,
    rect: props.clientRect?.() ?? null,
    choose: (choice) => props.command(choice as never),
  });
  return {
    char,
    pluginKey: new PluginKey(key),
    items: ({ query }: { query: string }) => ask(query),
    render: () => ({
      onStart: (props: SuggestionProps<Choice>) => show(offer(props)),
      onUpdate: (props: SuggestionProps<Choice>) => show(offer(props)),
      onExit: () => show(null),
      onKeyDown: ({ event }: { event: KeyboardEvent }) => {
        const now = held();
        if (!now?.choices.length) return false;
        if (event.key === "ArrowDown" || event.key === "ArrowUp") {
          const step = event.key === "ArrowDown" ? 1 : -1;
          show({ ...now, at: (now.at + step + now.choices.length) % now.choices.length });
          return true;
        }
        if (event.key === "Enter" || event.key === "Tab") {
          const chosen = now.choices[now.at];
          if (chosen) now.choose(chosen);
          return true;
        }
        if (event.key === "Escape") {
          show(null);
          return true;
        }
        return false;
      },
    }),
  };
}

const text = (element: HTMLElement) => (element.textContent ?? "").replace(/^[@#]/, "");

export function mentions(people: Ask, tasks: Ask, show: (offer: Offer | null) => void, held: () => Offer | null) {
  const person = Mention.extend({
    name: "person",
    addAttributes: () => ({
      id: { parseHTML: (element: HTMLElement) => element.dataset.person, renderHTML: () => ({}) },
      label: { parseHTML: text, renderHTML: () => ({}) },
    }),
    parseHTML: () => [{ tag: "span[data-person]" }],
    renderHTML: ({ node }) => ["span", { "data-person": node.attrs.id }, `@${node.attrs.label}`],
    renderText: ({ node }) => `@${node.attrs.label}`,
  }).configure({ suggestion: suggestion("people", "@", people, show, held) });
  const task = Mention.extend({
    name: "taskName",
    addAttributes: () => ({
      id: { parseHTML: (element: HTMLElement) => element.dataset.task, renderHTML: () => ({}) },
      label: { parseHTML: text, renderHTML: () => ({}) },
      href: { parseHTML: (element: HTMLElement) => element.getAttribute("href"), renderHTML: () => ({}) },
    }),
    parseHTML: () => [{ tag: "a[data-task]", priority: 100 }],
    renderHTML: ({ node }) => [
      "a",
      mergeAttributes({ "data-task": node.attrs.id, href: node.attrs.href }),
      `${node.attrs.label}`,
    ],
    renderText: ({ node }) => `${node.attrs.label}`,
  }).configure({ suggestion: suggestion("tasks", "#", tasks, show, held) });
  return [person, task];
}
