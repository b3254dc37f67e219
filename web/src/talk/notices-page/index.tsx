/** Notices: what is new, grouped by task, each with why it reaches one; and what goes out by mail. */
import { useState } from "react";
import { Link } from "react-router";
import { sentence } from "../../data/api";
import { useMe, usePeople } from "../../data/hooks";
import { note } from "../../data/notes";
import { Button, Empty, Failed, Loading } from "../../parts/basics";
import { count, sayWhen } from "../../parts/format";
import { Select } from "../../parts/select";
import { Tile } from "../../parts/tile";
import { type Preferences, usePreferences, useSetPreferences } from "../../people/preferences";
import { SheetBar } from "../../shell/sheet-bar";
import { TitleLine } from "../../shell/title-line";
import { type Notice, type NoticeGroup, useMarkRead, useNotices, useUnread } from "../notices";
import { orTell, useParts } from "../parts";

const WHY: Record<string, string> = {
  owner: "you own it",
  helper: "you help",
  writer: "you wrote on it",
  follower: "you follow it",
  named: "you are named",
};

export default function Notices() {
  const [all, setAll] = useState(false);
  const { data, error, refetch } = useNotices(!all);
  const unread = useUnread();
  const mark = useMarkRead();
  return (
    <>
      <TitleLine title="Notices">
        <span>{unread ? `${count(unread, "notice")} not read` : "All is read"}</span>
      </TitleLine>
      <div className="flex min-h-0 flex-1 flex-col gap-x-10 overflow-auto border-t border-rule bg-sheet px-3 sm:px-[18px] lg:flex-row">
        <section className="min-w-0 flex-1 py-3" aria-label="What is new">
          <div className="mb-2 flex items-center gap-2">
            <Show label="not read" on={!all} set={() => setAll(false)} />
            <Show label="all" on={all} set={() => setAll(true)} />
            {unread > 0 && (
              <Button look="quiet" className="ml-auto" onClick={() => orTell(mark(null))}>
                Mark all as read
              </Button>
            )}
          </div>
          {error ? (
            <Failed error={error} retry={refetch} />
          ) : !data ? (
            <Loading what="the notices" />
          ) : data.groups.length ? (
            data.groups.map((group) => (
              <Group key={`${group.code}${group.task_id}${group.goal_id}`} group={group} mark={mark} />
            ))
          ) : (
            <Empty title={all ? "Nothing has reached you yet" : "You have read everything"}>
              Here you are told what happens to the tasks that you own, help with, wrote on or follow, and where
              somebody names you.
            </Empty>
          )}
        </section>
        {data && <Mail kinds={data.kinds} />}
      </div>
      <SheetBar sheets={[{ to: "/notices", name: "Notices" }]} current="Notices" />
    </>
  );
}

function Show({ label, on, set }: { label: string; on: boolean; set: () => void }) {
  return (
    <button
      type="button"
      aria-pressed={on}
      className={`h-7 border px-2.5 ${on ? "border-ink font-semibold" : "border-rule-2 text-ink-2 hover:border-ink"}`}
      onClick={set}
    >
      {label}
    </button>
  );
}

type Mark = ReturnType<typeof useMarkRead>;

