/** Attachments: chosen, dropped or pasted, several at once; pictures, PDF and text are shown. */
import { useQuery } from "@tanstack/react-query";
import { FileText, ImageIcon, Paperclip } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { sentence } from "../../data/api";
import { useMe, usePeople } from "../../data/hooks";
import { Menu, MenuItem, Modal } from "../../parts/basics";
import { sayWhen } from "../../parts/format";
import { Section } from "../../shell/folio/section";
import { type Attachment, orTell, type Parts } from "../parts";

export const saySize = (bytes: number) =>
  bytes < 1024
    ? `${bytes} B`
    : bytes < 1 << 20
      ? `${Math.round(bytes / 1024)} kB`
      : `${(bytes / (1 << 20)).toFixed(1)} MB`;

interface Sending {
  key: number;
  file: File;
  share: number;
  wrong: string;
}

let nextKey = 1;

/** Files on their way, and a way to send more. */
export function useSending(parts: Parts) {
  const [sending, setSending] = useState<Sending[]>([]);
  const set = (key: number, part: Partial<Sending>) =>
    setSending((now) => now.map((one) => (one.key === key ? { ...one, ...part } : one)));
  const drop = (key: number) => setSending((now) => now.filter((one) => one.key !== key));
  async function start(one: Sending) {
    set(one.key, { wrong: "", share: 0 });
    try {
      await parts.attach(one.file, (share) => set(one.key, { share }));
      drop(one.key);
    } catch (error) {
      set(one.key, { wrong: sentence(error) });
    }
  }
  function add(files: Iterable<File>) {
    const fresh = [...files].map((file) => ({ key: nextKey++, file, share: 0, wrong: "" }));
    setSending((now) => [...now, ...fresh]);
    fresh.reduce((before, one) => before.then(() => start(one)), Promise.resolve());
  }
  return { sending, add, again: start, drop };
}

export function Attachments({
  files,
  canEdit,
  parts,
  uploads,
}: {
  files: Attachment[];
  canEdit: boolean;
  parts: Parts;
  uploads: ReturnType<typeof useSending>;
}) {
  const [shown, setShown] = useState<Attachment | null>(null);
  const chooser = useRef<HTMLInputElement>(null);
  if (!canEdit && !files.length) return null;
  return (
    <Section
      title="Attachments"
      aside={files.length ? `${files.length}` : undefined}
      end={
        canEdit && (
          <button type="button" className="text-rose hover:underline" onClick={() => chooser.current?.click()}>
            Attach
          </button>
        )
      }
    >
      <input
        ref={chooser}
        type="file"
        multiple
        hidden
        aria-label="Files to attach"
        onChange={(event) => {
          uploads.add(event.target.files ?? []);
          event.target.value = "";
        }}
      />
      {canEdit && !files.length && !uploads.sending.length && (
        <p className="text-ink-3">Drop files here, or paste them.</p>
      )}
      <ul>
        {files.map((file) => (
          <FileLine key={file.id} file={file} canEdit={canEdit} parts={parts} show={() => setShown(file)} />
        ))}
        {uploads.sending.map((one) => (
          <li key={one.key} className="flex min-h-8 items-center gap-2 border-b border-rule">
            <span className="min-w-0 flex-1 truncate">{one.file.name}</span>
            {one.wrong ? (
              <>
                <span role="alert" className="font-semibold text-ember">
                  {one.wrong}
                </span>
                <button type="button" className="text-rose hover:underline" onClick={() => uploads.again(one)}>
                  Try again
                </button>
                <button type="button" className="text-ink-2 hover:underline" onClick={() => uploads.drop(one.key)}>
                  Leave it
                </button>
              </>
            ) : (
              <>
                <progress
                  className="h-1.5 w-28 accent-rose"
                  max={1}
                  value={one.share}
                  aria-label={`Sending ${one.file.name}`}
                />
                <span className="text-[11.5px] text-ink-2">
                  {Math.round(one.share * 100)} % of {saySize(one.file.size)}
                </span>
              </>
            )}
          </li>
        ))}
      </ul>
      {shown && <Preview file={shown} close={() => setShown(null)} />}
    </Section>
  );
}

