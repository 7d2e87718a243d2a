import type { AttributeDefinition, AttributeValue, Attributes } from '@dystracer/core/requirements/attributes'
import type { RequirementDetail } from '@dystracer/core/requirements/wire'
import { useState } from 'react'
import { useForm, type UseFormRegisterReturn } from 'react-hook-form'
import { usePeople } from '#features/people/index'
import { fieldProblem } from '#shared/lib/problem-text'
import { Choose, Field, TextArea, TextInput } from '#shared/ui/fields'
import { Button, Refusal, SectionHead } from '#shared/ui/parts'
import { RequirementProse } from './RequirementProse'
import { useDescribeRequirementMutation, useRequirementAttributesQuery } from './requirements.api'

/** What is said of a requirement beside its text: why, when it is met, how weighty it is, and what the project adds to that. */
export function RequirementAttributes({ data }: { data: RequirementDetail }) {
  const { me, may } = usePeople()
  const project = me?.project.prefix ?? ''
  const { data: known } = useRequirementAttributesQuery(project, { skip: project === '' })
  const [isWriting, setIsWriting] = useState(false)
  const definitions = known?.rows ?? []
  const said = definitions.filter(({ name }) => data.attributes[name] !== undefined)
  const mayWrite = may('requirements.write') && definitions.length > 0
  if (said.length === 0 && !mayWrite) return null
  return (
    <section aria-label="About it" className="border-t border-edge px-4 py-3">
      <SectionHead>About it</SectionHead>
      {isWriting ? (
        <Writing data={data} definitions={definitions} onDone={() => setIsWriting(false)} />
      ) : (
        <>
          <dl className="m-0 grid grid-cols-[104px_1fr] gap-x-3 gap-y-1">
            {said.map(({ name, kind }) => (
              <div key={name} className="contents">
                <dt className="text-[12px] text-ink-2">{name}</dt>
                <dd className="m-0 min-w-0">
                  <Said value={data.attributes[name] ?? ''} isProse={kind === 'prose'} />
                </dd>
              </div>
            ))}
          </dl>
          {mayWrite && (
            <Button look="line" className="mt-1" onClick={() => setIsWriting(true)}>
              {said.length === 0 ? 'Say why, when it is met, how weighty it is…' : 'Change…'}
            </Button>
          )}
        </>
      )}
    </section>
  )
}

function Said({ value, isProse }: { value: AttributeValue; isProse: boolean }) {
  if (isProse && typeof value === 'string') return <RequirementProse text={value} className="leading-snug" />
  const words = [value].flat().join(', ')
  return words === 'true' ? 'yes' : words === 'false' ? 'no' : words
}

/** Fields go by their place: a name of an attribute may hold what a form takes for a path. */
type Draft = { values: string[] }

function Writing({
  data,
  definitions,
  onDone,
}: {
  data: RequirementDetail
  definitions: readonly AttributeDefinition[]
  onDone: () => void
}) {
  const [describe, { error, isLoading }] = useDescribeRequirementMutation()
  const textOf = (name: string) => [data.attributes[name] ?? ''].flat().join('; ')
  const { register, handleSubmit } = useForm<Draft>({ defaultValues: { values: definitions.map(({ name }) => textOf(name)) } })
  const submit = handleSubmit(async ({ values }) => {
    const attributes: Attributes = Object.fromEntries(
      definitions.flatMap(({ name, isMany }, at) => {
        const said = (values[at] ?? '').trim()
        if (said === textOf(name)) return []
        return [[name, isMany ? said.split(/\s*;\s*/).filter((word) => word !== '') : said]]
      }),
    )
    const result = await describe({ key: data.key, attributes })
    if (!result.error) onDone()
  })
  const isFieldWrong = definitions.some(({ name }) => fieldProblem(error, name))
  return (
    <form aria-label={`About ${data.key}`} className="space-y-2" onSubmit={(event) => void submit(event)}>
      {definitions.map((definition, at) => (
        <Field key={definition.name} label={labelOf(definition)} error={fieldProblem(error, definition.name)}>
          <Control definition={definition} field={register(`values.${at}`)} />
        </Field>
      ))}
      {!isFieldWrong && <Refusal error={error} />}
      <div className="flex gap-2">
        <Button look="main" type="submit" disabled={isLoading}>
          Save
        </Button>
        <Button onClick={onDone}>Leave as it was</Button>
      </div>
    </form>
  )
}

function labelOf({ name, isMany, choices }: AttributeDefinition): string {
  return isMany ? `${name}: ${choices.join(', ')}; several, parted by ;` : name
}

function Control({ definition: { kind, choices, isMany }, field }: { definition: AttributeDefinition; field: UseFormRegisterReturn }) {
  if (kind === 'prose') return <TextArea rows={2} maxLength={20_000} className="font-serif text-[14px]" {...field} />
  if (kind === 'yes-no')
    return (
      <Choose
        none="not said"
        choices={[
          { value: 'true', label: 'yes' },
          { value: 'false', label: 'no' },
        ]}
        {...field}
      />
    )
  if (kind === 'choice' && !isMany)
    return <Choose none="not said" choices={choices.map((word) => ({ value: word, label: word }))} {...field} />
  return <TextInput maxLength={2000} placeholder={kind === 'date' ? '2026-11-24' : undefined} {...field} />
}
