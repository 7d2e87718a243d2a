import type { ScrubRule } from '@dystracer/core/faults/services-wire'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { problemText } from '#shared/lib/problem-text'
import { usePeople } from '#features/people/index'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Button, SectionHead } from '#shared/ui/parts'
import { useAddScrubRuleMutation, useRemoveScrubRuleMutation, useScrubRulesQuery, useTryScrubMutation } from './faults.api'

const KINDS = [
  { value: 'text', label: 'texts that this finds' },
  { value: 'attribute', label: 'the attribute of this name' },
]

/** What is taken out of everything received before it is stored: what always is, and rules of one's own, to be tried on a text. */
export function ScrubRules() {
  const { may } = usePeople()
  const { data } = useScrubRulesQuery()
  const [remove] = useRemoveScrubRuleMutation()
  const takeAway = async (rule: ScrubRule) => {
    const result = await remove(rule.ruleId)
    if (result.error) toast.error(problemText(result.error))
    else toast.success(`“${rule.pattern}” is kept from now on`)
  }
  return (
    <section aria-label="What is taken out">
      <SectionHead>What is taken out before anything is stored</SectionHead>
      <ul className="m-0 list-none p-0">
        <li className="border-b border-edge-soft py-1 text-ink-2">
          Always: e-mail addresses, tokens, card numbers by their check digit, and whatever is called a password, secret, cookie or key.
        </li>
        {data?.rows.map((rule) => (
          <li key={rule.ruleId} className="flex items-baseline gap-2 border-b border-edge-soft py-1">
            <span className="text-ink-2">{rule.kind === 'text' ? 'Texts like' : 'The attribute'}</span>
            <span className="font-mono text-[12px]">{rule.pattern}</span>
            <span className="text-ink-2">
              become <span className="font-mono text-[12px]">[{rule.kind === 'text' ? rule.name : 'removed'}]</span>
            </span>
            {may('scrub.change') && (
              <Button look="line" className="ml-auto" aria-label={`Remove the rule ${rule.pattern}`} onClick={() => void takeAway(rule)}>
                Remove
              </Button>
            )}
          </li>
        ))}
      </ul>
      {may('scrub.change') && <AddRule key={data?.rows.length ?? 0} />}
      <TryOut />
    </section>
  )
}

function AddRule() {
  const [add, { isLoading }] = useAddScrubRuleMutation()
  const { register, handleSubmit, watch } = useForm<{ kind: 'text' | 'attribute'; pattern: string; name: string }>({
    defaultValues: { kind: 'text', pattern: '', name: '' },
  })
  const { kind, pattern } = watch()
  const save = handleSubmit(async ({ name, ...rule }) => {
    const result = await add({ ...rule, name: name.trim() || 'removed' })
    if (result.error) toast.error(problemText(result.error))
    else toast.success('It is taken out of all that comes from now on')
  })
  return (
    <form aria-label="Take out more" className="mt-2 flex flex-wrap items-end gap-2" onSubmit={(event) => void save(event)}>
      <Field label="Take out">
        <Choose choices={KINDS} {...register('kind')} />
      </Field>
      <Field label={kind === 'text' ? 'Pattern (RE2)' : 'Name'}>
        <TextInput
          className="w-[180px]! font-mono"
          placeholder={kind === 'text' ? 'MEMBER-\\d+' : 'customer.card_code'}
          maxLength={200}
          {...register('pattern')}
        />
      </Field>
      {kind === 'text' && (
        <Field label="What stands there instead">
          <TextInput className="w-[120px]!" placeholder="member number" maxLength={40} {...register('name')} />
        </Field>
      )}
      <Button type="submit" disabled={isLoading || pattern.trim().length < 2}>
        Take it out
      </Button>
    </form>
  )
}

function TryOut() {
  const { register, handleSubmit, watch } = useForm({ defaultValues: { text: '' } })
  const [scrub, { data, isLoading }] = useTryScrubMutation()
  return (
    <form
      aria-label="Try it"
      className="mt-2 flex flex-wrap items-end gap-2"
      onSubmit={(event) => void handleSubmit(({ text }) => scrub(text))(event)}
    >
      <Field label="Try a text">
        <TextInput className="w-[340px]!" maxLength={10000} {...register('text')} />
      </Field>
      <Button type="submit" disabled={isLoading || watch('text') === ''}>
        Try
      </Button>
      {data && <output className="w-full font-mono text-[12px] break-words">{data.text}</output>}
    </form>
  )
}
