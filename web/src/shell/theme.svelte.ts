/** Which of the two themes is on; kept in this browser. */
import { store, stored } from "./storage";

const KEY = "lowfold-theme";
export type Theme = "daylight" | "lamplight";

function initial(): Theme {
  const kept = stored(KEY);
  if (kept === "daylight" || kept === "lamplight") return kept;
  return matchMedia("(prefers-color-scheme: dark)").matches ? "lamplight" : "daylight";
}

class ThemeState {
  current = $state<Theme>(initial());

  constructor() {
    document.documentElement.dataset.theme = this.current;
  }

  get other(): Theme {
    return this.current === "daylight" ? "lamplight" : "daylight";
  }

  toggle(): void {
    this.current = this.other;
    document.documentElement.dataset.theme = this.current;
    store(KEY, this.current);
  }
}

export const theme = new ThemeState();
