/** Photographs that come by drop or paste, wherever on the page. */

/** The pictures among what was dropped or pasted. */
export function imagesOf(data: DataTransfer | null): File[] {
  return [...(data?.files ?? [])].filter((file) => file.type.startsWith("image/"));
}

/** What is dragged over the page: shown while it can be let go, and taken when it is. */
export class PhotographDrop {
  here = $state(false);
  readonly #take: (files: File[], at: Element | null) => void;

  constructor(take: (files: File[], at: Element | null) => void) {
    this.#take = take;
  }

  over(event: DragEvent): void {
    if (!event.dataTransfer?.types.includes("Files")) return;
    event.preventDefault();
    this.here = true;
  }

  left(event: DragEvent): void {
    if (event.relatedTarget === null) this.here = false;
  }

  dropped(event: DragEvent): void {
    this.here = false;
    if (!event.dataTransfer?.types.includes("Files")) return;
    event.preventDefault();
    const at = event.target instanceof Element ? event.target : null;
    // What is no picture is handed on too, so that the server says why it is not taken
    this.#take([...event.dataTransfer.files], at);
  }
}
