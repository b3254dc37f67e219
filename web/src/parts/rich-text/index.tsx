/** Writing a text with headings, lists, tables, code, links, pictures, and people and tasks that it names. */
import { Image } from "@tiptap/extension-image";
import { TableKit } from "@tiptap/extension-table";
import { Placeholder } from "@tiptap/extensions";
import { type Editor, EditorContent, useEditor, useEditorState } from "@tiptap/react";
import { StarterKit } from "@tiptap/starter-kit";
import {
  Bold,
  Code,
  Heading2,
  Heading3,
  ImageIcon,
  Italic,
  Link2,
  List,
  ListOrdered,
  type LucideIcon,
  SquareCode,
  Table,
  TextQuote,
} from "lucide-react";
import { useRef, useState } from "react";
import { createPortal } from "react-dom";
import { ask, client, sentence } from "../../data/api";
import { usePeople } from "../../data/hooks";
import { note } from "../../data/notes";
import { Button, Pop } from "../basics";
import { mentions, type Offer } from "./mentions";

const MOST_OFFERED = 8;

interface RichTextProps {
  label: string;
  /** HTML at the beginning; what is typed afterwards stays with the editor */
  first: string;
  placeholder?: string;
  autoFocus?: boolean;
  onChange: (html: string) => void;
  onSubmit: () => void;
  onEscape?: () => void;
  onBlur?: () => void;
  /** keeps a picture and gives its address */
  picture: (file: File) => Promise<string>;
}

export default function RichText(props: RichTextProps) {
  const { active } = usePeople();
  const [offer, setOffer] = useState<Offer | null>(null);
  const held = useRef<Offer | null>(null);
  const latest = useRef(props);
  latest.current = props;
  const peopleNow = useRef(active);
  peopleNow.current = active;
  const show = (next: Offer | null) => {
    held.current = next;
    setOffer(next);
  };
  const editor = useEditor({
    injectCSS: false,
    autofocus: props.autoFocus ? "end" : false,
    content: props.first,
    extensions: [
      StarterKit.configure({ heading: { levels: [2, 3] }, link: { openOnClick: false, protocols: ["mailto", "tel"] } }),
      Image,
      TableKit.configure({ table: { resizable: false } }),
      Placeholder.configure({ placeholder: props.placeholder ?? "" }),
      ...mentions(
        (text) =>
          peopleNow.current
            .filter((person) => person.name.toLowerCase().includes(text.toLowerCase()))
            .slice(0, MOST_OFFERED)
            .map((person) => ({ id: person.id, label: person.name })),
        async (text) => {
          if (!text.trim()) return [];
          const found = await ask(client.GET("/api/find", { params: { query: { text } } }));
          return found.tasks.slice(0, MOST_OFFERED).map((task) => ({
            id: task.id,
            label: `${task.code} ${task.number} ${task.title}`,
            href: `/p/${task.code}/outline?open=${task.id}`,
          }));
        },
        show,
        () => held.current,
      ),
    ],
    editorProps: {
      attributes: { class: "rich rich-edit", "aria-label": props.label, role: "textbox", "aria-multiline": "true" },
      handlePaste: (_, event) => takePictures(event.clipboardData?.files),
      handleDrop: (_, event) => takePictures(event.dataTransfer?.files),
      handleKeyDown: (_, event) => {
        if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) {
          latest.current.onSubmit();
          return true;
        }
        if (event.key === "Escape" && !held.current) latest.current.onEscape?.();
        event.stopPropagation();
        return false;
      },
    },
    onUpdate: ({ editor: now }) => latest.current.onChange(now.isEmpty ? "" : now.getHTML()),
  });
  const editorNow = useRef<Editor | null>(null);
  editorNow.current = editor;

  function takePictures(files: FileList | undefined | null): boolean {
    const pictures = [...(files ?? [])].filter((file) => file.type.startsWith("image/"));
    for (const file of pictures) putIn(file);
    return pictures.length > 0;
  }
  async function putIn(file: File) {
    try {
      const src = await latest.current.picture(file);
      editorNow.current?.chain().focus().setImage({ src, alt: file.name }).run();
    } catch (error) {
      note(sentence(error), "wrong");
    }
  }
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: leaving the whole of it saves
    <div
      className="border border-rule-2 focus-within:border-rose"
      onBlur={(event) => {
        if (!event.currentTarget.contains(event.relatedTarget)) props.onBlur?.();
      }}
    >
      {editor && <Tools editor={editor} putIn={putIn} />}
      <EditorContent editor={editor} />
      {offer && offer.choices.length > 0 && offer.rect && <Choices offer={offer} />}
    </div>
  );
}

/** People or tasks to choose from, under the place where one writes. */
function Choices({ offer }: { offer: Offer }) {
  const below = (offer.rect?.bottom ?? 0) + 4;
  return createPortal(
    <div
      role="listbox"
      aria-label="Name somebody or a task"
      className="fixed z-50 max-w-80 border border-ink bg-sheet p-1 shadow-[0_14px_34px_-12px_#231a2455]"
      style={{
        left: Math.min(offer.rect?.left ?? 0, window.innerWidth - 330),
        top: Math.min(below, window.innerHeight - 260),
      }}
    >
      {offer.choices.map((choice, index) => (
        <button
          key={choice.id}
          type="button"
          role="option"
          tabIndex={-1}
          aria-selected={index === offer.at}
          className={`block w-full truncate px-2 py-1 ${index === offer.at ? "bg-rose-soft" : "hover:bg-band"}`}
          onMouseDown={(event) => {
            event.preventDefault();
            offer.choose(choice);
          }}
        >
          {choice.label}
        </button>
      ))}
    </div>,
    document.body,
  );
}

