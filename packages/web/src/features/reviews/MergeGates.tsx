import type { RepositoryGates } from '@dystracer/core/reviews/wire'
import { useState } from 'react'
import { toast } from 'sonner'
import { useRepositoriesQuery } from '#features/code/code.api'
import { usePeople } from '#features/people/index'
import { problemText } from '#shared/lib/problem-text'
import { Choose, TextInput } from '#shared/ui/fields'
import { Button, Pending, SectionHead } from '#shared/ui/parts'
import { GateTrial } from './GateTrial'
import { MergeHoursPart } from './MergeHoursPart'
import { QualityPart } from './QualityPart'
import { useDropMergeGatesMutation, useMergeGatesQuery, useSetMergeGatesMutation } from './reviews.api'

type Rule = RepositoryGates['rules'][number]
type Condition = Exclude<keyof Rule, 'branches' | 'agreements' | 'hours' | 'coverageAtLeast' | 'quality'>
/** So much is asked for to begin with. */
const USUAL_PERCENT = 80
const USUAL_QUALITY = '0 new bugs, debt +30 min'

const AGREEMENTS = ['0', '1', '2', '3'] as const
const AGREEMENT_WORDS: Record<(typeof AGREEMENTS)[number], string> = { 0: 'nobody', 1: 'one person', 2: 'two people', 3: 'three people' }
/** Each condition as the part of a sentence that it is. */
const CONDITIONS: Record<Condition, string> = {
  needsOwners: 'those who look after its files agree',
  needsSettled: 'every remark is settled',
  needsItem: 'an item is tied',
  needsRequirement: 'a requirement asks for it',
  needsNoSuspects: 'no tie to a requirement waits to be looked at',
  needsTime: 'time is logged',
  noNewFindings: 'it brings no new finding',
  notWhileBroken: 'the line is not broken',
  triesOnTop: 'it was built on top of those before it, if it lives here',
}
const NOTHING: Omit<Rule, 'branches'> = {
  agreements: 0,
  needsOwners: false,
  needsSettled: false,
  needsItem: false,
  needsRequirement: false,
  needsNoSuspects: false,
  needsTime: false,
  noNewFindings: false,
  coverageAtLeast: null,
  quality: '',
  triesOnTop: false,
  notWhileBroken: false,
  hours: null,
}

/** What has to hold before a merge, for each repository, as the sentence that it is: its words are the controls. */
export function MergeGates() {
  const { data, error, isLoading } = useRepositoriesQuery()
  return (
    <section aria-label="Before a merge">
      <SectionHead>Before a merge</SectionHead>
      <p className="mb-1 text-ink-2">
        A build that broke and somebody who asks for changes always stand in the way. A repository may keep this itself, in{' '}
        <span className="font-mono text-[12px]">.dystracer/gates.yml</span> on its main line.
      </p>
      <Pending error={error} isLoading={isLoading} />
      <ul className="m-0 list-none p-0">
        {data?.rows.map(({ repository }) => (
          <GatesOf key={repository} repository={repository} />
        ))}
      </ul>
    </section>
  )
}

function GatesOf({ repository }: { repository: string }) {
  const { data } = useMergeGatesQuery(repository)
  const { may } = usePeople()
  const [isTried, setIsTried] = useState(false)
  if (!data) return null
  const canEdit = may('gates.set') && data.file === null
  const rules =
    data.rules.some(({ branches }) => branches === '*') || data.file ? data.rules : [{ branches: '*', ...NOTHING }, ...data.rules]
  return (
    <li className="border-b border-edge-soft py-1">
      {data.file && (
        <p className={`m-0 ${data.file.problem ? 'text-fault' : 'text-ink-2'}`}>
          {repository} keeps them in {data.file.path}
          {data.file.problem && `, which cannot be read: ${data.file.problem}. Until it can, nothing is merged`}.
        </p>
      )}
      {rules.map((rule) => (
        <RuleOf key={rule.branches} repository={repository} rule={rule} canEdit={canEdit} />
      ))}
      <div className="flex flex-wrap gap-3">
        {canEdit && <FurtherBranches repository={repository} />}
        <Button
          look="line"
          aria-expanded={isTried}
          aria-label={`what it would have stopped: ${repository}`}
          onClick={() => setIsTried(!isTried)}
        >
          what it would have stopped
        </Button>
      </div>
      {isTried && <GateTrial repository={repository} />}
    </li>
  )
}

