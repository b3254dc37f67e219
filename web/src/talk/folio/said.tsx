/** What was said and changed, the newest first. What is being written is kept until the server has it. */
import { Suspense, useState } from "react";
import { type Project, type Schemas, sentence } from "../../data/api";
import { useMe, usePeople } from "../../data/hooks";
import { Button, Menu, MenuItem } from "../../parts/basics";
import { sayWhen } from "../../parts/format";
import { later } from "../../parts/later";
import { RichView } from "../../parts/rich-text/view";
import { Tile } from "../../parts/tile";
import { Section } from "../../shell/folio/section";
import { type Comment, orTell, type Parts, type Reaction } from "../parts";
import { useKeptText } from "./kept-text";

const RichText = later(() => import("../../parts/rich-text").then((module) => module.default));
const REACTIONS: Reaction[] = ["agree", "thanks", "seen", "unsure"];

type Detail = Schemas["TaskOut"];
type Entry = { at: string; key: string; comment?: Comment; change?: Detail["history"][number] };

export function Said({
  detail,
  project,
  canSay,
  parts,
}: {
  detail: Detail;
  project: Project;
  canSay: boolean;
  parts: Parts;
}) {
  const [only, setOnly] = useState(false);
  const [quoted, setQuoted] = useState<Comment | null>(null);
  const entries: Entry[] = [
    ...detail.comments.map((comment) => ({ at: comment.at, key: comment.id, comment })),
    ...(only ? [] : detail.history.map((change) => ({ at: change.at, key: change.id, change }))),
  ].sort((a, b) => (a.at < b.at ? 1 : a.at > b.at ? -1 : 0));
  const choice = (label: string, on: boolean, set: boolean) => (
    <button
      type="button"
      aria-pressed={on}
      className={on ? "font-semibold text-ink" : "text-ink-2 hover:text-ink"}
      onClick={() => setOnly(set)}
    >
      {label}
    </button>
  );
  return (
    <Section
      title="Said and changed"
      end={
        <span className="flex gap-3">
          {choice("all", !only, false)}
          {choice("said", only, true)}
        </span>
      }
    >
      {canSay && <Writer id={detail.row.id} parts={parts} quoted={quoted} unquote={() => setQuoted(null)} />}
      <ol className="pb-4">
        {entries.map((entry) =>
          entry.comment ? (
            <CommentView
              key={entry.key}
              comment={entry.comment}
              quoted={detail.comments.find((one) => one.id === entry.comment?.quotes_id)}
              project={project}
              canSay={canSay}
              parts={parts}
              quote={setQuoted}
            />
          ) : (
            entry.change && <ChangeLine key={entry.key} change={entry.change} />
          ),
        )}
      </ol>
    </Section>
  );
}

function ChangeLine({ change }: { change: Detail["history"][number] }) {
  const { byId } = usePeople();
  const { now } = useMe();
  return (
    <li className="py-1 pl-9 text-[12px] break-words text-ink-2">
      {byId.get(change.person_id)?.name ?? "Somebody"}: {change.lines.join(", ")}
      <span className="text-ink-3"> · {sayWhen(change.at, now)}</span>
    </li>
  );
}

/** Where one writes; it opens when it is chosen. */
function Writer({
  id,
  parts,
  quoted,
  unquote,
}: {
  id: string;
  parts: Parts;
  quoted: Comment | null;
  unquote: () => void;
}) {
  const { byId } = usePeople();
  const [typed, setTyped] = useKeptText(`comment.${id}`);
  const [open, setOpen] = useState(typed !== null);
  const [round, setRound] = useState(0);
  const [wrong, setWrong] = useState("");
  const [busy, setBusy] = useState(false);
  async function say() {
    if (!typed || busy) return;
    setBusy(true);
    try {
      await parts.say(typed, quoted?.id ?? null);
      setTyped(null);
      setWrong("");
      setOpen(false);
      setRound(round + 1);
      unquote();
    } catch (error) {
      setWrong(sentence(error));
    } finally {
      setBusy(false);
    }
  }
  if (!open && !quoted)
    return (
      <button
        type="button"
        className="mb-2 block h-9 w-full border border-rule-2 px-2.5 text-ink-3 hover:border-ink-3"
        onClick={() => setOpen(true)}
      >
        Say something. @ names a person, # a task
      </button>
    );
  return (
    <div className="mb-3">
      {quoted && (
        <p className="flex items-center gap-2 border-l-[3px] border-rule-2 bg-band px-2 py-1 text-[12px] text-ink-2">
          <span className="min-w-0 flex-1 truncate">
            answering {byId.get(quoted.person_id)?.short}: {plain(quoted.body)}
          </span>
          <button type="button" className="hover:text-ink" aria-label="Answer nobody" onClick={unquote}>
            ×
          </button>
        </p>
      )}
      <Suspense fallback={<div className="h-24 border border-rule-2" />}>
        <RichText
          key={round}
          label="Say something"
          first={typed ?? ""}
          autoFocus
          placeholder="@ names a person, # a task; drop or paste pictures"
          onChange={(html) => setTyped(html || null)}
          onSubmit={say}
          onEscape={() => !typed && setOpen(false)}
          picture={parts.picture}
        />
      </Suspense>
      {wrong && (
        <p role="alert" className="font-semibold text-ember">
          {wrong}
        </p>
      )}
      <div className="mt-1.5 flex items-center gap-2">
        <Button look="go" disabled={!typed || busy} onClick={say}>
          Say it
        </Button>
        <Button
          look="quiet"
          onClick={() => {
            setTyped(null);
            setOpen(false);
            setRound(round + 1);
            unquote();
          }}
        >
          {typed ? "Throw away" : "Close"}
        </Button>
        <span className="text-[11.5px] text-ink-3">Ctrl Enter says it</span>
      </div>
    </div>
  );
}

