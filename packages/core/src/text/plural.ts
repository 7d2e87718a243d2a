/** A number with its noun: `1 gate`, `3 gates`; `many` where an s is not enough. */
export function plural(count: number, one: string, many = `${one}s`): string {
  return `${count} ${count === 1 ? one : many}`
}