type Tool = [
  label: string,
  icon: LucideIcon,
  name: string,
  attributes: object | undefined,
  run: (editor: Editor) => void,
];

const TOOLS: Tool[] = [
  ["Bold", Bold, "bold", undefined, (e) => e.chain().focus().toggleBold().run()],
  ["Italic", Italic, "italic", undefined, (e) => e.chain().focus().toggleItalic().run()],
  ["Code", Code, "code", undefined, (e) => e.chain().focus().toggleCode().run()],
  ["Heading", Heading2, "heading", { level: 2 }, (e) => e.chain().focus().toggleHeading({ level: 2 }).run()],
  ["Smaller heading", Heading3, "heading", { level: 3 }, (e) => e.chain().focus().toggleHeading({ level: 3 }).run()],
  ["List", List, "bulletList", undefined, (e) => e.chain().focus().toggleBulletList().run()],
  ["Numbered list", ListOrdered, "orderedList", undefined, (e) => e.chain().focus().toggleOrderedList().run()],
  ["Quotation", TextQuote, "blockquote", undefined, (e) => e.chain().focus().toggleBlockquote().run()],
  ["Block of code", SquareCode, "codeBlock", undefined, (e) => e.chain().focus().toggleCodeBlock().run()],
];

function Tools({ editor, putIn }: { editor: Editor; putIn: (file: File) => void }) {
  const on = useEditorState({
    editor,
    selector: ({ editor: now }) => ({
      tools: TOOLS.map(([, , name, attributes]) => now.isActive(name, attributes)),
      table: now.isActive("table"),
    }),
  });
  const chooser = useRef<HTMLInputElement>(null);
  const button = (pressed: boolean) =>
    `grid size-[26px] place-items-center ${pressed ? "bg-rose-soft text-rose" : "text-ink-2 hover:bg-band hover:text-ink"}`;
  return (
    <div role="toolbar" aria-label="Form of the text" className="flex flex-wrap border-b border-rule px-0.5">
      {TOOLS.map(([label, Icon, , , run], index) => (
        <button
          key={label}
          type="button"
          title={label}
          aria-label={label}
          aria-pressed={on.tools[index]}
          className={button(on.tools[index] ?? false)}
          onClick={() => run(editor)}
        >
          <Icon size={14} aria-hidden="true" />
        </button>
      ))}
      <LinkTool editor={editor} className={button(editor.isActive("link"))} />
      <button
        type="button"
        title="Table"
        aria-label="Table"
        className={button(on.table)}
        onClick={() => editor.chain().focus().insertTable({ rows: 3, cols: 3, withHeaderRow: true }).run()}
      >
        <Table size={14} aria-hidden="true" />
      </button>
      <button
        type="button"
        title="Picture"
        aria-label="Picture"
        className={button(false)}
        onClick={() => chooser.current?.click()}
      >
        <ImageIcon size={14} aria-hidden="true" />
      </button>
      <input
        ref={chooser}
        type="file"
        accept="image/*"
        hidden
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) putIn(file);
          event.target.value = "";
        }}
      />
      {on.table && <TableTools editor={editor} />}
    </div>
  );
}

function TableTools({ editor }: { editor: Editor }) {
  const steps: [string, () => boolean][] = [
    ["+ row", () => editor.chain().focus().addRowAfter().run()],
    ["+ column", () => editor.chain().focus().addColumnAfter().run()],
    ["− row", () => editor.chain().focus().deleteRow().run()],
    ["− column", () => editor.chain().focus().deleteColumn().run()],
    ["− table", () => editor.chain().focus().deleteTable().run()],
  ];
  return steps.map(([label, run]) => (
    <button key={label} type="button" className="px-1.5 text-[11.5px] text-rose hover:underline" onClick={run}>
      {label}
    </button>
  ));
}

function LinkTool({ editor, className }: { editor: Editor; className: string }) {
  const [open, setOpen] = useState(false);
  const [href, setHref] = useState("");
  function set() {
    const address = href.trim();
    const full = address && !/^[a-z]+:|^\//i.test(address) ? `https://${address}` : address;
    const chain = editor.chain().focus().extendMarkRange("link");
    if (!full) chain.unsetLink().run();
    else if (editor.state.selection.empty && !editor.isActive("link"))
      chain.insertContent({ type: "text", text: address, marks: [{ type: "link", attrs: { href: full } }] }).run();
    else chain.setLink({ href: full }).run();
    setOpen(false);
  }
  return (
    <Pop
      label="Address of the link"
      open={open}
      onOpenChange={(next) => {
        setHref(editor.getAttributes("link").href ?? "");
        setOpen(next);
      }}
      trigger={
        <button type="button" title="Link" aria-label="Link" className={className}>
          <Link2 size={14} aria-hidden="true" />
        </button>
      }
    >
      <div className="flex gap-1">
        <input
          className="input w-56"
          aria-label="Address of the link"
          placeholder="corvane.example/plans"
          value={href}
          onChange={(event) => setHref(event.target.value)}
          onKeyDown={(event) => event.key === "Enter" && set()}
        />
        <Button onClick={set}>{href.trim() ? "Link" : "No link"}</Button>
      </div>
    </Pop>
  );
}