function FileLine({
  file,
  canEdit,
  parts,
  show,
}: {
  file: Attachment;
  canEdit: boolean;
  parts: Parts;
  show: () => void;
}) {
  const { byId } = usePeople();
  const { now } = useMe();
  const Icon = file.media_type.startsWith("image/") ? ImageIcon : file.shown ? FileText : Paperclip;
  return (
    <li className="flex min-h-8 items-center gap-2 border-b border-rule">
      {file.media_type.startsWith("image/") ? (
        <img
          src={`/api/files/${file.id}`}
          alt=""
          loading="lazy"
          className="size-7 flex-none border border-rule object-cover"
        />
      ) : (
        <Icon size={15} aria-hidden="true" className="mx-1.5 flex-none text-ink-2" />
      )}
      {file.shown ? (
        <button type="button" className="min-w-0 truncate font-[550] hover:underline" onClick={show}>
          {file.name}
        </button>
      ) : (
        <a href={`/api/files/${file.id}?save=true`} className="min-w-0 truncate font-[550] hover:underline">
          {file.name}
        </a>
      )}
      <span className="ml-auto flex-none text-[11.5px] text-ink-2">
        {saySize(file.size)}, {byId.get(file.person_id)?.short}, {sayWhen(file.at, now)}
      </span>
      <Menu
        align="end"
        trigger={
          <button type="button" className="text-[12px] text-ink-2 hover:text-ink" aria-label={`More for ${file.name}`}>
            More
          </button>
        }
      >
        <MenuItem onSelect={() => window.location.assign(`/api/files/${file.id}?save=true`)}>Save a copy</MenuItem>
        {canEdit && <MenuItem onSelect={() => orTell(parts.deleteFile(file.id))}>Take away</MenuItem>}
      </Menu>
    </li>
  );
}

function Preview({ file, close }: { file: Attachment; close: () => void }) {
  const address = `/api/files/${file.id}`;
  return (
    <Modal open onOpenChange={close} title={file.name} width={920}>
      {file.media_type.startsWith("image/") ? (
        <img src={address} alt={file.name} className="mx-auto max-h-[70vh]" />
      ) : file.media_type === "application/pdf" ? (
        <iframe src={address} title={file.name} className="h-[70vh] w-full border border-rule" />
      ) : (
        <TextPreview address={address} />
      )}
      <p className="mt-3">
        <a className="font-semibold text-rose underline" href={`${address}?save=true`}>
          Save a copy
        </a>{" "}
        <span className="text-ink-2">{saySize(file.size)}</span>
      </p>
    </Modal>
  );
}

function TextPreview({ address }: { address: string }) {
  const { data, error } = useQuery({
    queryKey: ["file", address],
    queryFn: async () => (await fetch(address)).text(),
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (error) return <p role="alert">The file could not be read. Save a copy instead.</p>;
  return <pre className="max-h-[70vh] overflow-auto bg-band p-3 text-[12px] whitespace-pre-wrap">{data ?? "…"}</pre>;
}

/** Takes files that are dropped on a part of the page or pasted there, where they are not for a text. */
export function useDroppedFiles(
  panel: React.RefObject<HTMLElement | null>,
  add: ((files: Iterable<File>) => void) | null,
) {
  const [over, setOver] = useState(false);
  const latest = useRef(add);
  latest.current = add;
  useEffect(() => {
    const at = panel.current;
    if (!at) return;
    const inText = (event: Event) => (event.target as HTMLElement).closest(".rich-edit");
    const carries = (event: DragEvent) =>
      event.dataTransfer?.types.includes("Files") && latest.current && !inText(event);
    const drag = (event: DragEvent) => {
      if (!carries(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const leave = (event: DragEvent) => {
      if (!at.contains(event.relatedTarget as Node)) setOver(false);
    };
    const drop = (event: DragEvent) => {
      setOver(false);
      if (!carries(event)) return;
      event.preventDefault();
      latest.current?.([...(event.dataTransfer?.files ?? [])]);
    };
    const paste = (event: ClipboardEvent) => {
      const files = [...(event.clipboardData?.files ?? [])];
      if (!files.length || !latest.current || inText(event)) return;
      event.preventDefault();
      latest.current(files);
    };
    at.addEventListener("dragover", drag);
    at.addEventListener("dragleave", leave);
    at.addEventListener("drop", drop);
    at.addEventListener("paste", paste);
    return () => {
      at.removeEventListener("dragover", drag);
      at.removeEventListener("dragleave", leave);
      at.removeEventListener("drop", drop);
      at.removeEventListener("paste", paste);
    };
  }, [panel]);
  return over;
}
