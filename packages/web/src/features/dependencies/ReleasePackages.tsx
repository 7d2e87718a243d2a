import type { ReleasePackages as Packages } from '@dystracer/core/dependencies/wire'
import { useId, useState } from 'react'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { useDelayed } from '#shared/lib/use-delayed'
import { usePages } from '#shared/lib/use-pages'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Field, TextInput } from '#shared/ui/fields'
import { Button, Pending, Refusal, SectionHead, When } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'
import { useReleasePackagesInfiniteQuery, useSendBillMutation, useTakeBillBackMutation } from './dependencies.api'
import { apiRoot } from '#shared/lib/past'

const TYPING_MS = 200
type Row = Packages['rows'][number]

/** The packages that a release is made of; each opens where else it is. */
export function ReleasePackages({ release }: { release: string }) {
  const [text, setText] = useState('')
  const q = useDelayed(text.trim(), TYPING_MS)
  const { rows, onNearEnd, data, error, isLoading } = usePages<Row>(useReleasePackagesInfiniteQuery({ release, q }))
  const trail = usePaneTrail()
  const [first] = (data?.pages ?? []) as Packages[]
  const isEmpty = first !== undefined && first.rows.length === 0
  return (
    <section aria-label="What it is made of" className="border-t border-edge px-4 py-3">
      <SectionHead>What it is made of</SectionHead>
      <Pending error={error} isLoading={isLoading} />
      {first && <Sources release={release} packages={first} />}
      {first && (!isEmpty || q !== '') && (
        <>
          <Field label="Packages with this in their name">
            <TextInput value={text} onChange={(event) => setText(event.target.value)} />
          </Field>
          {isEmpty && <p className="py-2 text-ink-2">None of its packages is called that.</p>}
          {!isEmpty && (
            <div className="mt-2 border border-edge-soft" style={{ height: Math.min(8, rows.length) * 30 + 2 }}>
              <RowList
                rows={rows}
                idOf={({ purl }) => purl}
                selectedId={null}
                label="Packages"
                rowHeightPx={30}
                onNearEnd={onNearEnd}
                onShow={({ name, version }, isStep) => !isStep && trail.open({ kind: 'package', id: `${name}@${version}` })}
                renderRow={(row) => <PackageLine row={row} />}
              />
            </div>
          )}
        </>
      )}
    </section>
  )
}

function PackageLine({ row }: { row: Row }) {
  return (
    <span className="flex min-w-0 flex-1 gap-3">
      <span className="min-w-0 flex-1 truncate">{row.name}</span>
      <span className="shrink-0 font-mono text-[12px]">{row.version}</span>
      <span className="w-[72px] shrink-0 truncate text-ink-3">{row.files.length > 0 ? row.type : 'bill only'}</span>
    </span>
  )
}

/** Where it is known from, and how it goes out and comes in as a bill of materials. */
function Sources({ release, packages }: { release: string; packages: Packages }) {
  const { files, unreadable, bill } = packages
  const people = usePeople()
  const [send, { error, isLoading }] = useSendBillMutation()
  const [takeBack] = useTakeBillBackMutation()
  const fileId = useId()
  const mayChange = people.may('releases.make')
  const sendFile = (file: File) =>
    void send({ release, file }).then(({ data }) => {
      if (!data) return
      const left = data.withoutVersion === 0 ? '' : `; ${plural(data.withoutVersion, 'component')} without a version left out`
      toast.success(`${plural(data.packages, 'package')} taken${left}`)
    })
  return (
    <>
      {files.length === 0 && !bill && (
        <p className="text-ink-2">
          No lock file in its commit names packages, and nobody sent a bill of materials. Lock files are read by their names:
          package-lock.json, Cargo.lock, poetry.lock, go.mod and the like.
        </p>
      )}
      <ul aria-label="Where it is known from" className="m-0 list-none p-0">
        {files.map(({ path, packages: count }) => (
          <li key={path}>
            <span className="font-mono text-[12px]">{path}</span> <span className="text-ink-2">names {plural(count, 'package')}</span>
          </li>
        ))}
        {bill && (
          <li>
            A bill of materials, sent by {bill.by} <When atMs={bill.atMs} />,{' '}
            <span className="text-ink-2">names {plural(bill.packages, 'package')}</span>{' '}
            {mayChange && (
              <Button look="line" onClick={() => void takeBack(release).then(tellRefusal)}>
                take it back
              </Button>
            )}
          </li>
        )}
        {unreadable.map((path) => (
          <li key={path} className="text-ochre">
            {path} could not be read as what its name says
          </li>
        ))}
      </ul>
      <p className="my-2 flex flex-wrap items-center gap-x-5 gap-y-1">
        {(files.length > 0 || bill) && (
          <a className="link" href={`${apiRoot}/releases/${encodeURIComponent(release)}/bill.cdx.json`} download>
            bill of materials (CycloneDX)
          </a>
        )}
        {mayChange && (
          <span className="flex items-center gap-2">
            <label htmlFor={fileId} className="link cursor-pointer focus-within:outline-2">
              {bill ? 'send another one…' : 'send one…'}
              <input
                id={fileId}
                type="file"
                accept=".json,application/json"
                disabled={isLoading}
                className="sr-only"
                onChange={(event) => {
                  const file = event.target.files?.[0]
                  event.target.value = ''
                  if (file) sendFile(file)
                }}
              />
            </label>
          </span>
        )}
      </p>
      <Refusal error={error} />
    </>
  )
}
