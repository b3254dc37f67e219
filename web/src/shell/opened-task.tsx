/** On pages over all projects: the folio of the task that the address names, and what a change there carries on. */
import { useQuery } from "@tanstack/react-query";
import { Suspense } from "react";
import { projectQuery, useProject } from "../data/hooks";
import { useAddress } from "../parts/use-address";
import { useRipple } from "../schedule/ripple";
import { useChanges } from "../tasks/changes";
import { useRows } from "../tasks/rows";
import { Folio, RippleCard } from "./pages";

/** Which task is open, and a way to open another. */
export function useOpened() {
  const [params, set] = useAddress();
  const code = params.get("in");
  const open = (id: string | null, of: string | null = code) => set({ open: id, in: id && of });
  return { id: params.get("open"), code, open };
}

const nowhere = () => {};

/**
 * Args:
 *   step: opens the task before or behind it, where the page has an order.
 */
export function OpenedTask({ step = nowhere }: { step?: (by: 1 | -1) => void }) {
  const { id, code, open } = useOpened();
  return (
    <>
      {id && code && (
        <Suspense fallback={null}>
          <Opened id={id} code={code} open={open} step={step} />
        </Suspense>
      )}
      <RippleHere />
    </>
  );
}

function Opened({
  id,
  code,
  open,
  step,
}: {
  id: string;
  code: string;
  open: (id: string | null) => void;
  step: (by: 1 | -1) => void;
}) {
  const project = useProject(code);
  const rows = useRows(code);
  const changes = useChanges(code);
  if (!project.data || !rows.data) return null;
  return (
    <Folio
      id={id}
      project={project.data}
      changes={changes}
      openTask={(other) => open(other)}
      step={step}
      close={() => open(null)}
    />
  );
}

/** A change to any project that moves more than what was touched waits here for an answer. */
function RippleHere() {
  const open = useRipple();
  const project = useQuery({ ...projectQuery(open?.code ?? ""), enabled: open !== null });
  if (!open || !project.data) return null;
  return (
    <Suspense fallback={null}>
      <RippleCard key={open.what} open={open} dayMinutes={project.data.day_minutes} />
    </Suspense>
  );
}
