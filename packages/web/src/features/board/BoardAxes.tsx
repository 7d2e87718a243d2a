import type { BoardField } from '@dystracer/core/board/board'
import type { Look } from '@dystracer/core/looking/look'
import { useState } from 'react'
import { usePlaces } from '#features/looking/index'
import { Choose } from '#shared/ui/fields'
import { Dialog } from '#shared/ui/Dialog'
import { Button } from '#shared/ui/parts'

/** Which fields the columns and lanes of the board are, and which columns are shown in which order. */
export function BoardAxes({
  columns,
  lanes,
  all,
  values,
  onChange,
}: {
  columns: BoardField
  lanes: BoardField | ''
  /** Every column that there is, in the usual order. */
  all: readonly string[]
  /** Those that are shown, in their order. */
  values: readonly string[]
  onChange: (change: Partial<Look>) => void
}) {
  const { axes } = usePlaces()
  const [isChoosing, setIsChoosing] = useState(false)
  return (
    <>
      <span className="flex items-center gap-1 text-[12px]">
        columns
        <Choose
          aria-label="Columns are"
          className="w-auto! border-0! py-0.5!"
          value={columns}
          choices={axes}
          onChange={(event) => onChange({ cards: event.target.value as BoardField, values: [] })}
        />
        <Button look="line" onClick={() => setIsChoosing(true)}>
          {values.length < all.length ? `${values.length} of ${all.length}…` : 'which…'}
        </Button>
      </span>
      <span className="flex items-center gap-1 text-[12px]">
        lanes
        <Choose
          aria-label="Lanes are"
          className="w-auto! border-0! py-0.5!"
          none="none"
          value={lanes}
          choices={axes.filter((choice) => choice.value !== columns)}
          onChange={(event) => onChange({ lanes: (event.target.value || undefined) as BoardField | undefined })}
        />
      </span>
      {isChoosing && (
        <ColumnsDialog
          field={columns}
          all={all}
          values={values}
          onChange={(chosen) => onChange({ values: chosen })}
          onClose={() => setIsChoosing(false)}
        />
      )}
    </>
  )
}

/** The columns of a board: which are shown, and in which order. What is changed shows behind at once. */
function ColumnsDialog({
  field,
  all,
  values,
  onChange,
  onClose,
}: {
  field: BoardField
  all: readonly string[]
  values: readonly string[]
  onChange: (values: readonly string[]) => void
  onClose: () => void
}) {
  const { nameOfValue } = usePlaces()
  const rows = [...values, ...all.filter((value) => !values.includes(value))]
  const move = (at: number, by: number) => {
    const next = [...values]
    next.splice(at + by, 0, ...next.splice(at, 1))
    onChange(next)
  }
  return (
    <Dialog title="Columns of the board" isOpen onClose={onClose}>
      <div className="space-y-3 px-4 py-3">
        <ul className="m-0 list-none p-0">
          {rows.map((value, at) => {
            const name = nameOfValue(field, value)
            const isShown = values.includes(value)
            return (
              <li key={value} className="flex items-center gap-3 border-b border-edge-soft py-1">
                <label className="flex min-w-0 flex-1 items-center gap-2">
                  <input
                    type="checkbox"
                    checked={isShown}
                    // A board without columns would show nothing to choose by.
                    disabled={isShown && values.length === 1}
                    onChange={() => onChange(isShown ? values.filter((known) => known !== value) : [...values, value])}
                  />
                  <span className="truncate first-letter:uppercase">{name}</span>
                </label>
                {isShown && (
                  <>
                    <Button look="line" disabled={at === 0} aria-label={`earlier: ${name}`} onClick={() => move(at, -1)}>
                      earlier
                    </Button>
                    <Button look="line" disabled={at === values.length - 1} aria-label={`later: ${name}`} onClick={() => move(at, 1)}>
                      later
                    </Button>
                  </>
                )}
              </li>
            )
          })}
        </ul>
        <p className="mt-3">
          <Button onClick={() => onChange([])}>All, as usual</Button>
        </p>
      </div>
    </Dialog>
  )
}
