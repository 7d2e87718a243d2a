import { WordChoice } from '#shared/ui/Words'
import { usePeople } from './use-people'

interface Props {
  ids: readonly string[]
  onChange: (ids: string[]) => void
  /** How the sentence goes up to the names, and what stands for nobody. */
  begin: string
  none: string
}

/** Whom a rule tells, as the end of its sentence: names to be taken out, and one to be added. */
export function ToldPeople({ ids, onChange, begin, none }: Props) {
  const { me, nameOf } = usePeople()
  return (
    <p className="m-0">
      {begin}{' '}
      {ids.map((personId) => (
        <button
          key={personId}
          type="button"
          aria-label={`Do not tell ${nameOf(personId)}`}
          onClick={() => onChange(ids.filter((one) => one !== personId))}
          className="mr-2 min-h-6 border-b border-proof font-bold hover:text-fault hover:line-through"
        >
          {nameOf(personId)} <span aria-hidden="true">×</span>
        </button>
      ))}
      <WordChoice
        label="Whom to tell"
        none={ids.length === 0 ? none : 'and…'}
        value=""
        choices={(me?.people ?? [])
          .filter((person) => !ids.includes(person.personId))
          .map((person) => ({ value: person.personId, label: person.name }))}
        onChange={(event) => onChange([...ids, event.target.value])}
      />
      .
    </p>
  )
}