function RuleOf({ repository, rule, canEdit }: { repository: string; rule: Rule; canEdit: boolean }) {
  const [set] = useSetMergeGatesMutation()
  const [drop] = useDropMergeGatesMutation()
  const told = (result: { error?: unknown }) =>
    void (result.error ? toast.error(problemText(result.error)) : toast.success(`Saved for ${repository}`))
  const change = (more: Partial<Rule>) => void set({ repository, ...rule, ...more }).then(told)
  const asked = (Object.keys(CONDITIONS) as Condition[]).filter((name) => rule[name])
  const left = (Object.keys(CONDITIONS) as Condition[]).filter((name) => !rule[name])
  const where = rule.branches === '*' ? repository : `${repository} into ${rule.branches}`
  return (
    <div className="flex flex-wrap items-center gap-2 py-0.5">
      <span>
        In <b>{repository}</b>
        {rule.branches !== '*' && (
          <>
            {' '}
            into <span className="font-mono text-[12px]">{rule.branches}</span>
          </>
        )}
      </span>
      <Choose
        aria-label={`How many agree in ${where}`}
        className="w-auto! py-0.5!"
        disabled={!canEdit}
        value={String(Math.min(rule.agreements, 3)) as (typeof AGREEMENTS)[number]}
        choices={AGREEMENTS.map((value) => ({ value, label: AGREEMENT_WORDS[value] }))}
        onChange={({ target }) => change({ agreements: Number(target.value) })}
      />
      <span>who wrote none of it agrees</span>
      {asked.map((name) => (
        <span key={name}>
          and {CONDITIONS[name]}{' '}
          {canEdit && (
            <Button look="line" aria-label={`not any more: ${CONDITIONS[name]}, ${where}`} onClick={() => change({ [name]: false })}>
              not any more
            </Button>
          )}
        </span>
      ))}
      {rule.coverageAtLeast !== null && (
        <span>
          and tests run at least{' '}
          <TextInput
            type="number"
            min={1}
            max={100}
            aria-label={`So many of a hundred changed lines, in ${where}`}
            className="inline-block! w-[64px]! py-0.5!"
            disabled={!canEdit}
            defaultValue={rule.coverageAtLeast}
            onBlur={({ target }) => {
              const percent = Number(target.value)
              if (Number.isInteger(percent) && percent >= 1 && percent <= 100 && percent !== rule.coverageAtLeast)
                change({ coverageAtLeast: percent })
              else target.value = String(rule.coverageAtLeast)
            }}
          />{' '}
          of a hundred lines that it brings{' '}
          {canEdit && (
            <Button look="line" aria-label={`not any more: coverage, ${where}`} onClick={() => change({ coverageAtLeast: null })}>
              not any more
            </Button>
          )}
        </span>
      )}
      {rule.quality !== '' && (
        <QualityPart sentence={rule.quality} where={where} canEdit={canEdit} onChange={(quality) => change({ quality })} />
      )}
      {rule.hours && <MergeHoursPart hours={rule.hours} where={where} canEdit={canEdit} onChange={(hours) => change({ hours })} />}
      {canEdit && (
        <Choose
          aria-label={`and, in ${where}`}
          className="w-auto! py-0.5!"
          none="and …"
          value=""
          choices={[
            ...left.map((name) => ({ value: name as string, label: CONDITIONS[name] })),
            ...(rule.coverageAtLeast === null ? [{ value: 'coverage', label: 'tests run most of the lines that it brings' }] : []),
            ...(rule.quality === '' ? [{ value: 'quality', label: 'it keeps to a quality' }] : []),
            ...(rule.hours ? [] : [{ value: 'hours', label: 'only at certain hours' }]),
          ]}
          onChange={({ target }) => change(beginOf(target.value))}
        />
      )}
      {canEdit && rule.branches !== '*' && (
        <Button
          look="line"
          aria-label={`drop what holds for ${where}`}
          onClick={() => void drop({ repository, branches: rule.branches }).then(told)}
        >
          drop
        </Button>
      )}
    </div>
  )
}

/** What a condition is when it is added. */
function beginOf(name: string): Partial<Rule> {
  if (name === 'hours') return { hours: usualHours() }
  if (name === 'quality') return { quality: USUAL_QUALITY }
  return name === 'coverage' ? { coverageAtLeast: USUAL_PERCENT } : { [name]: true }
}

/** Weekdays but Friday, in office hours, by the clock of whoever sets it. */
function usualHours(): NonNullable<Rule['hours']> {
  return { days: [1, 2, 3, 4], from: '08:00', until: '16:00', zone: Intl.DateTimeFormat().resolvedOptions().timeZone }
}

/** Other gates for bases that a pattern names. */
function FurtherBranches({ repository }: { repository: string }) {
  const [set] = useSetMergeGatesMutation()
  const [isOpen, setIsOpen] = useState(false)
  if (!isOpen)
    return (
      <Button look="line" aria-label={`otherwise for some branches: ${repository}`} onClick={() => setIsOpen(true)}>
        otherwise for some branches …
      </Button>
    )
  const add = async (branches: string) => {
    const result = await set({ repository, branches, agreements: 1 })
    if (result.error) toast.error(problemText(result.error))
    else setIsOpen(false)
  }
  return (
    <form
      className="flex gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        const branches = String(new FormData(event.currentTarget).get('branches')).trim()
        if (branches !== '') void add(branches)
      }}
    >
      <TextInput
        name="branches"
        aria-label={`Branches of ${repository}`}
        placeholder="release/*"
        maxLength={200}
        className="w-40! py-0.5!"
      />
      <Button look="line" type="submit">
        ask for more there
      </Button>
    </form>
  )
}
