/** The words of a text in plain letters and digits, without their accents: `Tür Süd-2` gives `tur`, `sud`, `2`. */
export function plainWords(text: string): string[] {
  return (
    text
      .normalize('NFKD')
      .replace(/\p{M}/gu, '')
      .toLowerCase()
      .match(/[a-z0-9]+/g) ?? []
  )
}

/**
 * An id made from a name, for addresses, filters and files: `Door side` gives `door-side`. At most so many characters, cut where a
 * character ends; empty where the name has neither a letter nor a digit of ASCII.
 */
export function idFrom(name: string, maxChars = 60): string {
  return plainWords(name).join('-').slice(0, maxChars).replace(/-$/, '')
}

/** The id made from a name, with `-2`, `-3` … behind it as long as `isTaken` says so; `stem` where the name gives none. */
export function freeIdFrom(
  name: string,
  { isTaken, stem, maxChars = 60 }: { isTaken: (id: string) => boolean; stem: string; maxChars?: number },
): string {
  const first = idFrom(name, maxChars) || stem
  for (let count = 1; ; count++) {
    const id = count === 1 ? first : `${first}-${count}`
    if (!isTaken(id)) return id
  }
}
