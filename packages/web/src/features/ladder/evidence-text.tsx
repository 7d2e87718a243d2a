import type { Evidence } from '@dystracer/core/ladder/ladder'
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

/** One piece of evidence in words, with a way to open it. */
export function EvidenceLine({ evidence, nameOf }: { evidence: Evidence; nameOf: (actor: string | null) => string }): ReactNode {
  const { code, by, atMs, ref, facts } = evidence
  const text = (name: string) => String(facts[name] ?? '')
  const when =
    atMs === null ? null : (
      <span className="text-ink-3">
        , <When atMs={atMs} />
      </span>
    )
  const link = (label: ReactNode) => (ref ? <ThingLink to={ref}>{label}</ThingLink> : label)
  switch (code) {
    case 'logged-by':
      return (
        <>
          {nameOf(by)}
          {when}
        </>
      )
    case 'logged-by-rule':
      return (
        <>
          {nameOf(by)}, from {link(`fault ${ref?.id ?? ''}`)}
          {when}
        </>
      )
    case 'accepted-by':
      return (
        <>
          {nameOf(by)}
          {when}
        </>
      )
    case 'parts-stand':
      return (
        <>
          {text('reached')} of {text('of')} parts have come this far
        </>
      )
    case 'started-by':
      return (
        <>
          {nameOf(by)} started{when}
        </>
      )
    case 'branch':
      return <>{facts.isGone ? <span className="font-mono text-[12px] text-ink-3">{text('name')} (gone)</span> : link(text('name'))}</>
    case 'commit':
      return (
        <>
          {link(ref?.id.slice(ref.id.indexOf('/') + 1, ref.id.indexOf('/') + 8))} <span className="text-ink-2">{text('subject')}</span>
          {when}
        </>
      )
    case 'pull-request':
      return (
        <>
          {link(`pull request ${text('number')}`)} {text('state')}
          {when}
        </>
      )
    case 'review':
      return (
        <>
          {nameOf(by)} reviewed{when}
        </>
      )
    case 'build-passed':
      return (
        <>
          {link(`build ${text('number')}`)} passed, {plural(Number(facts.total), 'test')}
        </>
      )
    case 'build-broke':
      return (
        <span className="text-fault">
          {link(`build ${text('number')}`)} broke: {plural(Number(facts.failed), 'test')} of {text('total')}
        </span>
      )
    case 'build-running':
      return <>{link(`build ${text('number')}`)} is running</>
    case 'fix-on-main':
      return (
        <>
          on main of {text('repository')}, as {link(ref?.id.slice(ref.id.indexOf('/') + 1, ref.id.indexOf('/') + 8))}
          {when}
        </>
      )
    case 'fix-not-on-main':
      return (
        <>
          {text('patchesOnMain')} of {plural(Number(facts.patches), 'change')} on main of {text('repository')}
        </>
      )
    case 'fix-reverted':
      return <span className="text-fault">taken back by {link(ref?.id.slice(ref.id.indexOf('/') + 1, ref.id.indexOf('/') + 8))}</span>
    case 'no-fix-yet':
      return <>no commit says that it fixes this</>
    case 'runs-in':
      return (
        <>
          {link(text('release'))} runs in {text('environment')}
          {when}
        </>
      )
    case 'not-yet-in':
      return (
        <>
          {text('environment')} still runs {link(text('release'))}, without it
        </>
      )
    case 'rolled-back':
      return (
        <span className="text-fault">
          {text('environment')} was rolled back to {link(text('release'))}
          {when}
        </span>
      )
    case 'release-contains':
      return (
        <>
          {link(text('release'))} contains it{when}
        </>
      )
    case 'silent':
      return (
        <>
          {link(ref?.id)} silent since then, {text('exercised')} requests seen
        </>
      )
    case 'still-judging':
      return (
        <>
          {link(ref?.id)} must stay silent for{' '}
          {age(0, Number(facts.neededMs)) === '0 min' ? `${Number(facts.neededMs) / 1000} s` : age(0, Number(facts.neededMs))} of use
        </>
      )
    case 'cannot-be-judged':
      return <span className="text-ochre">nothing exercised it, so silence proves nothing; a person must verify</span>
    case 'came-back':
      return (
        <span className="text-fault">
          {link(ref?.id)} was seen again in {text('release')} ({text('environment')}){when}
        </span>
      )
    case 'verified-by':
      return (
        <>
          {nameOf(by)}
          {when}
        </>
      )
    case 'tests-pass':
      return (
        <>
          {plural(Number(facts.count), 'test')} that name it pass on {text('release')}
        </>
      )
    case 'waits-for':
      return <>{WAITS[text('what')] ?? `waits for ${text('what')}`}</>
    case 'claimed-by':
      return (
        <span className="text-ochre">
          {nameOf(by)} says so; no evidence yet{when}
        </span>
      )
    default:
      return <>{code.replaceAll('-', ' ')}</>
  }
}
