import type { DependenciesEvents } from '@dystracer/core/dependencies/events'
import type { Db } from '#platform/db/open'
import { sql } from '#platform/db/statements'
import type { Appliers } from '#platform/journal/journal'

/** How the events of what releases are made of stand in the tables. */
export const dependenciesAppliers: Appliers<DependenciesEvents> = {
  'bill-received': (db, { body: { service, release, packages }, atMs, actor }) => {
    forget(db, { service, release })
    sql(db, 'INSERT INTO release_bill (service, release, by, at_ms) VALUES (@service, @release, @by, @atMs)').run({
      service,
      release,
      by: actor,
      atMs,
    })
    sql(
      db,
      `INSERT OR IGNORE INTO release_bill_package (service, release, type, name, version)
        SELECT @service, @release, value ->> 'type', value ->> 'name', value ->> 'version' FROM json_each(@packages)`,
    ).run({ service, release, packages: JSON.stringify(packages) })
  },
  'bill-taken-back': (db, { body: { service, release } }) => forget(db, { service, release }),
}

function forget(db: Db, { service, release }: { service: string; release: string }): void {
  sql(db, 'DELETE FROM release_bill WHERE service = @service AND release = @release').run({ service, release })
  sql(db, 'DELETE FROM release_bill_package WHERE service = @service AND release = @release').run({ service, release })
}
