/** How wide words are in the schedule, measured once for each text. */
const known = new Map<string, number>();
let canvas: CanvasRenderingContext2D | null = null;

/** Pixels that a text takes at a size, in the font of the page. */
export function textWidth(text: string, size: number, weight = 400): number {
  const key = `${weight} ${size} ${text}`;
  let width = known.get(key);
  if (width === undefined) {
    canvas ??= document.createElement("canvas").getContext("2d");
    if (!canvas) return text.length * size * 0.52;
    canvas.font = `${weight} ${size}px "Commissioner Variable", sans-serif`;
    width = canvas.measureText(text).width;
    if (known.size > 20_000) known.clear();
    known.set(key, width);
  }
  return width;
}
