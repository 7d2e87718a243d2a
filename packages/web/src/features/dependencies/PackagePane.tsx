import type { FoundPackage } from '@dystracer/core/dependencies/wire'
import { askedPackage } from '@dystracer/core/dependencies/package-ref'
import { useForm } from 'react-hook-form'
import { plural } from '#shared/lib/format'
import { usePages } from '#shared/lib/use-pages'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Field, TextInput } from '#shared/ui/fields'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Quiet, When } from '#shared/ui/parts'
import { RowList } from '#shared/ui/RowList'
import { useFoundPackageInfiniteQuery } from './dependencies.api'

type Row = FoundPackage['rows'][number]

/** Which releases contain a package, and where they run; `id` is what is asked for, `name` or `name@version`. */
export function PackagePane({ id }: { id: string }) {
  const trail = usePaneTrail()
  const { register, handleSubmit } = useForm({ defaultValues: { q: id }, values: { q: id } })
  return (
    <Pane label="Package" title={id === '' ? 'Which releases contain…' : id}>
      <form
        className="flex items-end gap-2 border-b border-edge px-4 py-3"
        onSubmit={(event) => void handleSubmit(({ q }) => trail.rename(q.trim()))(event)}
      >
        <Field label="A package: name, name@version, or a Package URL">
          <TextInput className="w-[280px]" maxLength={500} {...register('q', { required: true })} />
        </Field>
        <Button type="submit">Look</Button>
      </form>
      {id !== '' && <Found key={id} q={id} />}
    </Pane>
  )
}

function Found({ q }: { q: string }) {
  const query = useFoundPackageInfiniteQuery(q)
  const { rows, onNearEnd, data, error, isLoading } = usePages<Row>(query)
  const trail = usePaneTrail()
  const [first] = (data?.pages ?? []) as FoundPackage[]
  const { name, version } = askedPackage(q)
  if (!first) return <Pending error={error} isLoading={isLoading} />
  return (
    <>
      <p aria-live="polite" className="px-4 pt-3">
        {rows.length === 0 ? (
          <>
            No release contains {name}
            {version !== null && ` ${version}`}.
          </>
        ) : (
          <Running rows={rows} isAll={!query.hasNextPage} />
        )}{' '}
        {first.unread > 0 && <span className="text-ochre">{plural(first.unread, 'older release')} not looked at yet: look again.</span>}
      </p>
      {first.versions.length > 0 && (
        <nav aria-label="Versions" className="flex flex-wrap gap-x-3 px-4 py-2">
          {[null, ...first.versions].map((one) => (
            <Button
              key={one ?? ''}
              look="line"
              aria-current={one === version}
              className={`font-mono text-[12px] ${one === version ? 'font-bold' : ''}`}
              onClick={() => trail.rename(one === null ? name : `${name}@${one}`)}
            >
              {one ?? 'any version'}
            </Button>
          ))}
        </nav>
      )}
      {rows.length === 0 ? (
        first.versions.length === 0 && <Quiet>Names are those of the package’s own registry, with their scope or group.</Quiet>
      ) : (
        <div className="min-h-[200px] flex-1">
          <RowList
            rows={rows}
            idOf={({ service, release }) => `${service}@${release}`}
            selectedId={null}
            label="Releases with it"
            onNearEnd={onNearEnd}
            onShow={({ service, release }, isStep) => !isStep && trail.open({ kind: 'release', id: `${service}@${release}` })}
            renderRow={(row) => (
              <span className="flex min-w-0 flex-1 gap-3">
                <span className="min-w-0 flex-1 truncate">
                  {row.service} <b>{row.release}</b>
                </span>
                <span className="max-w-[40%] shrink-0 truncate font-mono text-[12px]">{row.versions.join(', ')}</span>
                <span className="w-[140px] shrink-0 truncate text-proof">{row.runsIn.join(', ')}</span>
                <span className="w-[76px] shrink-0 text-right text-ink-3">
                  <When atMs={row.atMs} />
                </span>
              </span>
            )}
          />
        </div>
      )}
    </>
  )
}

/** The answer in one line. */
function Running({ rows, isAll }: { rows: readonly Row[]; isAll: boolean }) {
  const running = rows.filter(({ runsIn }) => runsIn.length > 0)
  return (
    <>
      <b>
        {plural(rows.length, 'release')}
        {!isAll && ' or more'}
      </b>{' '}
      with it
      {running.length === 0
        ? '; none of them runs anywhere now.'
        : `; ${running.map(({ service, release, runsIn }) => `${service} ${release} runs in ${runsIn.join(' and ')}`).join('; ')}.`}
    </>
  )
}
