/** The grid of a dashboard: panels in order, so many columns wide and rows high; drawn elsewhere and resized by pointer and keys. */
import {
  closestCenter,
  DndContext,
  DragOverlay,
  PointerSensor,
  pointerWithin,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { GripVertical, MoveDiagonal2 } from "lucide-react";
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import { orTell } from "../../data/notes";
import { Failed } from "../../parts/basics";
import { type Dashboard, type Panel, type PanelAnswer, useDashboardActions } from "./dashboards";
import { kindOf } from "./kinds";
import { PanelFrame } from "./panel";

const COLUMNS = 12;
const ROW = 38;
const [LEAST, MOST_HEIGHT] = [2, 24];
interface Size {
  width: number;
  height: number;
}

const within = (value: number, least: number, most: number) => Math.max(least, Math.min(most, value));

interface Props {
  dashboard: Dashboard;
  answers: Map<string, PanelAnswer> | undefined;
  failed: Error | null;
  arranging?: boolean;
  /** opens a panel to change it; none for who may not */
  edit?: (panel: Panel) => void;
}

export function Grid({ dashboard, answers, failed, arranging = false, edit }: Props) {
  const actions = useDashboardActions();
  const grid = useRef<HTMLDivElement>(null);
  const [dragged, setDragged] = useState<string | null>(null);
  const [sized, setSized] = useState<{ id: string; size: Size } | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  const { panels } = dashboard;

  /** Let a panel stand at another place of the order. */
  function put(panel: Panel, to: number) {
    const others = panels.filter((one) => one.id !== panel.id);
    const after_id = others[within(to, 0, others.length) - 1]?.id ?? null;
    if (panels[panels.indexOf(panel) - 1]?.id === after_id || (after_id === null && panels[0] === panel)) return;
    orTell(actions.editPanel(dashboard.id, panel.id, { version: panel.version, after_id }));
  }

  function resize(panel: Panel, size: Size) {
    setSized(null);
    if (size.width === panel.width && size.height === panel.height) return;
    orTell(actions.editPanel(dashboard.id, panel.id, { version: panel.version, ...size }));
  }

  /** The size of a panel while its corner is drawn. */
  function draw(panel: Panel, from: PointerEvent<HTMLButtonElement>) {
    const cell = (grid.current?.clientWidth ?? 1200) / COLUMNS;
    const [x, y] = [from.clientX, from.clientY];
    const corner = from.currentTarget;
    corner.setPointerCapture(from.pointerId);
    let size: Size = panel;
    const move = (event: globalThis.PointerEvent) => {
      size = {
        width: within(panel.width + Math.round((event.clientX - x) / cell), LEAST, COLUMNS),
        height: within(panel.height + Math.round((event.clientY - y) / ROW), LEAST, MOST_HEIGHT),
      };
      setSized({ id: panel.id, size });
    };
    const done = () => {
      corner.removeEventListener("pointermove", move);
      corner.removeEventListener("pointerup", done);
      corner.removeEventListener("pointercancel", done);
      resize(panel, { width: size.width, height: size.height });
    };
    corner.addEventListener("pointermove", move);
    corner.addEventListener("pointerup", done);
    corner.addEventListener("pointercancel", done);
  }

  const moving = panels.find((one) => one.id === dragged);
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={(args) => {
        const hit = pointerWithin(args);
        return hit.length ? hit : closestCenter(args);
      }}
      onDragStart={({ active }) => setDragged(String(active.id))}
      onDragCancel={() => setDragged(null)}
      onDragEnd={({ active, over }) => {
        setDragged(null);
        const panel = panels.find((one) => one.id === active.id);
        const to = panels.findIndex((one) => one.id === over?.id);
        if (panel && to >= 0) put(panel, to);
      }}
    >
      <div ref={grid} className="grid auto-rows-[minmax(38px,auto)] grid-cols-12 max-md:block md:auto-rows-[38px]">
        {panels.map((panel, index) => (
          <Cell
            key={panel.id}
            panel={panel}
            size={sized?.id === panel.id ? sized.size : panel}
            arranging={arranging}
            dragged={dragged}
            keys={(event) => {
              const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
              if (!by) return;
              event.preventDefault();
              const [x = 0, y = 0] = by;
              if (event.shiftKey)
                resize(panel, {
                  width: within(panel.width + x, LEAST, COLUMNS),
                  height: within(panel.height + y, LEAST, MOST_HEIGHT),
                });
              else put(panel, index + x + y);
            }}
            draw={(event) => draw(panel, event)}
          >
            {failed ? (
              <Failed error={failed} />
            ) : (
              <PanelFrame dashboard={dashboard} panel={panel} answer={answers?.get(panel.id)} edit={edit} />
            )}
          </Cell>
        ))}
      </div>
      <DragOverlay dropAnimation={null}>
        {moving && (
          <div className="cut-10 border border-ink bg-sheet px-3 py-2 font-semibold">
            {moving.title || kindOf(moving.kind).name}
          </div>
        )}
      </DragOverlay>
    </DndContext>
  );
}

interface CellProps {
  panel: Panel;
  size: Size;
  arranging: boolean;
  dragged: string | null;
  keys: (event: KeyboardEvent) => void;
  draw: (event: PointerEvent<HTMLButtonElement>) => void;
  children: React.ReactNode;
}

function Cell({ panel, size, arranging, dragged, keys, draw, children }: CellProps) {
  const drop = useDroppable({ id: panel.id, disabled: !arranging });
  const drag = useDraggable({ id: panel.id, disabled: !arranging });
  const name = panel.title || kindOf(panel.kind).name;
  return (
    <section
      ref={drop.setNodeRef}
      aria-label={name}
      data-panel={panel.id}
      className={`relative flex min-h-0 min-w-0 flex-col overflow-hidden border-r border-b border-rule-2 bg-sheet max-md:max-h-[460px] ${
        drop.isOver && dragged !== panel.id ? "shadow-[inset_3px_0_0_var(--color-rose)]" : ""
      } ${dragged === panel.id ? "opacity-40" : ""}`}
      style={{ gridColumn: `span ${size.width}`, gridRow: `span ${size.height}` }}
    >
      {children}
      {arranging && (
        <>
          <button
            type="button"
            ref={drag.setNodeRef}
            {...drag.listeners}
            onKeyDown={keys}
            aria-label={`Move ${name}: arrow keys move it, with Shift they resize it. It is ${size.width} columns wide and ${size.height} rows high`}
            title="Draw it elsewhere. Arrow keys move it, with Shift they resize it."
            className="absolute top-1.5 right-1.5 z-10 grid size-7 cursor-grab touch-none place-items-center border border-rule-2 bg-sheet text-ink-2 hover:border-ink hover:text-ink"
          >
            <GripVertical size={15} aria-hidden="true" />
          </button>
          <button
            type="button"
            tabIndex={-1}
            aria-hidden="true"
            title="Draw it larger or smaller"
            onPointerDown={draw}
            className="absolute right-0 bottom-0 z-10 grid size-6 cursor-nwse-resize touch-none place-items-center bg-sheet text-ink-2 hover:text-ink"
          >
            <MoveDiagonal2 size={14} aria-hidden="true" />
          </button>
        </>
      )}
    </section>
  );
}
