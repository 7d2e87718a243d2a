import type { HistoryEntry } from '@dystracer/core/records/wire'
import type { NodeRef } from '@dystracer/core/basics/node-ref'
import { lazy, Suspense, useState } from 'react'
import { toast } from 'sonner'
import { useHistoryQuery, useUndoMutation } from '#shared/lib/api'
import { problemText } from '#shared/lib/problem-text'
import { usePeople } from '#shared/lib/use-people'
import { Button, SectionHead, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'

export function HistoryList({ itemKey }: { itemKey: string }) {
  const { data } = useHistoryQuery(itemKey)
  const { nameOf } = usePeople()
  const [undo] = useUndoMutation()
  return (
    <div className="border-t border-edge px-4 py-3">
      <SectionHead>History</SectionHead>
      <ol aria-label="History" className="m-0 list-none p-0">
        {data?.rows.map((entry) => (
          <li key={entry.seq} className="grid grid-cols-[74px_1fr] gap-2 border-b border-edge-soft py-1">
            <span className="font-mono text-[12px] text-ink-3">
              <When atMs={entry.atMs} />
            </span>
            <span className="min-w-0 break-words">
              <b>{nameOf(entry.by)}</b> {historyText(entry, nameOf)} {entry.source && <ThingLink to={entry.source} />}
              {entry.cause && <span className="text-ink-3"> · {entry.cause}</span>}
              {entry.canUndo && (
                <Button
                  look="line"
                  className="ml-1"
                  aria-label={`Take back: ${historyText(entry, nameOf)}`}
                  onClick={() =>
                    void undo({ seq: entry.seq }).then((result) =>
                      result.error ? toast.error(problemText(result.error)) : toast.success('Taken back'),
                    )
                  }
                >
                  take back
                </Button>
              )}
              <TextChange entry={entry} />
            </span>
          </li>
        ))}
      </ol>
    </div>
  )
}

const Redline = lazy(() => import('./Redline').then((module) => ({ default: module.Redline })))

/** How a text changed, word by word, once it is unfolded. */
function TextChange({ entry }: { entry: HistoryEntry }) {
  const [isOpen, setIsOpen] = useState(false)
  const change =
    entry.kind === 'comment-edited'
      ? { from: entry.facts.before, to: entry.facts.text }
      : entry.kind === 'item-changed'
        ? (entry.facts.changes as Record<string, { from: unknown; to: unknown }>).description
        : undefined
  if (!change) return null
  return (
    <>
      <Button look="line" className="ml-1" aria-expanded={isOpen} onClick={() => setIsOpen(!isOpen)}>
        {isOpen ? 'fold' : 'what changed'}
      </Button>
      {isOpen && (
        <Suspense fallback={null}>
          <Redline before={String(change.from ?? '')} after={String(change.to ?? '')} />
        </Suspense>
      )}
    </>
  )
}

const DECIDED: Record<string, string> = {
  accept: 'decided: ours',
  'same-as': 'decided: the same as another',
  ask: 'decided to ask',
  reject: 'decided: not ours to change',
}

/** A journal entry in words, without who did it. */
export function historyText(entry: Pick<HistoryEntry, 'kind' | 'facts'>, nameOf: (actor: string | null) => string): string {
  const { kind, facts } = entry
  const to = facts.to as NodeRef | string | undefined
  switch (kind) {
    case 'item-logged':
      return `logged “${String(facts.title)}”`
    case 'item-accepted':
      return 'accepted it'
    case 'item-rejected':
      return `rejected it: ${String(facts.disposition).replaceAll('-', ' ')}`
    case 'item-reopened':
      return 'opened it again'
    case 'triage-decided':
      return DECIDED[String(facts.decision)] ?? 'decided'
    case 'acceptance-withdrawn':
      return 'took the acceptance back'
    case 'item-merged':
      return `put ${String(facts.key)} into ${String(facts.into)}`
    case 'item-split':
      return `split ${String(facts.key)} off again`
    case 'reporter-asked':
      return `asked the reporter: “${String(facts.words)}”`
    case 'reporter-answered':
      return 'answered what was asked'
    case 'asking-ended':
      return 'asked no longer'
    case 'item-started':
      return `started work on ${String(facts.branch)}`
    case 'item-verified':
      return 'verified it'
    case 'stage-claimed':
      return `claimed ${String(facts.stage)}`
    case 'ladder-moved':
      return facts.from === to && !facts.hasComeBack
        ? 'took in new evidence'
        : facts.hasComeBack
          ? 'came back: the ladder is contradicted'
          : `moved the ladder from ${String(facts.from)} to ${String(to)}`
    case 'item-changed':
      return Object.entries(facts.changes as Record<string, { from: unknown; to: unknown }>)
        .map(([field, change]) => `changed ${FIELD[field] ?? field} from ${shown(field, change.from, nameOf)} to ${shown(field, change.to, nameOf)}`)
        .join('; ')
    case 'comment-added':
      return 'commented'
    case 'time-booked':
      return `booked ${String(facts.minutes)} min`
    case 'time-taken-back':
      return `took back a booking of ${String(facts.minutes)} min`
    case 'comment-edited':
      return 'edited a comment'
    case 'comment-reacted':
      return facts.isOn ? `reacted: ${String(facts.reaction)}` : `took a reaction back: ${String(facts.reaction)}`
    case 'follower-changed':
      return facts.isOn ? 'follows it' : 'stopped following'
    case 'attachment-added':
      return `added the file ${String(facts.name)}`
    case 'attachment-removed':
      return `removed the file ${String(facts.name)}`
    case 'item-moved':
      return `moved it from ${String(facts.key)} to ${String(facts.newKey)}`
    case 'change-undone':
      return 'took a change back'
    case 'link-asserted':
      return `${LINK[String(facts.kind)] ?? String(facts.kind)} ${typeof to === 'object' ? idOf(to) : ''}`
    case 'link-retracted':
      return `took back: ${LINK[String(facts.kind)] ?? String(facts.kind)} ${typeof to === 'object' ? idOf(to) : ''}`
    case 'fault-in-release':
      return `saw ${String(facts.fault)} in ${String(facts.release)} (${String(facts.environment)})`
    case 'rule-fired':
      return `fired for F-${String(facts.fault)}`
    default:
      return kind.replaceAll('-', ' ')
  }
}

const FIELD: Record<string, string> = {
  ownerId: 'owner',
  coOwnerIds: 'also owned by',
  dueOn: 'due date',
  estimateMinutes: 'estimate',
  foundIn: 'found in',
  plannedFor: 'planned for',
  ownValues: 'own fields',
  isConfidential: 'confidential',
  namedIds: 'people who may see it',
  isArchived: 'archived',
}
const LINK: Record<string, string> = {
  tied: 'tied',
  fixes: 'tied as its fix',
  breaks: 'tied as breaking',
  implements: 'tied as implementing',
  'same-as': 'the same as',
  'see-also': 'see also',
}

function idOf(ref: NodeRef): string {
  return ref.kind === 'commit'
    ? `commit ${ref.id.slice(ref.id.indexOf('/') + 1, ref.id.indexOf('/') + 8)}`
    : ref.kind === 'item' || ref.kind === 'requirement' || ref.kind === 'fault'
      ? ref.id
      : `${ref.kind.replace('-', ' ')} ${ref.id.slice(ref.id.indexOf('/') + 1)}`
}

function shown(field: string, value: unknown, nameOf: (actor: string | null) => string): string {
  if (value === null || value === undefined || value === '') return 'nothing'
  if (field === 'ownerId') return nameOf(String(value))
  if (field === 'coOwnerIds' || field === 'namedIds') return (value as string[]).map(nameOf).join(', ') || 'nobody'
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (typeof value === 'object' && !Array.isArray(value))
    return (
      Object.entries(value)
        .flatMap(([name, entry]) => (entry === null ? [] : [`${name} ${String(entry)}`]))
        .join(', ') || 'nothing'
    )
  return field === 'description' ? 'its text' : Array.isArray(value) ? value.join(', ') || 'nothing' : String(value)
}
