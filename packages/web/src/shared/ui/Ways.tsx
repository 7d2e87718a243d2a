/** Ways of looking at what a pane shows, of which one holds: words in its head, the one that holds underlined. */
export function Ways<Way extends string>({
  ways,
  current,
  wordOf = (way) => way,
  onChoose,
}: {
  ways: readonly Way[]
  current: Way
  wordOf?: (way: Way) => string
  onChoose: (way: Way) => void
}) {
  return ways.map((way) => (
    <button
      key={way}
      type="button"
      aria-pressed={way === current}
      onClick={() => onChoose(way)}
      className={`min-h-6 ${way === current ? 'border-b-2 border-ink font-bold text-ink' : 'hover:text-ink'}`}
    >
      {wordOf(way)}
    </button>
  ))
}
