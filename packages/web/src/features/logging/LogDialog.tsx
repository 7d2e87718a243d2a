import { ITEM_FIELDS, LINE_FIELDS, suggestionsFor } from '@dystracer/core/setup/item-fields'
import { capitalised } from '#shared/lib/format'
import { useEffect, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import type { ProblemDetails } from '@dystracer/core/basics/wire'
import { uploadFile, FilePicker, useCompletions } from '#features/talk/index'
import { useActMutation, useLogItemMutation, useLookAlikesQuery } from '#features/items/items.api'
import { useRequirementsQuery } from '#features/requirements/requirements.api'
import { useSetupQuery } from '#features/setup/setup.api'
import { PRIORITY_CHOICES, SEVERITIES } from '#shared/lib/choices'
import { problemText } from '#shared/lib/problem-text'
import { printTrail } from '#shared/lib/trail'
import { useDelayed } from '#shared/lib/use-delayed'
import { usePeople } from '#features/people/index'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { DateInput } from '#shared/ui/DateInput'
import { MarkdownEditor } from '#shared/ui/MarkdownEditor'
import { Button, Refusal } from '#shared/ui/parts'
import { OwnFieldControl, showsField } from '#features/items/index'
import { EMPTY_DRAFT, keepGoing, storeDraft, storedDraft, toLogItem, type LogDraft } from './log-draft'
import { LookAlikes } from './LookAlikes'

const TYPING_MS = 250

/**
 * Logs an item from anywhere. What is typed survives a reload and a failed save; while the title is typed, items that look alike stand
 * below it.
 */
export function LogDialog({ isOpen, onClose }: { isOpen: boolean; onClose: () => void }) {
  return (
    <Dialog title="Log an item" isOpen={isOpen} onClose={onClose}>
      {isOpen && <LogForm onClose={onClose} />}
    </Dialog>
  )
}

function LogForm({ onClose }: { onClose: () => void }) {
  const people = usePeople()
  const { me } = people
  const [draft, setDraft] = useState<LogDraft>(storedDraft)
  const [isMore, setIsMore] = useState(false)
  const [goesOn, setGoesOn] = useState(false)
  const [files, setFiles] = useState<File[]>([])
  const [titleError, setTitleError] = useState<string>()
  const project = draft.project || (me?.project.prefix ?? '')
  const { data: setup } = useSetupQuery(project, { skip: project === '' })
  const [log, { isLoading, error }] = useLogItemMutation()
  const [act] = useActMutation()
  const { data: requirements } = useRequirementsQuery()
  const completions = useCompletions()
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
      storeDraft(after)
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
  const canLog = people.may('items.log')
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
    storeDraft(null)
    onClose()
    void navigate(addressOf(key))
  }
  const joinTo = async (key: string) => {
    const result = await act({ key, act: 'reports', body: { title: draft.title, description: draft.description } })
    if (result.error) return void toast.error(problemText(result.error))
    storeDraft(null)
    setDraft(EMPTY_DRAFT)
    onClose()
    toast.success(`Your report joined ${key}; you follow it now`)
    void navigate(addressOf(key))
  }
  const shows = (field: string) => showsField(setup, draft.type, field)
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        void submit()
      }}
      onKeyDown={(event) => {
        if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void submit()
      }}
      className="grid grid-cols-3 gap-x-3 gap-y-2 px-4 py-3"
    >
      <div className="col-span-3">
        <Field label="Title" error={titleError ?? fields.title}>
          <TextInput
            ref={titleField}
            autoFocus
            maxLength={200}
            value={draft.title}
            onChange={(event) => set({ title: event.target.value })}
          />
        </Field>
        <LookAlikes rows={alike?.rows ?? []} onSame={(key) => void joinTo(key)} />
      </div>
      <Field label="Type" error={fields.type}>
        <Choose
          value={draft.type}
          onChange={(event) => set({ type: event.target.value })}
          choices={(setup?.types ?? []).map(({ type }) => ({ value: type, label: type }))}
        />
      </Field>
      <Field label="Project" error={fields.project}>
        <Choose
          value={project}
          onChange={(event) => set({ project: event.target.value })}
          choices={(me?.projects ?? []).map(({ prefix, name }) => ({ value: prefix, label: `${prefix} ${name}` }))}
        />
      </Field>
      <Field label="Component" error={fields.component}>
        <Choose
          value={draft.component}
          none="not sure"
          onChange={(event) => set({ component: event.target.value })}
          choices={(me?.components ?? []).map((name) => ({ value: name, label: name }))}
        />
      </Field>
      {shows('severity') && (
        <Field label="Severity" error={fields.severity}>
          <Choose
            value={draft.severity}
            none="to be decided"
            onChange={(event) => set({ severity: event.target.value })}
            choices={SEVERITIES}
          />
        </Field>
      )}
      {shows('requirement') && (
        <div className="col-span-2">
          <Field label="Requirement" error={fields.requirement}>
            <Choose
              value={draft.requirement}
              none="none known"
              onChange={(event) => set({ requirement: event.target.value })}
              choices={(requirements?.rows ?? [])
                .filter((row) => !row.isHeading)
                .map((row) => ({ value: row.key, label: `${row.key} ${row.title}` }))}
            />
          </Field>
        </div>
      )}
      <div className="col-span-3">
        <MarkdownEditor
          label="Description"
          value={draft.description}
          onChange={(description) => set({ description })}
          completions={completions}
          onFiles={(fresh) => setFiles([...files, ...fresh])}
          onSubmit={() => void submit()}
          minHeightPx={120}
        />
      </div>
      <div className="col-span-3">
        <FilePicker files={files} onChange={setFiles} />
      </div>
      <div className="col-span-3">
        <Button look="text" aria-expanded={isMore} onClick={() => setIsMore(!isMore)}>
          {isMore ? 'Less' : 'More: owner, priority, dates, labels …'}
        </Button>
      </div>
      {isMore && (
        <>
          <Field label="Owner" error={fields.ownerId ?? fields.owner}>
            <Choose
              value={draft.ownerId}
              none="nobody yet"
              onChange={(event) => set({ ownerId: event.target.value })}
              choices={(me?.people ?? []).map((person) => ({ value: person.personId, label: person.name }))}
            />
          </Field>
          {shows('priority') && (
            <Field label="Priority" error={fields.priority}>
              <Choose
                value={draft.priority}
                none="none"
                onChange={(event) => set({ priority: event.target.value })}
                choices={PRIORITY_CHOICES}
              />
            </Field>
          )}
          {shows('due') && (
            <Field label="Due" error={fields.dueOn ?? fields.due}>
              <DateInput label="Due" value={draft.dueOn} onDone={(dueOn) => set({ dueOn })} />
            </Field>
          )}
          {LINE_FIELDS.filter((name) => shows(ITEM_FIELDS[name].use.name)).map((name) => (
            <Field key={name} label={capitalised(ITEM_FIELDS[name].label)} error={fields[name]}>
              <TextInput
                list={suggestionsFor(name)}
                maxLength={50}
                value={draft[name]}
                onChange={(event) => set({ [name]: event.target.value })}
              />
            </Field>
          ))}
          {shows('labels') && (
            <Field label="Labels, with commas" error={fields.labels}>
              <TextInput list="labels" maxLength={400} value={draft.labels} onChange={(event) => set({ labels: event.target.value })} />
            </Field>
          )}
          {shows('estimate') && (
            <Field label="Estimate, such as 1h 30m" error={fields.estimateMinutes ?? fields.estimate}>
              <TextInput value={draft.estimate} onChange={(event) => set({ estimate: event.target.value })} />
            </Field>
          )}
          {shows('points') && (
            <Field label="Points" error={fields.points}>
              <TextInput type="number" min={0} step="any" value={draft.points} onChange={(event) => set({ points: event.target.value })} />
            </Field>
          )}
          <Field label="Part of (a key)" error={fields.parent}>
            <TextInput maxLength={20} value={draft.parent} onChange={(event) => set({ parent: event.target.value })} />
          </Field>
          {setup?.ownFields
            .filter((field) => field.types.length === 0 || field.types.includes(draft.type))
            .map((field) => (
              <Field key={field.fieldId} label={field.name} error={fields[`ownValues.${field.fieldId}`]}>
                <OwnFieldControl
                  field={field}
                  value={draft.ownValues[field.fieldId]}
                  people={me?.people ?? []}
                  onChange={(value) => set({ ownValues: { ...draft.ownValues, [field.fieldId]: value } })}
                />
              </Field>
            ))}
          <label className="col-span-3 flex items-center gap-2">
            <input type="checkbox" checked={draft.isConfidential} onChange={(event) => set({ isConfidential: event.target.checked })} />
            Confidential: only its reporter, its owners, leads and people you name see it
          </label>
        </>
      )}
      <Suggestions id="milestones" values={me?.milestones ?? []} />
      <Suggestions id="sprints" values={me?.sprints ?? []} />
      <Suggestions id="labels" values={me?.labels ?? []} />
      <Suggestions id="releases" values={me?.releases ?? []} />
      <Refusal error={error} className="col-span-3" />
      {!canLog && <p className="col-span-3 text-ochre">You are reading as a guest; sign in to log. What you type is kept.</p>}
      <div className="sticky bottom-0 col-span-3 -mb-3 flex items-center gap-3 bg-sheet py-3">
        <Button look="main" type="submit" disabled={isLoading || !canLog}>
          Log it
        </Button>
        <Button onClick={onClose}>Keep the draft for later</Button>
        <label className="ml-auto flex items-center gap-2 text-ink-2">
          <input type="checkbox" checked={goesOn} onChange={(event) => setGoesOn(event.target.checked)} />
          Keep going
        </label>
      </div>
    </form>
  )
}

function Suggestions({ id, values }: { id: string; values: readonly string[] }) {
  return (
    <datalist id={id}>
      {values.map((value) => (
        <option key={value} value={value} />
      ))}
    </datalist>
  )
}

/** The item beside the list as it is: when the list's filter hides it, the pane says so. */
function addressOf(key: string): string {
  return printTrail([
    { kind: 'items', id: '' },
    { kind: 'item', id: key },
  ])
}
