/** The words of a sentence for kinds, owners and states. */
import { useMe, usePeople, useTeams } from "../data/hooks";
import { kinds, stateClasses } from "../data/vocabulary";
import { Tick } from "../parts/basics";
import { Tile } from "../parts/tile";
import { kindName } from "../tasks/custom-fields";
import type { Scope } from "./scope";
import type { Ground } from "./view";
import { Word } from "./word";

export interface WordProps {
  scope: Scope;
  change: (part: Partial<Scope>) => void;
  project: Ground;
}

const listed = (words: string[]) =>
  words.length > 1 ? `${words.slice(0, -1).join(", ")} or ${words.at(-1)}` : (words[0] ?? "");

function toggle(list: string[], value: string, on: boolean) {
  return on ? [...list, value] : list.filter((one) => one !== value);
}

export function KindWord({ scope, change, project }: WordProps) {
  const said = scope.kind.length
    ? listed(scope.kind.map((kind) => kinds().find((one) => one.id === kind)?.plural ?? kindName(project, kind)))
    : "all work";
  return (
    <Word
      label="Kinds shown"
      chooser={
        <>
          <Tick checked={!scope.kind.length} onChange={() => change({ kind: [] })}>
            all work
          </Tick>
          {[...kinds().map(({ id, plural }) => ({ id, name: plural })), ...project.kinds].map(({ id, name }) => (
            <Tick
              key={id}
              checked={scope.kind.includes(id)}
              onChange={(on) => change({ kind: toggle(scope.kind, id, on) })}
            >
              {name}
            </Tick>
          ))}
        </>
      }
    >
      {said}
    </Word>
  );
}

export function OwnerWord({ scope, change, project }: WordProps) {
  const me = useMe();
  const { active, byId } = usePeople();
  const teams = useTeams();
  const words = new Map([
    ["me", "me"],
    ["my_team", "my team"],
    ["nobody", "nobody"],
    ...teams.map((team): [string, string] => [team.id, team.name]),
  ]);
  const name = (id: string) => words.get(id) ?? byId.get(id)?.short ?? "somebody";
  const inTeam = teams.some((team) => team.people.includes(me.person.id));
  const members = active
    .filter((person) => person.id !== me.person.id)
    .sort((a, b) => Number(b.id in project.members) - Number(a.id in project.members) || a.name.localeCompare(b.name));
  return (
    <Word
      label="Owners shown"
      chooser={
        <>
          <Tick checked={!scope.owner.length} onChange={() => change({ owner: [] })}>
            anyone
          </Tick>
          {[...words]
            .filter(([id]) => id !== "my_team" || inTeam)
            .map(([id, word]) => (
              <Tick
                key={id}
                checked={scope.owner.includes(id)}
                onChange={(on) => change({ owner: toggle(scope.owner, id, on) })}
              >
                {word}
              </Tick>
            ))}
          {members.map((person) => (
            <Tick
              key={person.id}
              checked={scope.owner.includes(person.id)}
              onChange={(on) => change({ owner: toggle(scope.owner, person.id, on) })}
            >
              <Tile person={person} size={18} label={false} /> {person.name}
            </Tick>
          ))}
        </>
      }
    >
      {scope.owner.length ? listed(scope.owner.map(name)) : "anyone"}
    </Word>
  );
}

export function StateWord({ scope, change, project }: WordProps) {
  const open =
    scope.state_class.length === 2 && scope.state_class.includes("queued") && scope.state_class.includes("active");
  const names = scope.state.map((id) => project.states.find((state) => state.id === id)?.label ?? "a deleted state");
  const said = open && !names.length ? "not finished" : listed([...scope.state_class, ...names]) || "in any state";
  return (
    <Word
      label="States shown"
      chooser={
        <>
          <Tick
            checked={!scope.state.length && !scope.state_class.length}
            onChange={() => change({ state: [], state_class: [] })}
          >
            in any state
          </Tick>
          <Tick checked={open} onChange={(on) => change({ state: [], state_class: on ? ["queued", "active"] : [] })}>
            not finished
          </Tick>
          <p className="px-2 pt-1.5 text-[12px] text-ink-3">by class</p>
          {stateClasses().map((one) => (
            <Tick
              key={one}
              checked={scope.state_class.includes(one)}
              onChange={(on) => change({ state: [], state_class: toggle(scope.state_class, one, on) })}
            >
              {one}
            </Tick>
          ))}
          {project.states.length > 0 && <p className="px-2 pt-1.5 text-[12px] text-ink-3">by state</p>}
          {project.states.map((state) => (
            <Tick
              key={state.id}
              checked={scope.state.includes(state.id)}
              onChange={(on) => change({ state_class: [], state: toggle(scope.state, state.id, on) })}
            >
              {state.label}
            </Tick>
          ))}
        </>
      }
    >
      {said}
    </Word>
  );
}
