/** Counted words that agree: 1 step, 2 steps; 1 entry, 3 entries. */
export function counted(count: number, one: string, many = `${one}s`): string {
  return `${count} ${count === 1 ? one : many}`;
}
