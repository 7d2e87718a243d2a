import { useRepositoriesQuery } from '#features/code/code.api'
import { Copyable } from '#shared/ui/Copyable'
import { Button, Refusal, SectionHead } from '#shared/ui/parts'
import { useLazyBadgeLinkQuery } from './builds.api'

/** A small picture for each repository that says how its main line stands, to be put on pages elsewhere. */
export function Badges() {
  const { data } = useRepositoriesQuery()
  if (!data || data.rows.length === 0) return null
  return (
    <section aria-label="Pictures of main lines">
      <SectionHead>Pictures of main lines</SectionHead>
      <p className="mb-1 text-ink-2">For a read-me or a wall. Whoever has the address sees how the line stands, and nothing else.</p>
      <ul className="m-0 list-none p-0">
        {data.rows.map(({ repository, mainBranch }) => (
          <BadgeOf key={repository} repository={repository} mainBranch={mainBranch} />
        ))}
      </ul>
    </section>
  )
}

function BadgeOf({ repository, mainBranch }: { repository: string; mainBranch: string }) {
  const [ask, { data, error, isFetching }] = useLazyBadgeLinkQuery()
  return (
    <li className="border-b border-edge-soft py-1">
      {data ? (
        <>
          <img src={data.address} alt={`${repository} ${mainBranch}`} className="mb-1 block h-[22px]" />
          <Copyable text={`![${repository} ${mainBranch}](${data.address})`} />
        </>
      ) : (
        <>
          <b>{repository}</b>{' '}
          <Button
            look="line"
            disabled={isFetching}
            aria-label={`show the picture and its address: ${repository}`}
            onClick={() => void ask(repository)}
          >
            show the picture and its address
          </Button>
        </>
      )}
      <Refusal error={error} />
    </li>
  )
}
