/** Who follows a task and why; follow it, leave it, mute it. */
import type { Schemas } from "../../data/api";
import { useMe, usePeople } from "../../data/hooks";
import { Pop } from "../../parts/basics";
import { Tile } from "../../parts/tile";
import { orTell, type Parts } from "../parts";

const WHY: Record<string, string> = {
  owner: "owns it",
  helper: "helps",
  writer: "wrote on it",
  follower: "follows",
};

export function Followers({ detail, parts }: { detail: Schemas["TaskOut"]; parts: Parts }) {
  const { byId } = usePeople();
  const { person: me } = useMe();
  const mine = detail.followers.find((one) => one.person_id === me.id);
  const muted = detail.following === "muted";
  const bound = mine?.reason === "owner" || mine?.reason === "helper";
  const step = "block w-full px-2 py-1 text-left font-semibold text-rose hover:bg-rose-soft";
  return (
    <Pop
      label="Who follows this task"
      align="end"
      trigger={
        <button type="button" className="whitespace-nowrap hover:text-ink">
          {detail.followers.length ? `followed by ${detail.followers.length}` : "follow"}
          {muted && ", muted"}
        </button>
      }
    >
      <div className="w-60">
        {detail.followers.map((one) => (
          <p key={one.person_id} className="flex min-h-7 items-center gap-2 px-2">
            <Tile person={byId.get(one.person_id)} size={20} label={false} />
            <span className="min-w-0 flex-1 truncate">{byId.get(one.person_id)?.name}</span>
            <span className="text-[12px] text-ink-2">{WHY[one.reason]}</span>
          </p>
        ))}
        {!detail.followers.length && <p className="px-2 py-1 text-ink-2">Nobody follows it.</p>}
        <hr className="my-1 border-rule" />
        {!mine && (
          <button type="button" className={step} onClick={() => orTell(parts.follow("follows"))}>
            Follow it
          </button>
        )}
        {mine && !bound && (
          <button type="button" className={step} onClick={() => orTell(parts.follow("left"))}>
            Follow it no longer
          </button>
        )}
        {mine && (
          <button type="button" className={step} onClick={() => orTell(parts.follow(muted ? null : "muted"))}>
            {muted ? "Tell me of it again" : "Mute it: tell me only when I am named"}
          </button>
        )}
      </div>
    </Pop>
  );
}
