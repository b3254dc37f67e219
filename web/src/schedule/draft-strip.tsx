/** The strip over a draft: that this is not the plan, how it differs, and what can be done with it. */
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { type Project, sentence } from "../data/api";
import { may, useMe, usePeople } from "../data/hooks";
import { note } from "../data/notes";
import { Button, Menu, MenuItem, MenuLine } from "../parts/basics";
import { count, sayDay, sayFull, sayMove } from "../parts/format";
import { TextField } from "../parts/text-field";
import type { Changes } from "../tasks/changes";
import { type DraftComparison, useDraftChanges } from "./draft";

interface Props {
  project: Project;
  changes: Changes;
  comparison: DraftComparison;
}

export function DraftStrip({ project, changes, comparison }: Props) {
  const { draft } = comparison;
  const { byId } = usePeople();
  const navigate = useNavigate();
  const { lens } = useParams();
  const [, setParams] = useSearchParams();
  const { start, edit, remove, restore } = useDraftChanges(project.code);
  const open = (id: string | null) =>
    setParams((now) => {
      const next = new URLSearchParams(now);
      if (id) next.set("draft", id);
      else next.delete("draft");
      return next;
    });
  const tell = (error: unknown) => note(sentence(error), "wrong");
  const link = `${location.origin}/p/${project.code}/schedule?draft=${draft.id}`;
  async function share() {
    try {
      await edit(draft.id, { shared: !draft.shared });
      note(draft.shared ? "Only you see this draft now" : "Everybody who sees the project can open this draft now");
    } catch (error) {
      tell(error);
    }
  }
  async function copyLink() {
    try {
      await navigator.clipboard.writeText(link);
      note("The link to the draft is copied");
    } catch {
      note(`The browser does not let the link be copied. It is ${link}`, "wrong");
    }
  }
  return (
    <section
      aria-label="Draft"
      className="flex flex-none flex-wrap items-center gap-x-4 gap-y-1 border-b border-rose-mid bg-rose-soft px-3 py-1 sm:px-[18px]"
    >
      <span className="flex min-w-0 items-center gap-1.5">
        <span className="font-semibold text-rose">What if</span>
        {draft.mine ? (
          <TextField
            value={draft.name}
            label="Name of the draft"
            className="w-[230px] px-1.5 font-semibold"
            onSave={async (name) => {
              await edit(draft.id, { name });
            }}
          />
        ) : (
          <b className="truncate font-semibold">{draft.name}</b>
        )}
      </span>
      <Standing project={project} comparison={comparison} />
      <span className="ml-auto flex flex-wrap items-center gap-1.5">
        {!draft.mine && <span className="text-ink-2">{byId.get(draft.person_id)?.short ?? "Somebody"} made this</span>}
        {draft.shared && draft.mine && <span className="text-ink-2">shared</span>}
        <Link
          to={`/p/${project.code}/compare?draft=${draft.id}`}
          className="px-1.5 font-semibold underline decoration-rose-mid"
        >
          Side by side
        </Link>
        {may(project, "edit") && draft.mine && (
          <Button
            look="go"
            className="h-7"
            disabled={!draft.changes}
            onClick={async () => {
              if (await changes.applyDraft(draft.id, draft.name)) open(null);
            }}
          >
            Apply to the plan
          </Button>
        )}
        <Menu align="end" trigger={<Button className="h-7 bg-transparent">More</Button>}>
          {draft.mine && (
            <MenuItem onSelect={share}>{draft.shared ? "Keep it to myself" : "Share with the project"}</MenuItem>
          )}
          {draft.shared && <MenuItem onSelect={copyLink}>Copy the link</MenuItem>}
          <MenuItem onSelect={() => start(`${draft.name}, again`, draft.id).then((made) => open(made.id), tell)}>
            Make a copy
          </MenuItem>
          {(draft.mine || may(project, "manage")) && (
            <>
              <MenuLine />
              <MenuItem
                onSelect={() =>
                  remove(draft.id).then((change) => {
                    open(null);
                    const back = () => restore(change).then(() => open(draft.id), tell);
                    note(`Thrown away: ${draft.name}`, "plain", { label: "Take it back", run: back });
                  }, tell)
                }
              >
                Throw it away
              </MenuItem>
            </>
          )}
        </Menu>
        <Button
          look="quiet"
          className="h-7"
          onClick={() => (lens === "compare" ? navigate(`/p/${project.code}/planning`) : open(null))}
        >
          Back to the plan
        </Button>
      </span>
    </section>
  );
}

/** How a draft stands beside the plan, in a sentence. */
function Standing({ project, comparison }: Omit<Props, "changes">) {
  const { now } = useMe();
  const { ripple, draft, minutes, differences } = comparison;
  if (!draft.changes)
    return (
      <span className="text-ink-2">
        {draft.mine ? "Change anything: the plan stays as it is" : "It changes nothing yet"}
      </span>
    );
  return (
    <span>
      {count(draft.changes, "task")} changed, {count(differences.length, "moves", "move")};{" "}
      {minutes === 0 ? (
        "the project finishes as planned"
      ) : (
        <>
          finish{" "}
          <b className="font-semibold" title={sayFull(ripple.finish)}>
            {sayDay(ripple.finish, now)}
          </b>
          , in the plan {sayDay(ripple.finish_before, now)} ({sayMove(minutes, project.day_minutes)})
        </>
      )}
    </span>
  );
}
