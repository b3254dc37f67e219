/** Buttons, popovers, menus and dialogs: Radix primitives dressed in our tokens. */
import { Check, X } from "lucide-react";
import { Dialog, DropdownMenu, Popover } from "radix-ui";
import { Component, type ComponentProps, type ReactNode, type RefObject, useEffect, useState } from "react";
import { Link } from "react-router";

const BUTTON =
  "inline-flex h-[30px] items-center justify-center gap-1.5 border px-3.5 font-semibold whitespace-nowrap disabled:opacity-50";
const LOOKS = {
  go: "border-ink bg-ink text-paper hover:bg-ink-2",
  plain: "border-ink bg-sheet text-ink hover:bg-band",
  quiet: "border-transparent text-ink-2 hover:text-ink hover:bg-band",
  rose: "border-transparent text-rose hover:bg-rose-soft",
};

export function Button({
  look = "plain",
  className = "",
  ...rest
}: ComponentProps<"button"> & { look?: keyof typeof LOOKS }) {
  return <button type="button" className={`${BUTTON} ${LOOKS[look]} ${className}`} {...rest} />;
}

export function IconButton({ label, className = "", ...rest }: ComponentProps<"button"> & { label: string }) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      className={`inline-grid size-7 flex-none place-items-center text-ink-2 hover:bg-band hover:text-ink disabled:opacity-40 ${className}`}
      {...rest}
    />
  );
}

const FLOATS = "z-50 border border-ink bg-sheet text-ink shadow-[0_14px_34px_-12px_#231a2455]";

