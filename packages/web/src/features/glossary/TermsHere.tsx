import { termsIn } from '@dystracer/core/glossary/terms'
import { usePeople } from '#features/people/index'
import { SectionHead } from '#shared/ui/parts'
import { useTermsQuery } from './glossary.api'

/** What the words of a requirement mean, as far as the glossary says. */
export function TermsHere({ text }: { text: string }) {
  const project = usePeople().me?.project.prefix ?? ''
  const { data } = useTermsQuery(project, { skip: project === '' })
  const used = termsIn(text, data?.rows ?? [])
  if (used.length === 0) return null
  return (
    <section aria-label="Words in it" className="border-t border-edge px-4 py-3">
      <SectionHead>Words in it</SectionHead>
      <dl className="m-0">
        {used.map(({ term, meaning }) => (
          <div key={term} className="py-0.5">
            <dt className="inline font-serif font-bold">{term}: </dt>
            <dd className="m-0 inline text-ink-2">{meaning}</dd>
          </div>
        ))}
      </dl>
    </section>
  )
}
