import type { Proposals } from '@dystracer/core/triage/wire'
import type { ReactNode } from 'react'
import { usePeople } from '#features/people/index'
import { requirementChoices, useRequirementsQuery } from '#features/requirements/requirements.api'
import { toChoices } from '#shared/lib/choices'
import { KEYS } from '#shared/lib/keys'
import { Choose, TextInput, type Choice } from '#shared/ui/fields'
import { SectionHead } from '#shared/ui/parts'
import { PROPOSALS_OF, type DecisionDraft, type DraftField } from './decision-draft'

/** What is decided about an item that is ours, each with what is proposed for it and why. */
export function DecisionFields({
  draft,
  proposals,
  isLocked,
  onChange: set,
}: {
  draft: DecisionDraft
  proposals: Proposals
  isLocked: boolean
  onChange: (changes: Partial<DecisionDraft>) => void
}) {
  const people = usePeople()
  const { data: requirements } = useRequirementsQuery()
  const chosenRequirement = requirements?.rows.find((row) => row.key === draft.requirement)
  const personChoices = (people.me?.people ?? []).map((person) => ({ value: person.personId, label: person.name }))
  const shared = { draft, proposals, isLocked, onChange: set }
  return (
    <>
      <Proposed {...shared} field="requirement" label="Breaks" none="no requirement" choices={requirementChoices(requirements?.rows)}>
        {chosenRequirement && <p className="mt-1 line-clamp-2 font-serif text-[14px]">{chosenRequirement.text}</p>}
      </Proposed>
      <Proposed {...shared} field="ownerId" label="Owner" none="nobody yet" choices={personChoices} />
      <Proposed {...shared} field="component" label="Component" none="not sure" choices={toChoices(people.me?.components ?? [])} />
      <Proposed {...shared} field="milestone" label="Milestone" none="none yet" choices={toChoices(people.me?.milestones ?? [])} />
      <div>
        <SectionHead>Title</SectionHead>
        <TextInput
          aria-label="Title"
          disabled={isLocked}
          value={draft.title}
          maxLength={200}
          onChange={(event) => set({ title: event.target.value })}
        />
      </div>
      <div>
        <SectionHead>How bad?</SectionHead>
        <div role="radiogroup" aria-label="Severity" className="flex gap-2">
          {[1, 2, 3, 4, 5].map((value) => (
            // biome-ignore lint/a11y/useSemanticElements: a numeral over a bar is drawn, the roles say what it is
            <button
              key={value}
              type="button"
              role="radio"
              disabled={isLocked}
              aria-checked={draft.severity === value}
              aria-label={`severity ${value}`}
              onClick={() => set({ severity: value })}
              className={`flex-1 border-b-[3px] pb-0.5 text-[15px] font-bold
                ${draft.severity === value ? 'border-fault' : 'border-edge'}
                ${value <= 2 ? 'text-fault' : value === 3 ? 'text-ink' : 'text-ink-3'}`}
            >
              {value}
            </button>
          ))}
        </div>
        <p className="mt-1 text-[12px] text-ink-2">
          {proposals.severity.value} looks right: {proposals.severity.reason}
        </p>
      </div>
    </>
  )
}

/**
 * A choice with its proposals: the reason for what is chosen, one key that takes the next, and the others to click. `children` say more
 * of what is chosen.
 */
function Proposed({
  field,
  label,
  none,
  choices,
  draft,
  proposals,
  isLocked,
  onChange,
  children,
}: {
  field: DraftField
  label: string
  none: string
  choices: readonly Choice[]
  draft: DecisionDraft
  proposals: Proposals
  isLocked: boolean
  onChange: (changes: Partial<DecisionDraft>) => void
  children?: ReactNode
}) {
  const rows = proposals[PROPOSALS_OF[field]]
  const chosen = rows.find((entry) => entry.value === draft[field])
  const other = rows.find((entry) => entry.value !== draft[field])
  return (
    <div>
      <div className="mb-0.5 flex items-center justify-between text-[12px] font-bold text-ink-3">
        {label}
        {rows.length > 0 && (
          <kbd
            title={`${KEYS.triage[field].shown} takes the next proposal`}
            className="rounded-[2px] border border-edge px-1 font-mono text-[11px] font-normal"
          >
            {KEYS.triage[field].shown}
          </kbd>
        )}
      </div>
      <Choose
        aria-label={label}
        className="py-1!"
        disabled={isLocked}
        value={draft[field]}
        none={none}
        onChange={({ target }) => onChange({ [field]: target.value })}
        choices={choices}
      />
      {children}
      {chosen && <p className="text-[12px] text-ink-2">{chosen.reason}</p>}
      {other && (
        <p className="text-[12px] text-ink-3">
          or{' '}
          <button type="button" className="link text-left" onClick={() => onChange({ [field]: other.value })}>
            {field === 'requirement' ? `${other.value} ${other.label}` : other.label}
          </button>{' '}
          · {other.reason}
        </p>
      )}
    </div>
  )
}
