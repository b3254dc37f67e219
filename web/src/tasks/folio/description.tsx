/** The description: read until it is chosen, then written in place. What is typed is kept until the server has it. */
import { Suspense, useRef, useState } from "react";
import { sentence } from "../../data/api";
import { Button } from "../../parts/basics";
import { later } from "../../parts/later";
import { RichView } from "../../parts/rich-text/view";
import { Section } from "../../shell/folio/section";
import { useKeptText } from "../../talk/folio/kept-text";
import type { Parts } from "../../talk/parts";
import type { EditField } from "./cell";
import { ProposeDescription } from "./proposals";

const RichText = later(() => import("../../parts/rich-text").then((module) => module.default));

export function Description({
  id,
  text,
  canEdit,
  edit,
  parts,
}: {
  id: string;
  text: string;
  canEdit: boolean;
  edit: EditField;
  parts: Parts;
}) {
  const [typed, setTyped] = useKeptText(`description.${id}`);
  const [writing, setWriting] = useState(false);
  const [drafting, setDrafting] = useState(false);
  const [wrong, setWrong] = useState("");
  const saving = useRef(false);
  const unsaved = typed !== null && typed !== text;
  async function save() {
    if (saving.current) return;
    if (!unsaved || typed === null) {
      setTyped(null);
      return setWriting(false);
    }
    saving.current = true;
    try {
      await edit("Description", { description: typed });
      setTyped(null);
      setWriting(false);
      setWrong("");
    } catch (error) {
      setWrong(sentence(error));
    } finally {
      saving.current = false;
    }
  }
  if (!canEdit && !text) return null;
  return (
    <Section
      title="Description"
      end={
        canEdit && !writing ? (
          <span className="flex gap-3">
            <button type="button" className="text-ink-2 hover:text-ink" onClick={() => setDrafting(true)}>
              Draft it
            </button>
            <button type="button" className="text-rose hover:underline" onClick={() => setWriting(true)}>
              {text || unsaved ? "Rewrite" : "Describe"}
            </button>
          </span>
        ) : undefined
      }
    >
      {unsaved && !writing && (
        <p className="mb-1 bg-ochre-soft px-2 py-1">
          What you wrote here is not saved yet.{" "}
          <button type="button" className="font-semibold underline" onClick={() => setWriting(true)}>
            Go on with it
          </button>{" "}
          <button type="button" className="underline" onClick={() => setTyped(null)}>
            Throw it away
          </button>
        </p>
      )}
      {writing ? (
        <Suspense fallback={<div className="h-24 border border-rule-2" />}>
          <RichText
            label="Description"
            first={typed ?? text}
            autoFocus
            placeholder="What has to be done, and how it can be seen to be finished. @ names a person, # a task"
            onChange={setTyped}
            onSubmit={save}
            onEscape={save}
            picture={parts.picture}
          />
          <div className="mt-1.5 flex items-center gap-2">
            <Button look="go" onClick={save}>
              Save
            </Button>
            <Button
              look="quiet"
              onClick={() => {
                setTyped(null);
                setWriting(false);
              }}
            >
              Put back
            </Button>
            <span className="text-[11.5px] text-ink-3">Ctrl Enter saves</span>
          </div>
        </Suspense>
      ) : text ? (
        <RichView html={text} />
      ) : (
        !unsaved && <p className="text-ink-3">Nothing is written yet.</p>
      )}
      {drafting && (
        <ProposeDescription
          id={id}
          close={() => setDrafting(false)}
          insert={(html) => {
            setTyped(`${typed ?? text}${html}`);
            setWriting(true);
          }}
        />
      )}
      {wrong && (
        <p role="alert" className="font-semibold text-ember">
          {wrong}
        </p>
      )}
    </Section>
  );
}
