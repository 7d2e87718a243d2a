import { Copyable } from '#shared/ui/Copyable'
import { Pending, SectionHead, When } from '#shared/ui/parts'
import { useArtefactsQuery } from './builds.api'

/** What a release was built into. */
export function Artefacts({ release }: { release: string }) {
  const { data, error, isLoading } = useArtefactsQuery(release)
  return (
    <section aria-label="What it was built into" className="border-t border-edge px-4 py-3">
      <SectionHead>What it was built into</SectionHead>
      <Pending error={error} isLoading={isLoading} />
      {data?.total === 0 && (
        <p className="text-ink-2">
          Nothing that a build service told of: it says so by CDEvents of artefacts that bear this version or name this commit.
        </p>
      )}
      <ul aria-label="Artefacts" className="m-0 list-none p-0">
        {data?.rows.map((row) => (
          <li key={row.purl} className="border-b border-edge-soft py-1 last:border-0">
            <p className="flex flex-wrap gap-x-2">
              <b className={row.state === 'deleted' ? 'line-through' : ''}>{row.name}</b>
              {row.version !== null && <span className="font-mono text-[12px]">{row.version}</span>}
              <span className="text-ink-2">
                {row.state} <When atMs={row.atMs} />
              </span>
              {row.sbomUrl !== null && (
                <a className="link" href={row.sbomUrl} rel="noreferrer noopener" target="_blank">
                  what it is made of
                </a>
              )}
            </p>
            <Copyable label={`package URL of ${row.name}`} text={row.purl} />
          </li>
        ))}
      </ul>
      {data && data.total > data.rows.length && (
        <p className="text-ink-2">
          The newest {data.rows.length} of {data.total}.
        </p>
      )}
    </section>
  )
}
