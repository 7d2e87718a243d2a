import { acronymsOf, findTermTrouble } from '@dystracer/core/glossary/terms'
import type { GlossaryTerm } from '@dystracer/core/glossary/wire'
import type { Requirement } from '@dystracer/core/requirements/wire'
import { explainedIn, findContradictions, findWriting, type WritingCode, type WritingFinding } from '@dystracer/core/requirements/writing'
import { useMemo, useState } from 'react'
import { useTermsQuery } from '#features/glossary/glossary.api'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { TextInput } from '#shared/ui/fields'
import { Button, Quiet } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useAcceptedWritingQuery, useAcceptWritingMutation } from './requirements.api'

/** Each rule as what it says of the words. */
const RULES: Record<WritingCode, (finding: WritingFinding) => string> = {
  vague: () => 'each reader understands it as they like',
  unbounded: () => 'no number says how much, so that no test can decide',
  'no-unit': () => 'a number without its unit',
  several: () => 'more than one demand: each could be a requirement of its own',
  passive: () => 'nobody is named who does it',
  'open-list': () => 'what else belongs to it is left open',
  unexplained: () => 'nowhere is it said what it stands for',
  'other-word': ({ other }) => `the glossary calls it “${other}”`,
  'undefined-term': () => 'it is marked as a term, and the glossary does not have it',
  contradiction: ({ other }) => `${other} says nearly the same with another number`,
}
interface Found extends WritingFinding {
  key: string
}

/** What may be wrong with how requirements are written, by requirement, each with its rule; somebody may let it stand, with a reason. */
export function WritingList({ project, rows, canAccept }: { project: string; rows: readonly Requirement[]; canAccept: boolean }) {
  const { data } = useAcceptedWritingQuery(project)
  const { data: glossary } = useTermsQuery(project)
  const { nameOf } = usePeople()
  const found = useMemo(() => findingsOf(rows, glossary?.rows ?? []), [rows, glossary])
  const reasons = new Map(data?.accepted.map((one) => [nameOfFinding(one), one]))
  const open = found.filter((one) => !reasons.has(nameOfFinding(one)))
  const left = found.filter((one) => reasons.has(nameOfFinding(one)))
  if (found.length === 0) return <Quiet>Nothing stands out in how they are written.</Quiet>
  return (
    <div className="px-4 py-3">
      <p className="m-0 mb-2 text-ink-2">
        {plural(open.length, 'place')} that readers could take in two ways, or that no test could decide
        {left.length > 0 && `; ${left.length} may stand`}.
      </p>
      <ul aria-label="Findings" className="m-0 list-none p-0">
        {open.map((one) => (
          <li
            key={nameOfFinding(one) + one.at}
            className="border-b border-edge-soft py-1 [contain-intrinsic-size:auto_32px] [content-visibility:auto]"
          >
            <ThingLink to={{ kind: 'requirement', id: one.key }} /> <b className="font-serif text-[15px]">{one.words}</b>{' '}
            <span className="text-ochre">{RULES[one.code](one)}</span> {canAccept && <LetStand project={project} finding={one} />}
          </li>
        ))}
      </ul>
      {left.length > 0 && (
        <details className="mt-3">
          <summary className="link">{plural(left.length, 'finding')} that may stand</summary>
          <ul className="m-0 list-none p-0">
            {left.map((one) => {
              const accepted = reasons.get(nameOfFinding(one))
              return (
                <li key={nameOfFinding(one) + one.at} className="border-b border-edge-soft py-1">
                  <ThingLink to={{ kind: 'requirement', id: one.key }} /> <span className="font-serif">{one.words}</span>{' '}
                  <span className="text-ink-2">{accepted && `${nameOf(accepted.by)}: ${accepted.reason}`}</span>{' '}
                  {canAccept && <CountAgain project={project} finding={one} />}
                </li>
              )
            })}
          </ul>
        </details>
      )}
    </div>
  )
}

function findingsOf(rows: readonly Requirement[], glossary: readonly GlossaryTerm[]): Found[] {
  const standing = rows.filter(({ isRetired, isHeading }) => !isRetired && !isHeading)
  const explained = new Set([...explainedIn(rows.flatMap(({ title, text }) => [title, text])), ...acronymsOf(glossary)])
  const contradictions = findContradictions(standing)
  return standing.flatMap(({ key, text }) =>
    [...findWriting(text, explained), ...findTermTrouble(text, glossary), ...(contradictions.get(key) ?? [])].map((finding) => ({
      ...finding,
      key,
    })),
  )
}

function nameOfFinding({ key, code, words }: { key: string; code: string; words: string }): string {
  return JSON.stringify([key, code, words])
}

function LetStand({ project, finding: { key, code, words } }: { project: string; finding: Found }) {
  const [accept] = useAcceptWritingMutation()
  const [isAsking, setIsAsking] = useState(false)
  if (!isAsking)
    return (
      <Button look="line" aria-label={`let it stand: ${words} in ${key}`} onClick={() => setIsAsking(true)}>
        let it stand…
      </Button>
    )
  return (
    <form
      className="mt-1 flex gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        const reason = String(new FormData(event.currentTarget).get('reason')).trim()
        if (reason === '') return
        void accept({ project, key, code, words, reason }).then(tellRefusal)
      }}
    >
      <TextInput autoFocus name="reason" aria-label={`Why “${words}” may stand`} placeholder="why" maxLength={2000} />
      <Button look="line" type="submit" className="shrink-0">
        let it stand
      </Button>
    </form>
  )
}

function CountAgain({ project, finding: { key, code, words } }: { project: string; finding: Found }) {
  const [accept] = useAcceptWritingMutation()
  return (
    <Button
      look="line"
      aria-label={`count it again: ${words} in ${key}`}
      onClick={() => void accept({ project, key, code, words, reason: null }).then(tellRefusal)}
    >
      count it again
    </Button>
  )
}
