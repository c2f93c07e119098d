/** One's own ways, kept in this browser: what a new need begins with, and the decimal sign of copies. */
import { store, stored } from "../shell/storage";

const KEY = "lowfold-own";

/** Tokens a new need may begin with, in the order they are asked for, with what they are. */
export const DEFAULTS = [
  ["values", "values from", "E24"],
  ["tolerance", "tolerance", "1 %"],
  ["rating", "size or family", "0603"],
  ["stress", "derated to", "50 %"],
  ["low_c", "ambient from", "-20 °C"],
  ["high_c", "to", "60 °C"],
  ["supply_tolerance", "supply tolerance", "none"],
] as const;
export type Default = (typeof DEFAULTS)[number][0];

type Kept = { comma: boolean; defaults: Partial<Record<Default, string>> };

function kept(): Kept {
  try {
    const found = JSON.parse(stored(KEY) ?? "{}") as Partial<Kept>;
    return { comma: found.comma === true, defaults: { ...found.defaults } };
  } catch {
    return { comma: false, defaults: {} }; // what another program wrote there is none of ours
  }
}

class Own {
  #kept = $state(kept());

  get comma(): boolean {
    return this.#kept.comma;
  }
  set comma(on: boolean) {
    this.#kept.comma = on;
    this.#keep();
  }

  text(token: Default): string {
    return this.#kept.defaults[token] ?? "";
  }

  type(token: Default, text: string): void {
    const others = Object.entries(this.#kept.defaults).filter(([name]) => name !== token);
    this.#kept.defaults = Object.fromEntries(text.trim() ? [...others, [token, text]] : others);
    this.#keep();
  }

  /** What a new need of a kind begins with: of what is stated, what the kind has a word for. */
  begins(tokens: readonly string[]): Record<string, string> {
    const stated = Object.entries(this.#kept.defaults);
    return Object.fromEntries(stated.filter(([name]) => tokens.includes(name)));
  }

  #keep(): void {
    store(KEY, JSON.stringify(this.#kept));
  }
}

export const own = new Own();