function Group({ group, mark }: { group: NoticeGroup; mark: Mark }) {
  const parts = useParts(group.code ?? "", group.task_id ?? "");
  const fresh = group.notices.filter((one) => !one.read).map((one) => one.id);
  const to = group.goal_id
    ? `/goals?open=${group.goal_id}`
    : group.task_id
      ? `/p/${group.code}/outline?open=${group.task_id}`
      : `/p/${group.code}/${group.notices.every((one) => one.kind.startsWith("report")) ? "reports" : "outline"}`;
  return (
    <article className="border-b border-rule-2 py-2.5">
      <div className="flex items-baseline gap-2">
        <Link
          to={to}
          className={`min-w-0 truncate hover:underline ${fresh.length ? "font-semibold" : "text-ink-2"}`}
          onClick={() => fresh.length && orTell(mark(fresh))}
        >
          {group.title ?? group.project}
        </Link>
        <span className="flex-none text-[12px] text-ink-2">
          {group.goal_id ? "a goal" : `${group.code} ${group.number ?? ""}`}
        </span>
        <span className="ml-auto flex flex-none gap-3 text-[12px] text-ink-2">
          {group.task_id && (
            <button
              type="button"
              className="hover:text-ink"
              onClick={() => orTell(parts.follow("muted").then(() => note(`“${group.title}” is muted.`)))}
            >
              mute
            </button>
          )}
          {fresh.length > 0 && (
            <button type="button" className="hover:text-ink" onClick={() => orTell(mark(fresh))}>
              mark as read
            </button>
          )}
        </span>
      </div>
      <ul>
        {group.notices.map((one) => (
          <Line key={one.id} one={one} mark={mark} />
        ))}
      </ul>
    </article>
  );
}

function Line({ one, mark }: { one: Notice; mark: Mark }) {
  const { byId } = usePeople();
  const { now } = useMe();
  return (
    <li className="flex items-start gap-2 py-1">
      <button
        type="button"
        aria-label={one.read ? "Mark as not read" : "Mark as read"}
        title={one.read ? "Mark as not read" : "Mark as read"}
        className="mt-[5px] grid size-4 flex-none place-items-center"
        onClick={() => orTell(mark([one.id], !one.read))}
      >
        <span className={`size-2 rotate-45 border ${one.read ? "border-rule-2" : "border-rose bg-rose"}`} />
      </button>
      <Tile person={byId.get(one.by_id)} size={20} label={false} />
      <p className={`min-w-0 flex-1 break-words ${one.read ? "text-ink-2" : ""}`}>
        <b className="font-semibold">{byId.get(one.by_id)?.short ?? "Somebody"}</b> {one.words}
        <span className="text-[12px] text-ink-2">
          {" "}
          · {sayWhen(one.at, now)} · {WHY[one.reason]}
        </span>
      </p>
    </li>
  );
}

const HOW: [string, string][] = [
  ["none", "only here"],
  ["daily", "daily"],
  ["at_once", "at once"],
];

/** By kind whether a notice also goes out by mail. */
function Mail({ kinds }: { kinds: Record<string, string> }) {
  const wishes = usePreferences();
  const set = useSetPreferences();
  const change = (body: Partial<Preferences>) => set(body).catch((error) => note(sentence(error), "wrong"));
  return (
    <section aria-label="By mail" className="py-3 lg:w-[400px] lg:flex-none">
      <h2 className="text-[17px]">By mail</h2>
      <p className="mb-2 text-ink-2">Every notice stands here. What also goes out to you by mail:</p>
      <dl>
        {Object.entries(kinds).map(([kind, words]) => {
          const now = wishes.mail[kind] ?? "none";
          return (
            <div key={kind} className="flex min-h-9 items-center gap-3 border-b border-rule">
              <dt className="min-w-0 flex-1 leading-tight">{words}</dt>
              <dd>
                <Select
                  aria-label={`By mail: ${words}`}
                  value={now}
                  onChange={(event) => change({ mail: { [kind]: event.target.value } })}
                >
                  {HOW.map(([value, label]) => (
                    <option key={value} value={value}>
                      {label}
                    </option>
                  ))}
                </Select>
              </dd>
            </div>
          );
        })}
      </dl>
      <label className="mt-2 flex items-center gap-2">
        The daily mail goes out at
        <Select value={wishes.digest_hour} onChange={(event) => change({ digest_hour: Number(event.target.value) })}>
          {Array.from({ length: 24 }, (_, hour) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: the hours of a day stand still
            <option key={hour} value={hour}>
              {String(hour).padStart(2, "0")}:00
            </option>
          ))}
        </Select>
      </label>
    </section>
  );
}
