import type { ClipboardEvent } from 'react'
import { usePeople } from '#features/people/index'
import { useAddRequirementPictureMutation } from './requirements.api'

/** Pictures that are pasted into a text: each is kept, and its place in the text names it. */
export function usePicturePaste(text: string, onChange: (text: string) => void) {
  const project = usePeople().me?.project.prefix ?? ''
  const [add, { error }] = useAddRequirementPictureMutation()
  const onPaste = async (event: ClipboardEvent<HTMLTextAreaElement>) => {
    const picked = [...event.clipboardData.files].filter((file) => file.type.startsWith('image/'))
    if (picked.length === 0) return
    event.preventDefault()
    const at = event.currentTarget.selectionStart
    const marks: string[] = []
    for (const file of picked) {
      // What is pasted is called the same every time; a picture that is kept is not to take another's place.
      const named = new File([file], `${Date.now().toString(36)}-${file.name}`, { type: file.type })
      const result = await add({ project, file: named })
      if (result.data) marks.push(`![${file.name.replace(/\.\w+$/, '')}](${result.data.path})`)
    }
    if (marks.length > 0) onChange(`${text.slice(0, at)}${marks.join('\n')}${text.slice(at)}`)
  }
  return { onPaste: (event: ClipboardEvent<HTMLTextAreaElement>) => void onPaste(event), error }
}
