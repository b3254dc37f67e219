/**
 * Dragging slips with the pointer. Nothing is drawn anew while a slip is dragged: its picture follows the pointer, a line
 * stands where it would come to lie, and the cell below is marked, all in the page itself. So a board of thousands of slips
 * follows as quickly as one of ten.
 */
import { type RefObject, useEffect, useRef } from "react";

interface Target {
  cell: string;
  before: string | null;
}

interface Dragging {
  can: (id: string) => boolean;
  put: (id: string, cell: string, before: string | null) => void;
}

const FAR = 5;
const HOLD = 260;
const EDGE = 48;

/** Lets the slips within an element be dragged from cell to cell. */
export function useSlipDrag(board: RefObject<HTMLElement | null>, dragging: Dragging, ready: boolean) {
  const now = useRef(dragging);
  useEffect(() => {
    now.current = dragging;
  });
  useEffect(() => {
    const element = board.current;
    if (!ready || !element) return;
    let drag: Drag | null = null;
    const down = (event: PointerEvent) => {
      const slip = (event.target as HTMLElement).closest<HTMLElement>("[data-slip]");
      const id = slip?.dataset.slip;
      if (drag || !slip || !id || event.button !== 0 || !now.current.can(id)) return;
      drag = new Drag(element, slip, id, event, (target) => {
        drag = null;
        if (target) now.current.put(id, target.cell, target.before);
      });
    };
    element.addEventListener("pointerdown", down);
    return () => {
      element.removeEventListener("pointerdown", down);
      drag?.end(null);
    };
  }, [board, ready]);
}

/** One slip from when it is taken up until it is put down. */
class Drag {
  private readonly from: { x: number; y: number };
  private at: { x: number; y: number };
  private picture: HTMLElement | null = null;
  private readonly line = document.createElement("div");
  private over: HTMLElement | null = null;
  private target: Target | null = null;
  private frame = 0;
  private readonly hold: number | undefined;

  constructor(
    private readonly board: HTMLElement,
    private readonly slip: HTMLElement,
    private readonly id: string,
    event: PointerEvent,
    private readonly done: (target: Target | null) => void,
  ) {
    this.from = this.at = { x: event.clientX, y: event.clientY };
    // a finger scrolls; it takes a slip up by resting on it
    if (event.pointerType === "touch") this.hold = window.setTimeout(() => this.take(), HOLD);
    window.addEventListener("pointermove", this.move);
    window.addEventListener("pointerup", this.drop);
    window.addEventListener("pointercancel", this.cancel);
    window.addEventListener("keydown", this.key, true);
    window.addEventListener("touchmove", this.stay, { passive: false });
  }

  private readonly move = (event: PointerEvent) => {
    this.at = { x: event.clientX, y: event.clientY };
    const far = Math.hypot(this.at.x - this.from.x, this.at.y - this.from.y) > FAR;
    if (!this.picture && far) {
      if (event.pointerType === "touch") this.end(null);
      else this.take();
    }
    if (this.picture && !this.frame) this.frame = requestAnimationFrame(this.follow);
  };

  private take() {
    const box = this.slip.getBoundingClientRect();
    const picture = this.slip.cloneNode(true) as HTMLElement;
    picture.removeAttribute("data-slip");
    picture.setAttribute("aria-hidden", "true");
    Object.assign(picture.style, {
      position: "fixed",
      left: `${box.left}px`,
      top: `${box.top}px`,
      width: `${box.width}px`,
      margin: "0",
      zIndex: "60",
      pointerEvents: "none",
    });
    picture.dataset.picture = "";
    this.line.className = "slip-line";
    document.body.append(picture, this.line);
    this.picture = picture;
    this.slip.dataset.taken = "";
    document.body.style.cursor = "grabbing";
    getSelection()?.removeAllRanges();
  }

