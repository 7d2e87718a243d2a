import type { Health as HealthFacts } from '@dystracer/core/desk/health-wire'
import type { ReactNode } from 'react'
import { plural } from '#shared/lib/format'
import { Pending, SectionHead, When } from '#shared/ui/parts'
import { useHealthQuery } from './operating.api'

const LOOK_EVERY_MS = 5_000
const MEBI = 2 ** 20
const HEARD: readonly [keyof HealthFacts['last'], string][] = [
  ['push', 'Push to a repository'],
  ['fetch', 'Look at a repository'],
  ['build', 'Build'],
  ['occurrence', 'Runtime error'],
  ['deployment', 'Deployment'],
  ['backup', 'Backup'],
  ['rehearsal', 'Backup restored for a trial'],
]

function Line({ name, children, isBad = false }: { name: string; children: ReactNode; isBad?: boolean }) {
  return (
    <div className="grid grid-cols-[220px_minmax(0,1fr)] border-b border-edge-soft py-1">
      <dt className="text-ink-2">{name}</dt>
      <dd className={`m-0 ${isBad ? 'text-fault' : ''}`}>{children}</dd>
    </div>
  )
}

function Facts({ name, children }: { name: string; children: ReactNode }) {
  return (
    <section aria-label={name}>
      <SectionHead>{name}</SectionHead>
      <dl className="m-0">{children}</dl>
    </section>
  )
}

function size(bytes: number): string {
  const [amount, unit] = bytes < 10_000 * MEBI ? [bytes / MEBI, 'MiB'] : [bytes / MEBI / 1024, 'GiB']
  return `${amount.toFixed(amount < 10 ? 1 : 0)} ${unit}`
}

/** How the installation stands: what was last heard of each kind, what does not run, what is filling up. */
export function Health() {
  const { data, error, isLoading } = useHealthQuery(undefined, { pollingInterval: LOOK_EVERY_MS })
  if (!data) return <Pending error={error} isLoading={isLoading} />
  return (
    <>
      <Facts name="Last heard">
        {HEARD.map(([kind, name]) => {
          const atMs = data.last[kind]
          const isBad = kind === 'backup' && atMs === null
          return (
            <Line key={kind} name={name} isBad={isBad}>
              {atMs === null ? (
                isBad ? (
                  'never; "dystracer backup FOLDER --keep 14 --every 24h" keeps a row of them'
                ) : (
                  'never'
                )
              ) : (
                <When atMs={atMs} />
              )}
            </Line>
          )
        })}
        {data.repositoriesInTrouble.length > 0 && (
          <Line name="Cannot be fetched" isBad>
            {data.repositoriesInTrouble.join(', ')}
          </Line>
        )}
        <Line name="Mail to people" isBad={data.mail.refusals > 0}>
          {data.mail.isSetUp ? 'goes out' : 'is not set up: invitations are links to copy'}
          {data.mail.refusals > 0 && `; ${plural(data.mail.refusals, 'person', 'people')} cannot be reached`}
        </Line>
      </Facts>
      <Facts name="Threads">
        {data.threads.map(({ name, trouble, restarts, waiting }) => (
          <Line key={name} name={name} isBad={trouble !== null}>
            {trouble === null ? 'runs' : `does not run: ${trouble}`}
            {waiting > 0 && `, ${waiting} waiting`}
            {restarts > 0 && `, started again ${plural(restarts, 'time')}`}
          </Line>
        ))}
      </Facts>
      <Facts name="Room">
        {data.files.map(({ name, sizeBytes }) => (
          <Line key={name} name={name}>
            {size(sizeBytes)}
          </Line>
        ))}
        <Line name="Free on the disk" isBad={data.disk.isLow}>
          {size(data.disk.freeBytes)}
          {data.disk.isLow && '; uploads, telemetry and fetches wait until there is more'}
        </Line>
      </Facts>
      <Facts name="Journal">
        <Line name="Entries">{data.journal.entries}</Line>
        <Line name="Head, to be kept elsewhere">
          <code className="font-mono text-[12px] break-all">
            {data.journal.entries}:{data.journal.chain}
          </code>
        </Line>
      </Facts>
    </>
  )
}
