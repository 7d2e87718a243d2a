/** What the modules of the interface ask of a browser while they are loaded, for tests without one. Imported before them. */
const kept = new Map<string, string>()
const storage: Storage = {
  get length() {
    return kept.size
  },
  clear: () => kept.clear(),
  getItem: (key) => kept.get(key) ?? null,
  key: (at) => [...kept.keys()][at] ?? null,
  removeItem: (key) => void kept.delete(key),
  setItem: (key, value) => void kept.set(key, value),
}
Object.defineProperty(globalThis, 'localStorage', { value: storage, configurable: true })

export const keptTexts: ReadonlyMap<string, string> = kept
