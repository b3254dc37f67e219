/** What the reports of a project hold, on which rhythm they are written, and to whom they go. */
import { useState } from "react";
import { type Project, sentence } from "../data/api";
import { Button, Wrong } from "../parts/basics";
import { PeopleChips } from "../parts/people-chips";
import { RhythmField } from "../parts/rhythm";
import { type ReportSettings, type Reports, useReportActions } from "./reports";

export function ReportsSettings({ project, page, done }: { project: Project; page: Reports; done: () => void }) {
  const { settle } = useReportActions(project.code);
  const [typed, setTyped] = useState<ReportSettings>(page.settings);
  const [wrong, setWrong] = useState("");
  const flip = <T,>(list: T[], one: T) => (list.includes(one) ? list.filter((each) => each !== one) : [...list, one]);
  const group = (legend: string, name: "sections" | "indicators", names: Record<string, string>) => (
    <fieldset className="mb-2">
      <legend className="label">{legend}</legend>
      {Object.entries(names).map(([key, words]) => (
        <label key={key} className="mr-4 inline-flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={(typed[name] as string[]).includes(key)}
            onChange={() => setTyped({ ...typed, [name]: flip(typed[name] as string[], key) })}
          />
          {words}
        </label>
      ))}
    </fieldset>
  );
  return (
    <form
      aria-label="What reports hold"
      className="mb-4 border-l-[3px] border-rose bg-rose-soft p-3"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        settle(typed).then(done, (error) => setWrong(sentence(error)));
      }}
    >
      {group("Sections", "sections", page.sections)}
      {group("Indicators", "indicators", page.indicators)}
      <div className="mb-2 w-44">
        <RhythmField
          label="Reminder of the lead"
          value={typed.rhythm}
          set={(rhythm) => setTyped({ ...typed, rhythm })}
        />
      </div>
      <p className="mb-2 flex flex-wrap items-center gap-1.5">
        <span className="text-ink-2">Always go to</span>
        <PeopleChips
          people={typed.people}
          set={(people) => setTyped({ ...typed, people })}
          without={(name) => `Send them to ${name} no more`}
          add="Send them to somebody"
          more="+ somebody"
        />
      </p>
      <Wrong text={wrong} />
      <div className="flex gap-2">
        <Button look="go" type="submit">
          Save
        </Button>
        <Button look="quiet" onClick={done}>
          Leave it as it is
        </Button>
      </div>
    </form>
  );
}
