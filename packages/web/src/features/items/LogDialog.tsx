import { useEffect, useRef } from 'react'
import { useForm } from 'react-hook-form'
import { useNavigate } from 'react-router'
import { toast } from 'sonner'
import { useLogItemMutation, useRequirementsQuery } from '../../shared/lib/api'
import { problemText } from '../../shared/lib/problem-text'
import { printTrail } from '../../shared/lib/trail'
import { usePeople } from '../../shared/lib/use-people'
import { Dialog } from '../../shared/ui/Dialog'
import { Choose, Field, TextArea, TextInput } from '../../shared/ui/fields'
import { Button } from '../../shared/ui/parts'

interface Draft {
  title: string
  type: 'defect' | 'story' | 'task'
  severity: string
  component: string
  requirement: string
  description: string
}
const EMPTY: Draft = { title: '', type: 'defect', severity: '', component: '', requirement: '', description: '' }
const DRAFT_KEY = 'log-draft'

/** Logs an item from anywhere. What is typed survives a reload and a failed save. */
export function LogDialog({ isOpen, onClose }: { isOpen: boolean; onClose: () => void }) {
  const { register, handleSubmit, reset, watch, formState } = useForm<Draft>({ defaultValues: storedDraft() })
  const [log, { isLoading, error }] = useLogItemMutation()
  const { data: requirements } = useRequirementsQuery(undefined, { skip: !isOpen })
  const people = usePeople()
  const navigate = useNavigate()
  const attempt = useRef(crypto.randomUUID())
  // Keeps the draft in the browser's own store.
  useEffect(() => {
    const { unsubscribe } = watch((values) => localStorage.setItem(DRAFT_KEY, JSON.stringify(values)))
    return unsubscribe
  }, [watch])
  const submit = handleSubmit(async (draft) => {
    const { severity, component, requirement, ...rest } = draft
    const result = await log({
      input: { ...rest, severity: severity ? Number(severity) : null, component: component || null, requirement: requirement || null },
      idempotencyKey: attempt.current,
    })
    if (result.error || !result.data) return
    attempt.current = crypto.randomUUID()
    localStorage.removeItem(DRAFT_KEY)
    reset(EMPTY)
    onClose()
    toast.success(`${result.data.key} is logged`)
    void navigate(
      printTrail([
        { kind: 'items', id: '' },
        { kind: 'item', id: result.data.key },
      ]),
    )
  })
  const canLog = people.may('member')
  return (
    <Dialog title="Log an item" isOpen={isOpen} onClose={onClose}>
      <form onSubmit={(event) => void submit(event)} className="grid grid-cols-2 gap-3 px-4 py-3">
        <div className="col-span-2">
          <Field label="Title" error={formState.errors.title?.message}>
            <TextInput autoFocus maxLength={200} {...register('title', { required: 'A title is needed' })} />
          </Field>
        </div>
        <Field label="Type">
          <Choose {...register('type')} choices={['defect', 'story', 'task'].map((value) => ({ value, label: value }))} />
        </Field>
        <Field label="Severity">
          <Choose {...register('severity')} none="to be decided" choices={['1', '2', '3', '4', '5'].map((value) => ({ value, label: value }))} />
        </Field>
        <Field label="Component">
          <Choose {...register('component')} none="not sure" choices={(people.me?.components ?? []).map((name) => ({ value: name, label: name }))} />
        </Field>
        <Field label="Requirement">
          <Choose
            {...register('requirement')}
            none="none known"
            choices={(requirements?.rows ?? []).filter((row) => !row.isHeading).map((row) => ({ value: row.key, label: `${row.key} ${row.title}` }))}
          />
        </Field>
        <div className="col-span-2">
          <Field label="Description (Markdown)">
            <TextArea rows={6} {...register('description')} />
          </Field>
        </div>
        {error && (
          <p role="alert" className="col-span-2 text-fault">
            {problemText(error)}
          </p>
        )}
        {!canLog && <p className="col-span-2 text-ochre">You are reading as a guest; sign in to log. What you type is kept.</p>}
        <div className="col-span-2 flex gap-2">
          <Button look="main" type="submit" disabled={isLoading || !canLog}>
            Log it
          </Button>
          <Button onClick={onClose}>Keep the draft for later</Button>
        </div>
      </form>
    </Dialog>
  )
}

function storedDraft(): Draft {
  try {
    return { ...EMPTY, ...(JSON.parse(localStorage.getItem(DRAFT_KEY) ?? '{}') as Partial<Draft>) }
  } catch (error) {
    if (error instanceof SyntaxError) return EMPTY
    throw error
  }
}
