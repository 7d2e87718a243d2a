import { broughtInWords } from '@dystracer/core/findings/quality-sentence'
import { FoundList } from '#features/findings/index'
import { plural } from '#shared/lib/format'
import { SectionHead } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useBuildFindingsQuery } from './builds.api'

/** What analysers found at the commit of a build: new ones first, then what is gone; nothing where no report of findings came. */
export function Findings({ id, repository }: { id: string; repository: string }) {
  const { data } = useBuildFindingsQuery(id)
  if (!data?.isAnalysed) return null
  const { fresh, gone, stayed, against, more, brought } = data
  const news = brought.bug + brought.weakness + brought.smell
  const counted = fresh.filter(({ aside }) => aside === null)
  const aside = fresh.filter((row) => row.aside !== null)
  return (
    <section aria-label="Findings" className="border-t border-edge px-4 py-3">
      <SectionHead>Findings</SectionHead>
      <p className="m-0">
        <span className={`text-[22px] ${news > 0 ? 'text-fault' : ''}`}>{news}</span> new, {gone.length} gone, {stayed} as before
        {against === null ? '; no commit before it was analysed' : ', against '}
        {against !== null && <ThingLink to={{ kind: 'commit', id: `${repository}/${against}` }} />}
        {more > 0 && `; ${more} more not listed`}
      </p>
      <p className="m-0 text-ink-2">It brings: {broughtInWords({ brought, debtMinutes: brought.debtMinutes })}.</p>
      <FoundList label="New findings" rows={counted} repository={repository} />
      {aside.length > 0 && (
        <details className="mt-1">
          <summary className="text-[12px] text-ink-2">{plural(aside.length, 'new finding')} set aside</summary>
          <FoundList label="New findings that are set aside" rows={aside} repository={repository} />
        </details>
      )}
      {gone.length > 0 && (
        <details className="mt-1">
          <summary className="text-[12px] text-ink-2">{plural(gone.length, 'finding')} gone</summary>
          <FoundList label="Findings that are gone" rows={gone} repository={repository} />
        </details>
      )}
    </section>
  )
}
