import type { AgreementDetail } from '@dystracer/core/agreements/wire'
import type { Requirement } from '@dystracer/core/requirements/wire'
import { useForm } from 'react-hook-form'
import { usePeople } from '#features/people/index'
import { useRequirementsQuery } from '#features/requirements/requirements.api'
import { plural } from '#shared/lib/format'
import { fieldProblem } from '#shared/lib/problem-text'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Dialog } from '#shared/ui/Dialog'
import { DateInput } from '#shared/ui/DateInput'
import { Choose, Field, TextArea, TextInput } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { useAskAgreementMutation, useChangeAgreementMutation } from './agreements.api'

interface Draft {
  name: string
  words: string
  /** A heading whose requirements are asked for; empty for all, `same` for those that are asked already. */
  chapter: string
  people: string[]
  dueOn: string
}

/** Asks people to agree to a chapter, or to all requirements; or changes what is asked. */
export function AskDialog({ project, agreement, onClose }: { project: string; agreement: AgreementDetail | null; onClose: () => void }) {
  const { me } = usePeople()
  const trail = usePaneTrail()
  const { data } = useRequirementsQuery()
  const [ask, asking] = useAskAgreementMutation()
  const [change, changing] = useChangeAgreementMutation()
  const error = asking.error ?? changing.error
  const { register, handleSubmit, watch, setValue } = useForm<Draft>({
    defaultValues: {
      name: agreement?.name ?? '',
      words: agreement?.words ?? '',
      chapter: agreement ? 'same' : '',
      people: agreement?.people.map(({ personId }) => personId) ?? [],
      dueOn: agreement?.dueOn ?? '',
    },
  })
  const rows = data?.rows ?? []
  const chapter = watch('chapter')
  const keys = chapter === 'same' ? (agreement?.keys ?? []) : keysBelow(rows, chapter)
  const submit = handleSubmit(async ({ name, words, people, dueOn }) => {
    const body = { name, words, keys, people: [...people].filter(Boolean), dueOn: dueOn || null }
    const result = agreement ? await change({ project, agreementId: agreement.agreementId, ...body }) : await ask({ project, ...body })
    if (result.error) return
    onClose()
    if (!agreement) trail.open({ kind: 'agreement', id: `${project}/${result.data.agreementId}` })
  })
  const wrong = (field: string) => fieldProblem(error, field)
  const hasFieldProblem = ['name', 'keys', 'people', 'dueOn'].some(wrong)
  return (
    <Dialog title={agreement ? 'What is asked' : 'Ask people to agree'} isOpen onClose={onClose}>
      <form aria-label="What is asked" className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <Field label="Its name" error={wrong('name')} isNeeded>
          <TextInput autoFocus maxLength={120} {...register('name', { required: true })} />
        </Field>
        <Field label="What to look at">
          <TextArea rows={2} maxLength={4000} {...register('words')} />
        </Field>
        <Field label="Which requirements" error={wrong('keys')}>
          <Choose
            {...register('chapter')}
            none="all of them"
            choices={[
              ...(agreement ? [{ value: 'same', label: `those that are asked: ${plural(agreement.keys.length, 'requirement')}` }] : []),
              ...rows.filter((row) => row.isHeading).map((row) => ({ value: row.key, label: `${row.key} ${row.title}` })),
            ]}
          />
        </Field>
        <p className="text-[12px] text-ink-2">{plural(keys.length, 'requirement')}; headings and retired ones are not asked for.</p>
        <fieldset className="m-0 border-0 p-0">
          <legend className="text-[12px] text-ink-2">Whose word counts</legend>
          <div className="flex flex-wrap gap-x-4">
            {(me?.people ?? []).map((person) => (
              <label key={person.personId} className="flex min-h-6 items-center gap-1">
                <input type="checkbox" value={person.personId} {...register('people')} /> {person.name}
              </label>
            ))}
          </div>
          {wrong('people') && (
            <span role="alert" className="text-[12px] text-fault">
              {wrong('people')}
            </span>
          )}
        </fieldset>
        <p className="text-[12px] text-ink-2">By when</p>
        <DateInput label="By when" value={watch('dueOn')} onDone={(day) => setValue('dueOn', day)} />
        {!hasFieldProblem && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={asking.isLoading || changing.isLoading}>
          {agreement ? 'Keep it' : 'Ask them'}
        </Button>
      </form>
    </Dialog>
  )
}

/** The requirements below a heading, however deep, in document order; all of them for no heading. */
function keysBelow(rows: readonly Requirement[], chapter: string): string[] {
  const within = new Set(chapter === '' ? rows.map(({ key }) => key) : [chapter])
  // Rows come in document order: a parent stands before what is below it.
  for (const row of rows) if (row.parent !== null && within.has(row.parent)) within.add(row.key)
  return rows.filter((row) => within.has(row.key) && !row.isHeading && !row.isRetired).map(({ key }) => key)
}
