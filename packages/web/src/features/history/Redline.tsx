import { diffWordsWithSpace } from 'diff'

const TEXT_MAX = 20_000

/** What changed between two texts, word by word: taken out in copper, put in in green. */
export function Redline({ before, after }: { before: string; after: string }) {
  const parts = diffWordsWithSpace(before.slice(0, TEXT_MAX), after.slice(0, TEXT_MAX))
  return (
    <div className="redline mt-1 max-h-[200px] overflow-y-auto border-l-2 border-edge pl-2 whitespace-pre-wrap break-words">
      {parts.map((part, index) =>
        part.added ? (
          // biome-ignore lint/suspicious/noArrayIndexKey: parts have no other identity
          <ins key={index}>{part.value}</ins>
        ) : part.removed ? (
          // biome-ignore lint/suspicious/noArrayIndexKey: parts have no other identity
          <del key={index}>{part.value}</del>
        ) : (
          // biome-ignore lint/suspicious/noArrayIndexKey: parts have no other identity
          <span key={index}>{part.value.length > 160 ? `${part.value.slice(0, 70)} … ${part.value.slice(-70)}` : part.value}</span>
        ),
      )}
    </div>
  )
}
