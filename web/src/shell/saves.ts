/** Saves on their way to the server. */
const underWay = new Set<Promise<unknown>>();

/** Note a save on its way, so that whoever reads next can wait for it. */
export function keeping(save: Promise<unknown>): void {
  underWay.add(save);
  void save.finally(() => underWay.delete(save));
}

/** Settles once every save on its way has been answered. */
export async function allKept(): Promise<void> {
  while (underWay.size > 0) await Promise.allSettled([...underWay]);
}
