import { merge } from 'node-diff3'
import { Suspense, useMemo, useState } from 'react'
import { Dialog } from '#shared/ui/Dialog'
import { TextArea } from '#shared/ui/fields'
import { Button, SectionHead } from '#shared/ui/parts'
import { Redline } from '#features/history/index'

/** Two people edited one text: shows what the other changed and what you changed, and starts from both merged; nothing is overwritten. */
export function MergeDialog({
  base,
  mine,
  theirs,
  onSave,
  onClose,
}: {
  base: string
  mine: string
  theirs: string
  onSave: (text: string) => void
  onClose: () => void
}) {
  const merged = useMemo(() => {
    const { result, conflict } = merge(mine.split('\n'), base.split('\n'), theirs.split('\n'))
    return { text: (conflict ? [...theirs.split('\n'), '', ...mine.split('\n')] : result).join('\n'), isClean: !conflict }
  }, [base, mine, theirs])
  const [text, setText] = useState(merged.text)
  return (
    <Dialog title="Someone changed this text meanwhile" isOpen onClose={onClose}>
      <div className="space-y-3 px-4 py-3">
        <p>
          {merged.isClean
            ? 'Both changes fit together; below is the text with both. Look it over and save.'
            : 'Both changed the same lines. Below stands their text, then yours: make one of them and save.'}
        </p>
        <div className="grid grid-cols-2 gap-3">
          <div>
            <SectionHead>What they changed</SectionHead>
            <Suspense fallback={null}>
              <Redline before={base} after={theirs} />
            </Suspense>
          </div>
          <div>
            <SectionHead>What you changed</SectionHead>
            <Suspense fallback={null}>
              <Redline before={base} after={mine} />
            </Suspense>
          </div>
        </div>
        <TextArea aria-label="Merged text" rows={8} value={text} onChange={(event) => setText(event.target.value)} />
        <div className="flex gap-2">
          <Button look="main" onClick={() => onSave(text)}>
            Save the merged text
          </Button>
          <Button onClick={onClose}>Go on editing mine</Button>
        </div>
      </div>
    </Dialog>
  )
}
