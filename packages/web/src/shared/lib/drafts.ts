const PREFIX = 'draft/'

/** What was typed and not sent, by a name; it survives a reload, and leaves with its writer. */
export function readDraft(name: string): string {
  return localStorage.getItem(PREFIX + name) ?? ''
}

/** Keeps a draft; an empty one is forgotten. */
export function keepDraft(name: string, text: string): void {
  if (text === '') localStorage.removeItem(PREFIX + name)
  else localStorage.setItem(PREFIX + name, text)
}

/** Forgets every draft: whoever signs in next at this machine reads none of them. */
export function forgetDrafts(): void {
  for (const key of Object.keys({ ...localStorage })) if (key.startsWith(PREFIX)) localStorage.removeItem(key)
}
