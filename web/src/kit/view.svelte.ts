/** What part of a drawing is seen: all of it, or nearer, moved by wheel, pointer and keys. */
import { Writing } from "./writing.svelte";

export type Area = { x: number; y: number; width: number; height: number };

const NEAREST = 8;
const STEP = 1.25;
/** How far a drawing may grow beyond the size its writing is set in. */
const ENLARGED = 1.3;

export class View {
  /** All that is drawn, and the room there is for it, in CSS pixels. */
  whole = $state<Area>({ x: 0, y: 0, width: 1, height: 1 });
  room = $state({ width: 1, height: 1 });
  zoom = $state(1);
  #middle = $state({ x: 0, y: 0 });

  /** What is seen when all of it is: never larger than the writing is set for. */
  #all = $derived.by(() => {
    const { whole, room } = this;
    const scale = Math.min(
      ENLARGED,
      room.width / Math.max(whole.width, 1),
      room.height / Math.max(whole.height, 1),
    );
    return { width: room.width / scale, height: room.height / scale };
  });
  #seen = $derived.by<Area>(() => {
    const width = this.#all.width / this.zoom;
    const height = this.#all.height / this.zoom;
    const centre =
      this.zoom === 1
        ? {
            x: this.whole.x + this.whole.width / 2,
            y: this.whole.y + this.whole.height / 2,
          }
        : this.#middle;
    return { x: centre.x - width / 2, y: centre.y - height / 2, width, height };
  });
  box = $derived(
    [this.#seen.x, this.#seen.y, this.#seen.width, this.#seen.height]
      .map((v) => Number(v.toFixed(2)))
      .join(" "),
  );
  near = $derived(this.zoom > 1);
  writing = new Writing(
    () => this.#seen,
    () => this.room,
  );

  fit(): void {
    this.zoom = 1;
  }

  /** Go nearer, or further off, keeping a point of the drawing where it is; by default the middle. */
  nearer(by: number, at?: { x: number; y: number }): void {
    const seen = this.#seen;
    const point = at ?? { x: seen.x + seen.width / 2, y: seen.y + seen.height / 2 };
    const zoom = Math.min(Math.max(this.zoom * by, 1), NEAREST);
    const factor = this.zoom / zoom;
    this.#middle = {
      x: point.x + (seen.x + seen.width / 2 - point.x) * factor,
      y: point.y + (seen.y + seen.height / 2 - point.y) * factor,
    };
    this.zoom = zoom < 1.001 ? 1 : zoom;
  }

  /** Move what is seen by a share of itself. */
  move(right: number, down: number): void {
    if (!this.near) return;
    const seen = this.#seen;
    this.#middle = {
      x: seen.x + seen.width / 2 + right * seen.width,
      y: seen.y + seen.height / 2 + down * seen.height,
    };
  }

  /** The wheel goes nearer to what lies under it. */
  wheel(event: WheelEvent, over: Element): void {
    event.preventDefault();
    const box = over.getBoundingClientRect();
    const seen = this.#seen;
    const at = {
      x: seen.x + ((event.clientX - box.left) / box.width) * seen.width,
      y: seen.y + ((event.clientY - box.top) / box.height) * seen.height,
    };
    this.nearer(event.deltaY < 0 ? STEP : 1 / STEP, at);
  }

  /** Keys: z nearer, Z further, 0 all of it, Shift with an arrow moves. Answers whether it was one. */
  key(event: KeyboardEvent): boolean {
    if (event.ctrlKey || event.metaKey || event.altKey) return false;
    const arrows: Record<string, [number, number]> = {
      ArrowLeft: [-0.2, 0],
      ArrowRight: [0.2, 0],
      ArrowUp: [0, -0.2],
      ArrowDown: [0, 0.2],
    };
    const arrow = event.shiftKey ? arrows[event.key] : undefined;
    if (event.key === "z") this.nearer(STEP);
    else if (event.key === "Z") this.nearer(1 / STEP);
    else if (event.key === "0") this.fit();
    else if (arrow && this.near) this.move(...arrow);
    else return false;
    return true;
  }
}
