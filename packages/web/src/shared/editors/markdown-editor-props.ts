import type { ReactNode } from 'react'

export interface MarkdownEditorProps {
  label: string
  value: string
  onChange: (text: string) => void
  /** What `@` and a key's prefix complete to. */
  completions: readonly { text: string; detail: string }[]
  /** Files that were pasted or dropped into the text. */
  onFiles?: (files: File[]) => void
  onSubmit?: () => void
  minHeightPx?: number
  placeholder?: string
  aside?: ReactNode
}
