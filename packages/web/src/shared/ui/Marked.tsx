/** A text in pieces, those at odd places marked: what was looked for. */
export function Marked({ pieces }: { pieces: readonly string[] }) {
  return (
    <>
      {pieces.map((piece, at) =>
        at % 2 === 1 ? (
          // biome-ignore lint/suspicious/noArrayIndexKey: the pieces of one text have no other name
          <mark key={at} className="bg-ochre-soft text-inherit">
            {piece}
          </mark>
        ) : (
          piece
        ),
      )}
    </>
  )
}
