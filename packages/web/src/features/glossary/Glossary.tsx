import type { GlossaryTerm } from '@dystracer/core/glossary/wire'
import { termsIn } from '@dystracer/core/glossary/terms'
import type { Requirement } from '@dystracer/core/requirements/wire'
import { useMemo, useState } from 'react'
import { plural, splitWords } from '#shared/lib/format'
import { useForm } from 'react-hook-form'
import { fieldProblem } from '#shared/lib/problem-text'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { Field, TextArea, TextInput } from '#shared/ui/fields'
import { Button, Pending, Quiet, Refusal } from '#shared/ui/parts'
import { useRemoveTermMutation, useSetTermMutation, useTermsQuery } from './glossary.api'

/** The words of a project: what each means, what is said in its place by mistake, and how many requirements use it. */
export function Glossary({ project, rows, canWrite }: { project: string; rows: readonly Requirement[]; canWrite: boolean }) {
  const { data, error, isLoading } = useTermsQuery(project)
  const [edited, setEdited] = useState<string | null>(null)
  const uses = useMemo(() => usesOf(data?.rows ?? [], rows), [data, rows])
  return (
    <div className="px-4 py-3">
      <Pending error={error} isLoading={isLoading} />
      {data?.rows.length === 0 && (
        <Quiet>
          No word is explained yet. Once some are, “writing” tells where a text says another, or marks a term that nobody explained.
        </Quiet>
      )}
      <dl aria-label="Glossary" className="m-0">
        {data?.rows.map((term) =>
          edited === term.term ? (
            <TermForm key={term.term} project={project} term={term} onDone={() => setEdited(null)} />
          ) : (
            <TermLine
              key={term.term}
              project={project}
              term={term}
              uses={uses.get(term.term) ?? 0}
              canWrite={canWrite}
              onEdit={() => setEdited(term.term)}
            />
          ),
        )}
      </dl>
      {canWrite &&
        (edited === '' ? (
          <TermForm project={project} term={null} onDone={() => setEdited(null)} />
        ) : (
          <p className="mt-2">
            <Button look="line" onClick={() => setEdited('')}>
              Explain a word…
            </Button>
          </p>
        ))}
    </div>
  )
}

function usesOf(terms: readonly GlossaryTerm[], rows: readonly Requirement[]): Map<string, number> {
  const uses = new Map<string, number>()
  for (const { title, text, isRetired } of rows)
    if (!isRetired) for (const { term } of termsIn(`${title}\n${text}`, terms)) uses.set(term, (uses.get(term) ?? 0) + 1)
  return uses
}

function TermLine({
  project,
  term,
  uses,
  canWrite,
  onEdit,
}: {
  project: string
  term: GlossaryTerm
  uses: number
  canWrite: boolean
  onEdit: () => void
}) {
  const [remove, { isLoading }] = useRemoveTermMutation()
  return (
    <div className="border-b border-edge-soft py-1.5">
      <dt className="font-serif text-[15px] font-bold">{term.term}</dt>
      <dd className="m-0">
        {term.meaning}
        <span className="block text-[12px] text-ink-2">
          {uses === 0 ? 'no requirement says it' : plural(uses, 'requirement says it', 'requirements say it')}
          {term.instead.length > 0 && `; not ${term.instead.map((word) => `“${word}”`).join(', ')}`}{' '}
          {canWrite && (
            <>
              <Button look="line" aria-label={`Change ${term.term}`} onClick={onEdit}>
                change
              </Button>{' '}
              <Button
                look="line"
                aria-label={`Take out ${term.term}`}
                disabled={isLoading}
                onClick={() => void remove({ project, term: term.term }).then(tellRefusal)}
              >
                take out
              </Button>
            </>
          )}
        </span>
      </dd>
    </div>
  )
}

function TermForm({ project, term, onDone }: { project: string; term: GlossaryTerm | null; onDone: () => void }) {
  const [set, { error, isLoading }] = useSetTermMutation()
  const { register, handleSubmit } = useForm({
    defaultValues: { term: term?.term ?? '', meaning: term?.meaning ?? '', instead: term?.instead.join(', ') ?? '' },
  })
  const submit = handleSubmit(async (values) => {
    const body = { term: values.term, meaning: values.meaning, instead: splitWords(values.instead), before: term?.term ?? null }
    const result = await set({ project, ...body })
    if (!result.error) onDone()
  })
  const wrong = (field: string) => fieldProblem(error, field)
  return (
    <form aria-label={term ? `Change ${term.term}` : 'A new word'} className="space-y-2 py-2" onSubmit={(event) => void submit(event)}>
      <Field label="The word" error={wrong('term')} isNeeded>
        <TextInput autoFocus maxLength={60} {...register('term')} />
      </Field>
      <Field label="What it means" error={wrong('meaning')} isNeeded>
        <TextArea rows={2} maxLength={2000} {...register('meaning')} />
      </Field>
      <Field label="Said in its place by mistake, with commas between" error={wrong('instead')}>
        <TextInput {...register('instead')} />
      </Field>
      {!['term', 'meaning', 'instead'].some(wrong) && <Refusal error={error} />}
      <p className="flex gap-3">
        <Button look="main" type="submit" disabled={isLoading}>
          Keep it
        </Button>
        <Button onClick={onDone}>Not now</Button>
      </p>
    </form>
  )
}
