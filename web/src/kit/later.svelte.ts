/** A dialog that is fetched when it is first asked for. */
import { tick, type Component } from "svelte";

type Opened = { open: () => void };

export class Later {
  part = $state.raw<Component<object, Opened> | null>(null);
  shown = $state<Opened>();
  readonly #fetched: () => Promise<{ default: Component<object, Opened> }>;

  constructor(fetched: () => Promise<{ default: Component<object, Opened> }>) {
    this.#fetched = fetched;
  }

  async load(): Promise<void> {
    this.part ??= (await this.#fetched()).default;
    await tick();
  }

  async open(): Promise<void> {
    await this.load();
    this.shown?.open();
  }
}
