import { useId } from 'react'

/** Files to be sent along: by picker or by dropping them here. */
export function FilePicker({ files, onChange }: { files: readonly File[]; onChange: (files: File[]) => void }) {
  const id = useId()
  return (
    <section
      aria-label="Files to send along"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault()
        onChange([...files, ...event.dataTransfer.files])
      }}
      className="rounded-[3px] border border-dashed border-edge px-2 py-1 text-[12px] text-ink-2"
    >
      <label htmlFor={id} className="link cursor-pointer">
        Add files
      </label>
      <input
        id={id}
        type="file"
        multiple
        className="sr-only"
        onChange={(event) => {
          onChange([...files, ...(event.target.files ?? [])])
          event.target.value = ''
        }}
      />{' '}
      or drop or paste them; at most 50 MB each.
      {files.map((file, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: two files may have the same name
        <span key={`${file.name}${index}`} className="ml-2">
          {file.name}{' '}
          <button
            type="button"
            className="link"
            aria-label={`Leave ${file.name} out`}
            onClick={() => onChange(files.filter((_, other) => other !== index))}
          >
            ×
          </button>
        </span>
      ))}
    </section>
  )
}
