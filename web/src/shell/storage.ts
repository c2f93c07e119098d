/** What this browser keeps for the page. It may be forbidden, or full: then nothing is kept, and the page works. */
export function stored(key: string): string | null {
  try {
    return localStorage.getItem(key);
  } catch {
    return null; // forbidden: as if nothing were there
  }
}

/** Keep a text, or forget it; tells whether that was done. */
export function store(key: string, text: string | null): boolean {
  try {
    if (text === null) localStorage.removeItem(key);
    else localStorage.setItem(key, text);
    return localStorage.getItem(key) === text;
  } catch {
    return false;
  }
}
