import { useEffect, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import type { ProblemDetails } from '@dystracer/core/basics/wire'
import { uploadFile } from '#features/talk/index'
import { useActMutation, useLogItemMutation, useLookAlikesQuery } from '#features/items/items.api'
import { useSetupQuery } from '#features/setup/setup.api'
import { problemText } from '#shared/lib/problem-text'
import { printTrail } from '#shared/lib/trail'
import { useDelayed } from '#shared/lib/use-delayed'
import { usePeople } from '#features/people/index'
import { EMPTY_DRAFT, keepGoing, storeDraft, storedDraft, toLogItem, type LogDraft } from './log-draft'

const TYPING_MS = 250

/** What an item is begun from: what is filled in, and what becomes of it once it is logged, or found among those that look alike. */
export interface LogAbout {
  draft: Partial<LogDraft>
  /** Why the requirement of the draft is proposed. */
  whyRequirement?: string
  onLogged: (key: string) => Promise<void>
}

/**
 * What the form of a new item holds and does: the draft, which survives a reload; the items that look like it; sending it, its files, or
 * joining it to an item that is there.
 */
export function useLogForm(onClose: () => void, about: LogAbout | null = null) {
  const people = usePeople()
  const { me } = people
  const [draft, setDraft] = useState<LogDraft>(() => (about ? { ...EMPTY_DRAFT, ...about.draft } : storedDraft()))
  // What is begun from a thing is begun anew from there; the draft of one's own stays as it was.
  const keepDraftOf = about ? () => {} : storeDraft
  const [goesOn, setGoesOn] = useState(false)
  const [files, setFiles] = useState<File[]>([])
  const [titleError, setTitleError] = useState<string>()
  const project = draft.project || (me?.project.prefix ?? '')
  const { data: setup } = useSetupQuery(project, { skip: project === '' })
  const [log, { isLoading, error }] = useLogItemMutation()
  const [act] = useActMutation()
  const navigate = useNavigate()
  const attempt = useRef(crypto.randomUUID())
  const titleField = useRef<HTMLInputElement>(null)
  const template = setup?.types.find((type) => type.type === draft.type)?.template
  // The template's own words would make every report look like every other.
  const ownText = draft.description === template?.description ? '' : draft.description.slice(0, 1500)
  const asked = useDelayed(`${draft.title}\n${ownText}`, TYPING_MS)
  const [askedTitle = '', ...askedText] = asked.split('\n')
  const { data: alike } = useLookAlikesQuery(
    { title: askedTitle, text: askedText.join('\n'), project, ...(draft.component && { component: draft.component }) },
    { skip: askedTitle.trim().length < 6 || project === '' },
  )
  const fields = (error as ProblemDetails | undefined)?.fields ?? {}
  const set = (change: Partial<LogDraft>) =>
    setDraft((before) => {
      const after = { ...before, ...change }
      keepDraftOf(after)
      return after
    })
  // A type brings its template, as long as nothing of one's own was written.
  // biome-ignore lint/correctness/useExhaustiveDependencies: only a new type or project brings a template
  useEffect(() => {
    const isUntouched = draft.description === '' || setup?.types.some((type) => type.template.description === draft.description)
    if (template && isUntouched)
      set({
        description: template.description,
        ...(draft.labels === '' && { labels: template.labels.join(', ') }),
        ...(draft.component === '' && { component: template.component ?? '' }),
        ...(draft.ownerId === '' && { ownerId: template.ownerId ?? '' }),
      })
  }, [template])
  const submit = async () => {
    if (draft.title.trim() === '') {
      setTitleError('A title is needed')
      titleField.current?.focus()
      return
    }
    setTitleError(undefined)
    const isTemplateOnly = template !== undefined && draft.description === template.description
    const result = await log({
      input: toLogItem(isTemplateOnly ? { ...draft, description: '' } : draft, project),
      idempotencyKey: attempt.current,
    })
    if (result.error || !result.data) return
    const { key } = result.data
    attempt.current = crypto.randomUUID()
    for (const file of files) {
      const sent = await uploadFile(key, file, () => {})
      if ('error' in sent) toast.error(`${file.name}: ${problemText(sent.error)}`)
    }
    setFiles([])
    toast.success(`${key} is logged`, { action: { label: 'Open', onClick: () => void navigate(addressOf(key)) } })
    if (goesOn) {
      const next = keepGoing({ ...draft, project })
      storeDraft(next)
      setDraft({ ...next, description: template?.description ?? '' })
      titleField.current?.focus()
      return
    }
    keepDraftOf(null)
    onClose()
    if (about) await about.onLogged(key)
    else void navigate(addressOf(key))
  }
  const joinTo = async (key: string) => {
    if (about) {
      onClose()
      await about.onLogged(key)
      return
    }
    const result = await act({ key, act: 'reports', body: { title: draft.title, description: draft.description } })
    if (result.error) return void toast.error(problemText(result.error))
    storeDraft(null)
    setDraft(EMPTY_DRAFT)
    onClose()
    toast.success(`Your report joined ${key}; you follow it now`)
    void navigate(addressOf(key))
  }
  return {
    me,
    setup,
    draft,
    set,
    project,
    files,
    setFiles,
    goesOn,
    setGoesOn,
    alike: alike?.rows ?? [],
    wrong: { ...fields, ...(titleError !== undefined && { title: titleError }) } as Record<string, string>,
    error,
    titleField,
    isSending: isLoading,
    canLog: people.may('items.log'),
    submit,
    joinTo,
  }
}

/** The item beside the list as it is: when the list's filter hides it, the pane says so. */
function addressOf(key: string): string {
  return printTrail([
    { kind: 'items', id: '' },
    { kind: 'item', id: key },
  ])
}
