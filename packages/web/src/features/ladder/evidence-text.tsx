import type { Evidence, EvidenceCode } from '@dystracer/core/ladder/ladder'
import type { ReactNode } from 'react'
import { age, plural } from '#shared/lib/format'
import { When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'

const WAITS: Record<string, string> = {
  'a-decision': 'waits for a decision',
  work: 'nobody has started',
  'pull-request': 'waits for a pull request',
  release: 'waits for a release with the fix',
  verification: 'waits for someone, or silence, to prove it',
}

/** What the words of a piece of evidence are made of. */
interface Telling {
  by: string | null
  ref: Evidence['ref']
  facts: Evidence['facts']
  nameOf: (actor: string | null) => string
  /** A fact as text; nothing if it is missing. */
  text: (name: string) => string
  /** Words that open the thing which gives the evidence. */
  link: (label: ReactNode) => ReactNode
  /** When it was, with a comma before. */
  when: ReactNode
}

const shortHash = (ref: Evidence['ref']) => ref?.id.slice(ref.id.indexOf('/') + 1, ref.id.indexOf('/') + 8)

/** The main line, or the long-lived one on which most of the fix stands. */
const lineWord = (facts: Record<string, unknown>) => (typeof facts.line === 'string' ? `the line ${facts.line}` : 'main')

/** The words for each kind of evidence; a new kind does not compile before it has some. */
const WORDS: Record<EvidenceCode, (telling: Telling) => ReactNode> = {
  'logged-by': ({ by, nameOf, when }) => (
    <>
      {nameOf(by)}
      {when}
    </>
  ),
  'logged-by-rule': ({ by, ref, nameOf, link, when }) => (
    <>
      {nameOf(by)}, from {link(`fault ${ref?.id ?? ''}`)}
      {when}
    </>
  ),
  'accepted-by': ({ by, nameOf, when }) => (
    <>
      {nameOf(by)}
      {when}
    </>
  ),
  'parts-stand': ({ text }) => (
    <>
      {text('reached')} of {text('of')} parts have come this far
    </>
  ),
  'started-by': ({ by, nameOf, when }) => (
    <>
      {nameOf(by)} started{when}
    </>
  ),
  branch: ({ facts, text, link }) => (
    <>{facts.isGone ? <span className="font-mono text-[12px] text-ink-3">{text('name')} (gone)</span> : link(text('name'))}</>
  ),
  commit: ({ ref, text, link, when }) => (
    <>
      {link(shortHash(ref))} <span className="text-ink-2">{text('subject')}</span>
      {when}
    </>
  ),
  'pull-request': ({ text, link, when }) => (
    <>
      {link(`pull request ${text('number')}`)} {text('state')}
      {when}
    </>
  ),
  review: ({ by, nameOf, when, facts }) => (
    <>
      {nameOf(by)} {facts.verdict === 'changes-asked' ? 'asks for changes' : 'agrees'}
      {when}
    </>
  ),
  'build-passed': ({ facts, text, link }) => (
    <>
      {link(`build ${text('number')}`)} passed, {plural(Number(facts.total), 'test')}
    </>
  ),
  'build-broke': ({ facts, text, link }) => (
    <span className="text-fault">
      {link(`build ${text('number')}`)} broke: {plural(Number(facts.failed), 'test')} of {text('total')}
    </span>
  ),
  'build-running': ({ text, link }) => <>{link(`build ${text('number')}`)} is running</>,
  'repository-unaffected': ({ by, nameOf, text, when }) => (
    <>
      {text('repository')} needs nothing of it, as {nameOf(by)} says: “{text('words')}”{when}
    </>
  ),
  'fix-on-main': ({ facts, ref, text, link, when }) => (
    <>
      on {lineWord(facts)} of {text('repository')}, as {link(shortHash(ref))}
      {when}
    </>
  ),
  'fix-not-on-main': ({ facts, text }) => (
    <>
      {text('patchesOnMain')} of {plural(Number(facts.patches), 'change')} on {lineWord(facts)} of {text('repository')}
    </>
  ),
  'fix-reverted': ({ ref, link }) => <span className="text-fault">taken back by {link(shortHash(ref))}</span>,
  'no-fix-yet': () => <>no commit says that it fixes this</>,
  'runs-in': ({ text, link, when }) => (
    <>
      {link(text('release'))} runs in {text('environment')}
      {when}
    </>
  ),
  'not-yet-in': ({ text, link }) => (
    <>
      {text('environment')} still runs {link(text('release'))}, without it
    </>
  ),
  'rolled-back': ({ text, link, when }) => (
    <span className="text-fault">
      {text('environment')} was rolled back to {link(text('release'))}
      {when}
    </span>
  ),
  'release-contains': ({ text, link, when }) => (
    <>
      {link(text('release'))} contains it{when}
    </>
  ),
  silent: ({ ref, text, link }) => (
    <>
      {link(ref?.id)} silent since then, {text('exercised')} requests seen
    </>
  ),
  'still-judging': ({ ref, facts, link }) => (
    <>
      {link(ref?.id)} must stay silent for{' '}
      {age(0, Number(facts.neededMs)) === '0 min' ? `${Number(facts.neededMs) / 1000} s` : age(0, Number(facts.neededMs))} of use
    </>
  ),
  'cannot-be-judged': () => <span className="text-ochre">nothing exercised it, so silence proves nothing; a person must verify</span>,
  'came-back': ({ ref, text, link, when }) => (
    <span className="text-fault">
      {link(ref?.id)} was seen again in {text('release')} ({text('environment')}){when}
    </span>
  ),
  'verified-by': ({ by, nameOf, when }) => (
    <>
      {nameOf(by)}
      {when}
    </>
  ),
  'tests-pass': ({ facts, text }) => (
    <>
      {plural(Number(facts.count), 'test')} that name it pass on {text('release')}
    </>
  ),
  'waits-for': ({ text }) => <>{WAITS[text('what')] ?? `waits for ${text('what')}`}</>,
  'claim-accepted': ({ by, nameOf, text, when }) => (
    <>
      {nameOf(by)} stands for it{when}: “{text('words')}”
    </>
  ),
  'imported-as': ({ by, nameOf, text, when }) => (
    <>
      imported as “{text('words')}” by {nameOf(by)}
      {when}
    </>
  ),
  'claimed-by': ({ by, nameOf, when }) => (
    <span className="text-ochre">
      {nameOf(by)} says so, without evidence{when}
    </span>
  ),
}

/** One piece of evidence in words, with a way to open it. */
export function EvidenceLine({ evidence, nameOf }: { evidence: Evidence; nameOf: (actor: string | null) => string }): ReactNode {
  const { code, by, atMs, ref, facts } = evidence
  return WORDS[code]({
    by,
    ref,
    facts,
    nameOf,
    text: (name) => String(facts[name] ?? ''),
    link: (label) => (ref ? <ThingLink to={ref}>{label}</ThingLink> : label),
    when:
      atMs === null ? null : (
        <span className="text-ink-3">
          , <When atMs={atMs} />
        </span>
      ),
  })
}