  /** Once a frame: the picture goes to the pointer, and what lies below is found. */
  private readonly follow = () => {
    this.frame = 0;
    if (!this.picture) return;
    this.picture.style.transform = `translate(${this.at.x - this.from.x}px, ${this.at.y - this.from.y}px) rotate(1deg)`;
    this.find();
    if (this.scroll()) this.frame = requestAnimationFrame(this.follow);
  };

  private find() {
    const below = document.elementFromPoint(this.at.x, this.at.y)?.closest<HTMLElement>("[data-cell]") ?? null;
    const cell = below && this.board.contains(below) && below.dataset.closed === undefined ? below : null;
    if (cell !== this.over) {
      if (this.over) delete this.over.dataset.over;
      if (cell) cell.dataset.over = "";
      this.over = cell;
    }
    if (!cell) {
      this.target = null;
      this.line.style.display = "none";
      return;
    }
    const slips = [...cell.querySelectorAll<HTMLElement>("[data-slip]")].filter((one) => one !== this.slip);
    const before = slips.find((one) => {
      const box = one.getBoundingClientRect();
      // where columns are joined slips lie side by side
      if (box.width < cell.clientWidth * 0.7)
        return this.at.y < box.top || (this.at.y < box.bottom && this.at.x < box.left + box.width / 2);
      return this.at.y < box.top + box.height / 2;
    });
    this.target = { cell: cell.dataset.cell ?? "", before: before?.dataset.slip ?? null };
    this.mark(cell, before ?? null, slips.at(-1) ?? null);
  }

  private mark(cell: HTMLElement, before: HTMLElement | null, last: HTMLElement | null) {
    const box = cell.getBoundingClientRect();
    const y = before
      ? before.getBoundingClientRect().top - 5
      : last
        ? last.getBoundingClientRect().bottom + 2
        : box.top + 6;
    Object.assign(this.line.style, {
      display: "block",
      left: `${box.left + 8}px`,
      width: `${box.width - 16}px`,
      top: `${y}px`,
    });
  }

  /** Near its edge the board scrolls; true while it does. */
  private scroll(): boolean {
    const box = this.board.getBoundingClientRect();
    const by = (at: number, low: number, high: number) =>
      at < low + EDGE ? -Math.ceil((low + EDGE - at) / 4) : at > high - EDGE ? Math.ceil((at - high + EDGE) / 4) : 0;
    const [x, y] = [this.board.scrollLeft, this.board.scrollTop];
    this.board.scrollBy(by(this.at.x, box.left, box.right), by(this.at.y, box.top, box.bottom));
    return this.board.scrollLeft !== x || this.board.scrollTop !== y;
  }

  private readonly drop = () => {
    if (this.picture) {
      this.find();
      // the click that ends a drag opens nothing
      window.addEventListener("click", stop, { capture: true, once: true });
      setTimeout(() => window.removeEventListener("click", stop, { capture: true }), 0);
    }
    this.end(this.target && this.target.before !== this.id ? this.target : null);
  };

  private readonly cancel = () => this.end(null);

  private readonly key = (event: KeyboardEvent) => {
    if (event.key !== "Escape" || !this.picture) return;
    event.preventDefault();
    event.stopPropagation();
    this.end(null);
  };

  private readonly stay = (event: TouchEvent) => {
    if (this.picture) event.preventDefault();
  };

  end(target: Target | null) {
    clearTimeout(this.hold);
    cancelAnimationFrame(this.frame);
    window.removeEventListener("pointermove", this.move);
    window.removeEventListener("pointerup", this.drop);
    window.removeEventListener("pointercancel", this.cancel);
    window.removeEventListener("keydown", this.key, true);
    window.removeEventListener("touchmove", this.stay);
    this.picture?.remove();
    this.line.remove();
    if (this.over) delete this.over.dataset.over;
    delete this.slip.dataset.taken;
    document.body.style.cursor = "";
    this.done(target);
  }
}

function stop(event: Event) {
  event.stopPropagation();
  event.preventDefault();
}