export function Pop({
  trigger,
  children,
  open,
  onOpenChange,
  align = "start",
  className = "",
  label,
  leads,
}: {
  trigger: ReactNode;
  children: ReactNode;
  open?: boolean;
  onOpenChange?: (open: boolean) => void;
  align?: "start" | "center" | "end";
  className?: string;
  label: string;
  /** true once it has led to another one that opens: the focus then does not come back to the button */
  leads?: RefObject<boolean>;
}) {
  return (
    <Popover.Root open={open} onOpenChange={onOpenChange}>
      <Popover.Trigger asChild>{trigger}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align={align}
          sideOffset={4}
          collisionPadding={8}
          aria-label={label}
          onCloseAutoFocus={(event) => {
            if (leads?.current) event.preventDefault();
            if (leads) leads.current = false;
          }}
          className={`${FLOATS} max-h-[min(420px,var(--radix-popover-content-available-height))] overflow-auto p-1.5 ${className}`}
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

export function Menu({
  trigger,
  children,
  align = "start",
  open,
  onOpenChange,
  onCloseAutoFocus,
}: {
  trigger: ReactNode;
  children: ReactNode;
  align?: "start" | "end";
  open?: boolean;
  onOpenChange?: (open: boolean) => void;
  /** where the focus goes when it closes; to the trigger unless this prevents it */
  onCloseAutoFocus?: (event: Event) => void;
}) {
  return (
    <DropdownMenu.Root open={open} onOpenChange={onOpenChange} modal={false}>
      <DropdownMenu.Trigger asChild>{trigger}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          onCloseAutoFocus={onCloseAutoFocus}
          align={align}
          sideOffset={4}
          collisionPadding={8}
          className={`${FLOATS} max-h-[min(420px,var(--radix-dropdown-menu-content-available-height))] min-w-40 overflow-auto p-1.5`}
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

const ITEM =
  "flex min-h-7 cursor-pointer items-center gap-2 px-2 py-0.5 outline-none data-[highlighted]:bg-rose-soft data-[disabled]:opacity-50";

export function MenuItem({
  chosen,
  children,
  ...rest
}: ComponentProps<typeof DropdownMenu.Item> & { chosen?: boolean }) {
  return (
    <DropdownMenu.Item className={ITEM} {...rest}>
      {children}
      {chosen && <Check size={14} className="ml-auto" aria-label="chosen" />}
    </DropdownMenu.Item>
  );
}

/** A way to another page, in a menu. */
export function MenuLink({ to, chosen, children }: { to: string; chosen?: boolean; children: ReactNode }) {
  return (
    <DropdownMenu.Item asChild className={ITEM}>
      <Link to={to} aria-current={chosen ? "page" : undefined}>
        {children}
        {chosen && <Check size={14} className="ml-auto" aria-label="open" />}
      </Link>
    </DropdownMenu.Item>
  );
}

export const MenuHead = ({ children }: { children: ReactNode }) => (
  <DropdownMenu.Label className="mt-1 border-t border-rule px-2 pt-1.5 text-[11.5px] text-ink-3">
    {children}
  </DropdownMenu.Label>
);

export const MenuLine = () => <DropdownMenu.Separator className="my-1 h-px bg-rule" />;

/** A box to tick in a chooser. It shows the tick at once, before what it changes has followed. */
export function Tick({
  checked,
  onChange,
  children,
}: {
  checked: boolean;
  onChange: (on: boolean) => void;
  children: ReactNode;
}) {
  const [on, setOn] = useState(checked);
  useEffect(() => setOn(checked), [checked]);
  return (
    <label className="flex min-h-7 cursor-pointer items-center gap-2 px-2 hover:bg-rose-soft">
      <input
        type="checkbox"
        className="size-3.5 accent-rose"
        checked={on}
        onChange={(event) => {
          setOn(event.target.checked);
          onChange(event.target.checked);
        }}
      />
      {children}
    </label>
  );
}

/** Keeps the rest of the page standing where one part of it fails, and says so. */
export class Boundary extends Component<{ children: ReactNode }, { error: unknown }> {
  state = { error: null as unknown };

  static getDerivedStateFromError(error: unknown) {
    return { error };
  }

  render() {
    if (this.state.error === null) return this.props.children;
    return (
      <Failed
        error={new Error("This part of the page could not be loaded or shown. What you saved is kept.")}
        retry={() => window.location.reload()}
      />
    );
  }
}

const FIELDS =
  "input:not([type=hidden]):not(:disabled), select:not(:disabled), textarea:not(:disabled), [contenteditable=true]";

/** The first field of a dialog has the focus when it opens; one without fields begins at its first button. */
function focusFirst(event: Event) {
  const body = (event.currentTarget as HTMLElement).querySelector<HTMLElement>("[data-body]");
  const first = body?.querySelector<HTMLElement>(FIELDS) ?? body?.querySelector<HTMLElement>("button, a[href]");
  if (!first) return;
  event.preventDefault();
  first.focus();
}

/** Where the page that opens behind a dialog has taken the focus, it keeps it. */
function leaveFocus(event: Event) {
  const at = document.activeElement;
  if (at && at !== document.body && at.matches(FIELDS)) event.preventDefault();
}

export function Modal({
  open,
  onOpenChange,
  title,
  children,
  width = 460,
  keepOpen = false,
}: {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  title: string;
  children: ReactNode;
  width?: number;
  keepOpen?: boolean;
}) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-mast/40" />
        <Dialog.Content
          aria-describedby={undefined}
          onOpenAutoFocus={focusFirst}
          onCloseAutoFocus={leaveFocus}
          onInteractOutside={keepOpen ? (event) => event.preventDefault() : undefined}
          onEscapeKeyDown={keepOpen ? (event) => event.preventDefault() : undefined}
          className={`cut-16 fixed top-1/2 left-1/2 z-50 max-h-[90vh] max-w-[calc(100vw-24px)] -translate-x-1/2 -translate-y-1/2 overflow-auto border border-ink bg-sheet p-5`}
          style={{ width }}
        >
          <div className="mb-3 flex items-start gap-3 pr-4">
            <Dialog.Title className="text-[17px]">{title}</Dialog.Title>
            {!keepOpen && (
              <Dialog.Close asChild>
                <IconButton label="Close" className="ml-auto">
                  <X size={15} />
                </IconButton>
              </Dialog.Close>
            )}
          </div>
          <div data-body>{children}</div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** A labelled field of a form, with what is wrong beneath it. */
export function Field({
  label,
  error,
  hint,
  children,
}: {
  label: string;
  error?: string;
  hint?: string;
  children: ReactNode;
}) {
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the control is the child
    <label className="mb-3 block">
      <span className="label">{label}</span>
      {children}
      {hint && !error && <span className="mt-0.5 block text-[12px] text-ink-3">{hint}</span>}
      {error && (
        <span className="mt-0.5 block text-[12px] font-semibold text-ember" role="alert">
          {error}
        </span>
      )}
    </label>
  );
}

/** Why a form was refused, where that concerns no single field. */
export function Wrong({ text }: { text: string | undefined }) {
  if (!text) return null;
  return (
    <p role="alert" className="my-2 font-semibold text-ember">
      {text}
    </p>
  );
}

/** Text in which `**` marks what is bold. */
export function Reading({ text }: { text: string }) {
  return text.split("**").map((part, index) =>
    index % 2 ? (
      // biome-ignore lint/suspicious/noArrayIndexKey: parts of one text do not move
      <b key={index} className="font-semibold text-ink">
        {part}
      </b>
    ) : (
      part
    ),
  );
}

/** Rows that keep the shape of what is being loaded. */
export function Loading({ rows = 8, what }: { rows?: number; what: string }) {
  return (
    <div role="status" aria-label={`Loading ${what}`} className="w-full p-4">
      {Array.from({ length: rows }, (_, index) => index).map((index) => (
        <div key={index} className="flex h-[29px] items-center gap-3 border-b border-rule">
          <span className="size-4 bg-rule" />
          <span className="h-2.5 bg-rule" style={{ width: `${30 + ((index * 37) % 40)}%` }} />
        </div>
      ))}
    </div>
  );
}

/** What went wrong while loading, and a way to try again. */
export function Failed({ error, retry }: { error: unknown; retry?: () => void }) {
  return (
    <div role="alert" className="m-6 max-w-xl border-l-[3px] border-ember bg-ember-soft p-4">
      <p className="font-semibold">{error instanceof Error ? error.message : "Something went wrong."}</p>
      {retry && (
        <Button className="mt-3" onClick={retry}>
          Try again
        </Button>
      )}
    </div>
  );
}

/** An empty lens says what it is for and offers the first step. */
export function Empty({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="m-10 max-w-xl">
      <h2 className="mb-1 text-[19px]">{title}</h2>
      <div className="text-ink-2">{children}</div>
    </div>
  );
}