const plain = (html: string) => {
  const box = document.createElement("template");
  box.innerHTML = html;
  return box.content.textContent ?? "";
};

function CommentView({
  comment,
  quoted,
  project,
  canSay,
  parts,
  quote,
}: {
  comment: Comment;
  quoted: Comment | undefined;
  project: Project;
  canSay: boolean;
  parts: Parts;
  quote: (comment: Comment) => void;
}) {
  const { byId } = usePeople();
  const { person: me, now } = useMe();
  const [folded, setFolded] = useState(true);
  const [rewritten, setRewritten] = useKeptText(`rewrite.${comment.id}`);
  const [wrong, setWrong] = useState("");
  const writer = byId.get(comment.person_id);
  const mine = comment.person_id === me.id;
  async function save() {
    try {
      if (rewritten && rewritten !== comment.body) await parts.editComment(comment.id, { body: rewritten });
      setRewritten(null);
      setWrong("");
    } catch (error) {
      setWrong(sentence(error));
    }
  }
  if (comment.resolved_at && folded)
    return (
      <li className="flex items-center gap-2 py-1.5 text-[12px] text-ink-2">
        <Tile person={writer} size={22} label={false} />
        <span className="min-w-0 flex-1 truncate">
          ✓ resolved by {byId.get(comment.resolved_by ?? "")?.short}: {plain(comment.body)}
        </span>
        <button type="button" className="flex-none text-rose hover:underline" onClick={() => setFolded(false)}>
          show
        </button>
      </li>
    );
  return (
    <li className="flex gap-2.5 py-2">
      <Tile person={writer} size={26} label={false} />
      <div className="min-w-0 flex-1">
        <p className="flex items-baseline gap-2">
          <b className="font-semibold">{writer?.name ?? "Somebody"}</b>
          <span className="text-[12px] text-ink-2">
            {sayWhen(comment.at, now)}
            {comment.edited_at && ", rewritten"}
            {comment.resolved_at && `, resolved by ${byId.get(comment.resolved_by ?? "")?.short}`}
          </span>
        </p>
        {quoted && (
          <p className="my-1 truncate border-l-[3px] border-rule-2 pl-2 text-[12px] text-ink-2">
            {byId.get(quoted.person_id)?.short}: {plain(quoted.body)}
          </p>
        )}
        {rewritten === null ? (
          <RichView html={comment.body} />
        ) : (
          <Suspense fallback={<div className="h-24 border border-rule-2" />}>
            <RichText
              label="Rewrite the comment"
              first={rewritten}
              autoFocus
              onChange={setRewritten}
              onSubmit={save}
              onEscape={save}
              picture={parts.picture}
            />
            {wrong && (
              <p role="alert" className="font-semibold text-ember">
                {wrong}
              </p>
            )}
            <div className="mt-1 flex gap-2">
              <Button look="go" onClick={save}>
                Save
              </Button>
              <Button look="quiet" onClick={() => setRewritten(null)}>
                Put back
              </Button>
            </div>
          </Suspense>
        )}
        <div className="mt-0.5 flex flex-wrap items-center gap-x-3 text-[12px] text-ink-2">
          {REACTIONS.filter((reaction) => comment.reactions[reaction]?.length).map((reaction) => {
            const given = comment.reactions[reaction] ?? [];
            const on = given.includes(me.id);
            return (
              <button
                key={reaction}
                type="button"
                aria-pressed={on}
                disabled={!canSay}
                title={given.map((id) => byId.get(id)?.name).join(", ")}
                className={`border px-1.5 ${on ? "border-rose bg-rose-soft text-ink" : "border-rule-2"}`}
                onClick={() => orTell(parts.editComment(comment.id, { reaction, on: !on }))}
              >
                {reaction} {given.length}
              </button>
            );
          })}
          {canSay && (
            <>
              <Menu
                trigger={
                  <button type="button" className="hover:text-ink">
                    react
                  </button>
                }
              >
                {REACTIONS.map((reaction) => (
                  <MenuItem
                    key={reaction}
                    chosen={comment.reactions[reaction]?.includes(me.id)}
                    onSelect={() =>
                      orTell(
                        parts.editComment(comment.id, { reaction, on: !comment.reactions[reaction]?.includes(me.id) }),
                      )
                    }
                  >
                    {reaction}
                  </MenuItem>
                ))}
              </Menu>
              <button type="button" className="hover:text-ink" onClick={() => quote(comment)}>
                answer
              </button>
              <button
                type="button"
                className="hover:text-ink"
                onClick={() => {
                  setFolded(true);
                  orTell(parts.editComment(comment.id, { resolved: !comment.resolved_at }));
                }}
              >
                {comment.resolved_at ? "open again" : "resolve"}
              </button>
              {mine && rewritten === null && (
                <button type="button" className="hover:text-ink" onClick={() => setRewritten(comment.body)}>
                  rewrite
                </button>
              )}
              {(mine || project.may.includes("manage")) && (
                <button
                  type="button"
                  className="hover:text-ink"
                  onClick={() => orTell(parts.deleteComment(comment.id))}
                >
                  take away
                </button>
              )}
            </>
          )}
        </div>
      </div>
    </li>
  );
}
