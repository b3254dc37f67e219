/** A panel that is added or changed: a sentence says what it shows, and beside it stands what that is now. */
import { Suspense, useMemo, useState } from "react";
import { sentence } from "../../data/api";
import { Button, Field, Modal, Wrong } from "../../parts/basics";
import { later } from "../../parts/later";
import { useSettled } from "../../parts/use-settled";
import type { Scope } from "../../views/scope";
import { ScopeSentence } from "../../views/scope-sentence";
import { ALL_PROJECTS, useCatalogue } from "../../views/view";
import { type Dashboard, type Options, type Panel, type PanelNew, useDashboardActions, useTried } from "./dashboards";
import { hasSentence, kindOf } from "./kinds";
import { Content } from "./panel";
import { Words } from "./panel-words";
import type { Change } from "./word-choices";

const RichText = later(() => import("../../parts/rich-text").then((module) => module.default));

const isKept = (panel: Panel | PanelNew): panel is Panel => "version" in panel;

export function PanelForm({
  dashboard,
  panel,
  close,
}: {
  dashboard: Dashboard;
  panel: Panel | PanelNew;
  close: () => void;
}) {
  const actions = useDashboardActions();
  const catalogue = useCatalogue(ALL_PROJECTS.code);
  const [title, setTitle] = useState(panel.title ?? "");
  const [scope, setScope] = useState(panel.scope as Scope);
  const [options, setOptions] = useState(panel.options as Options);
  const [wrong, setWrong] = useState("");
  const [sending, setSending] = useState(false);
  const change: Change = (part) => setOptions((now) => ({ ...now, ...part }));
  const kind = kindOf(panel.kind);
  const now = useMemo(
    () =>
      ({
        kind: panel.kind,
        title,
        scope,
        options,
        width: panel.width,
        height: panel.height,
        after_id: "end",
      }) as PanelNew,
    [panel, title, scope, options],
  );
  const tried = useSettled(now, 250);
  const preview = useTried(dashboard.id, tried, panel.kind !== "text");
  async function save() {
    setSending(true);
    try {
      const body = { title, scope, options };
      if (isKept(panel)) await actions.editPanel(dashboard.id, panel.id, { version: panel.version, ...body });
      else await actions.addPanel(dashboard.id, { ...panel, ...body } as PanelNew);
      close();
    } catch (error) {
      setWrong(sentence(error));
      setSending(false);
    }
  }
  const parts = catalogue.data && { options, change, catalogue: catalogue.data };
  return (
    <Modal
      open
      onOpenChange={close}
      title={isKept(panel) ? `The panel ${panel.title || kind.name}` : `Add: ${kind.name}`}
      width={760}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          event.stopPropagation();
          save();
        }}
      >
        <Field label="Title" hint={`Without one it is called ${kind.name}.`}>
          <input
            className="input w-full"
            maxLength={120}
            value={title}
            onChange={(event) => setTitle(event.target.value)}
          />
        </Field>
        {panel.kind === "text" ? (
          <div className="mb-3">
            <span className="label">Text</span>
            <Suspense fallback={null}>
              <RichText
                label="Text"
                first={options.text}
                onChange={(text) => change({ text })}
                onSubmit={() => undefined}
                picture={() => Promise.reject(new Error("Pictures are attached to tasks. Put a link here."))}
              />
            </Suspense>
          </div>
        ) : (
          <>
            <div className="mb-2 text-[14px] leading-7 text-ink-2" role="group" aria-label="What it shows">
              {parts && <Words kind={panel.kind} {...parts} />}
            </div>
            {hasSentence(panel.kind) && (
              <ScopeSentence
                project={ALL_PROJECTS}
                held={[scope, (part) => setScope((now) => ({ ...now, ...part }))]}
                lead="for"
                label="For which work"
                className="mb-3"
              />
            )}
            <section
              aria-label="As it stands now"
              className="@container h-[250px] overflow-auto border border-rule-2 p-3"
            >
              {preview.error ? (
                <p className="font-semibold text-ember">{sentence(preview.error)}</p>
              ) : (
                <Content answer={preview.data} panel={{ kind: panel.kind, options }} asTable={false} />
              )}
            </section>
          </>
        )}
        <Wrong text={wrong} />
        <div className="mt-3 flex gap-2">
          <Button look="go" type="submit" disabled={sending}>
            {isKept(panel) ? "Save" : "Put it on the dashboard"}
          </Button>
          <Button look="quiet" onClick={close}>
            Put back
          </Button>
        </div>
      </form>
    </Modal>
  );
}
