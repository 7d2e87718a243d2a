import { FileLink } from '#features/files/index'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { Button } from '#shared/ui/parts'
import { useAsideFindingsQuery, useSetFindingAsideMutation } from './findings.api'

/** How many findings no gate counts for now, each to be looked at, and to be counted again. */
export function AsideFindings() {
  const { data } = useAsideFindingsQuery()
  const { may, nameOf } = usePeople()
  const [set] = useSetFindingAsideMutation()
  if (!data || data.rows.length === 0) return null
  return (
    <details className="border-b border-edge-soft px-3 py-1 text-[12px] text-ink-2">
      <summary className="min-h-6 cursor-pointer leading-6">{plural(data.rows.length, 'finding')} set aside</summary>
      {data.rows.map(({ repository, tool, identity, what, file, until, why, by }) => (
        <p key={`${repository}\n${tool}\n${identity}`} className="m-0 leading-6">
          {what} ({repository}
          {file !== null && (
            <>
              {' '}
              <FileLink repository={repository} path={file} />
            </>
          )}
          ) until {until} by {nameOf(by)}: {why}{' '}
          {may('code.contribute') && (
            <Button
              look="line"
              aria-label={`count it again: ${what}`}
              onClick={() => void set({ repository, tool, identity, until: null }).then(tellRefusal)}
            >
              count it again
            </Button>
          )}
        </p>
      ))}
    </details>
  )
}
