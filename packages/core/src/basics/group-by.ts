/** Things by what a function says of them, groups and members in the order in which they come. */
export function groupBy<Thing, Key>(things: Iterable<Thing>, keyOf: (thing: Thing) => Key): Map<Key, Thing[]> {
  const groups = new Map<Key, Thing[]>()
  for (const thing of things) {
    const key = keyOf(thing)
    const group = groups.get(key)
    if (group) group.push(thing)
    else groups.set(key, [thing])
  }
  return groups
}
