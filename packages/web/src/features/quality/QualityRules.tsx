import { PLAIN_QUALITY_RULE, type QualityRule } from '@dystracer/core/quality/quality-rule'
import { freeIdFrom } from '@dystracer/core/text/id-from'
import { useState } from 'react'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { problemText } from '#shared/lib/problem-text'
import { Button, Pending, SectionHead } from '#shared/ui/parts'
import { useQualityRulesQuery, useSetQualityRulesMutation } from './quality.api'
import { QualityRuleDialog } from './QualityRuleDialog'
import { didWords, qualityRuleWords, ruleOf } from './rule-words'

const NEW_RULE: QualityRule = { ...PLAIN_QUALITY_RULE, labels: [], tellIds: [], ruleId: '', name: '', about: 'test', where: '' }

/** What is done by itself about failing tests, new findings and coverage that fell: the rules in the order in which they are asked. */
export function QualityRules() {
  const { me, may } = usePeople()
  const project = me?.project.prefix ?? ''
  const { data, error, isLoading } = useQualityRulesQuery(project, { skip: project === '' })
  const [save] = useSetQualityRulesMutation()
  const [edited, setEdited] = useState<QualityRule | null>(null)
  const canEdit = may('intake-rules.change')
  const rules = (data?.rows ?? []).map(ruleOf)
  const set = async (next: QualityRule[]): Promise<unknown> => (await save({ project, rules: next })).error
  const setOrTell = async (next: QualityRule[]) => {
    const refused = await set(next)
    if (refused) toast.error(problemText(refused))
    return refused === undefined
  }
  const move = (at: number, by: number) => {
    const next = rules.filter((_, index) => index !== at)
    const moved = rules[at]
    if (moved) next.splice(at + by, 0, moved)
    void setOrTell(next)
  }
  const remove = async (rule: QualityRule) => {
    if (!(await setOrTell(rules.filter(({ ruleId }) => ruleId !== rule.ruleId)))) return
    toast.success(`${rule.name} is removed; its items stay`, { action: { label: 'Take back', onClick: () => void setOrTell(rules) } })
  }
  /** Puts a rule in its place, or a new one at the end. */
  const keep = (rule: QualityRule) => {
    const isKnown = rules.some(({ ruleId }) => ruleId === rule.ruleId)
    const named = isKnown ? rule : { ...rule, ruleId: freeId(rule.name, rules) }
    return set(isKnown ? rules.map((one) => (one.ruleId === rule.ruleId ? named : one)) : [...rules, named])
  }
  return (
    <section aria-label="Rules about what builds bring">
      <SectionHead>What is done by itself about failing tests, findings and coverage</SectionHead>
      <Pending error={error} isLoading={isLoading} />
      {data?.isDefault && <p className="m-0 text-ink-2">These hold until the project says otherwise.</p>}
      {data && rules.length === 0 && <p className="m-0 text-ink-2">Nothing: what builds bring becomes items by hand.</p>}
      <ol className="m-0 list-none p-0">
        {(data?.rows ?? []).map((row, at) => (
          <li key={row.ruleId} className="flex items-baseline gap-2 border-b border-edge-soft py-1.5">
            <span className="min-w-0 flex-1">
              {canEdit ? (
                <button type="button" onClick={() => setEdited(ruleOf(row))} className="link min-h-6 font-bold">
                  {row.name}
                </button>
              ) : (
                <b>{row.name}</b>
              )}
              {row.isDraft && <span className="ml-2 text-ochre">draft, does nothing</span>}
              <span className="block text-ink-2">{qualityRuleWords(row)}</span>
              <span className="block text-[12px] text-ink-3">{didWords(row)}</span>
            </span>
            {canEdit && (
              <span className="flex shrink-0 gap-1">
                <Button look="line" disabled={at === 0} aria-label={`Move ${row.name} up`} onClick={() => move(at, -1)}>
                  up
                </Button>
                <Button look="line" disabled={at === rules.length - 1} aria-label={`Move ${row.name} down`} onClick={() => move(at, 1)}>
                  down
                </Button>
                <Button look="line" aria-label={`Remove ${row.name}`} onClick={() => void remove(ruleOf(row))}>
                  remove
                </Button>
              </span>
            )}
          </li>
        ))}
      </ol>
      {canEdit && (
        <p className="mt-2">
          <Button onClick={() => setEdited(NEW_RULE)}>New rule…</Button>
        </p>
      )}
      {edited && <QualityRuleDialog project={project} rule={edited} onKeep={keep} onClose={() => setEdited(null)} />}
    </section>
  )
}

function freeId(name: string, rules: readonly QualityRule[]): string {
  return freeIdFrom(name, { isTaken: (id) => rules.some(({ ruleId }) => ruleId === id), stem: 'rule', maxChars: 30 })
}
