import { useId, useRef, useState, type TextareaHTMLAttributes } from 'react'
import { TextArea } from './fields'
import { Refusal } from './parts'
import { useKeepPictureMutation } from './pictures.api'

type PictureTextProps = Omit<TextareaHTMLAttributes<HTMLTextAreaElement>, 'value' | 'onChange'> & {
  /** Whose members see the pictures. */
  project: string
  value: string
  onText: (text: string) => void
  /** What stands above it; one without has an `aria-label`. */
  label?: string
  /** Why what was written was refused. */
  wrong?: string | undefined
}

/** A text in Markdown into which pictures are pasted, dropped or picked: each is kept, and its place in the text names it. */
export function PictureText({ project, value, onText, label, wrong, ...rest }: PictureTextProps) {
  const [id, boxId] = [useId(), useId()]
  const box = useRef<HTMLTextAreaElement>(null)
  // What was typed while a picture was on its way is not lost to it.
  const newest = useRef(value)
  newest.current = value
  const [keep, { error }] = useKeepPictureMutation()
  const [sending, setSending] = useState(0)
  const take = async (files: Iterable<File>) => {
    for (const file of files) {
      if (!file.type.startsWith('image/')) continue
      setSending((count) => count + 1)
      const result = await keep({ project, file })
      setSending((count) => count - 1)
      if (!result.data) continue
      const { path, name } = result.data
      const text = newest.current
      const at = Math.min(box.current?.selectionStart ?? text.length, text.length)
      const before = text.slice(0, at)
      const mark = `![${name.replace(/\.\w+$/, '').replace(/[[\]]/g, '')}](${path})`
      newest.current = `${before}${before === '' || before.endsWith('\n') ? '' : '\n'}${mark}\n${text.slice(at)}`
      onText(newest.current)
    }
  }
  return (
    <div>
      {label !== undefined && (
        <label htmlFor={boxId} className="mb-0.5 block text-[12px] text-ink-2">
          {label}
        </label>
      )}
      <TextArea
        {...rest}
        id={boxId}
        ref={box}
        value={value}
        onChange={({ target }) => onText(target.value)}
        onPaste={(event) => {
          if (event.clipboardData.files.length === 0) return
          event.preventDefault()
          void take(event.clipboardData.files)
        }}
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          if (event.dataTransfer.files.length === 0) return
          event.preventDefault()
          void take(event.dataTransfer.files)
        }}
      />
      {wrong && (
        <span role="alert" className="block text-[12px] text-fault">
          {wrong}
        </span>
      )}
      <span className="block text-[12px] text-ink-2">
        <label htmlFor={id} className="link cursor-pointer">
          Add a picture
        </label>
        <input
          id={id}
          type="file"
          accept="image/png,image/jpeg,image/gif,image/webp"
          multiple
          className="sr-only"
          onChange={({ target }) => {
            void take([...(target.files ?? [])])
            target.value = ''
          }}
        />{' '}
        or paste one into the text{sending > 0 && '; sending …'}
      </span>
      <Refusal error={error} />
    </div>
  )
}
