import type { Found } from '@dystracer/core/looking/wire'
import type { ItemSummary } from '@dystracer/core/records/wire'
import { useEffect, useRef, useState } from 'react'
import { useLazyFoundQuery } from '#features/looking/looking.api'

/**
 * Where the words of a filter stand in the items that are listed, by key; asked for page by page behind the list, which does not wait for
 * it.
 */
export function useFound(
  filter: string,
  pages: readonly { rows: readonly ItemSummary[] }[] | undefined,
  hasWords: boolean,
): ReadonlyMap<string, Found> {
  const [ask] = useLazyFoundQuery()
  const [found, setFound] = useState<{ filter: string; byKey: ReadonlyMap<string, Found> }>({ filter, byKey: new Map() })
  const asked = useRef(new Set<string>())
  // Speaks with the server: what was listed is asked for once.
  useEffect(() => {
    if (!hasWords) return
    for (const page of pages ?? []) {
      const keys = page.rows.map((row) => row.key).join()
      const question = `${filter}\n${keys}`
      if (keys === '' || asked.current.has(question)) continue
      asked.current.add(question)
      void ask({ filter, keys }, true).then(({ data }) => {
        if (!data) return
        setFound((now) => ({
          filter,
          byKey: new Map([...(now.filter === filter ? now.byKey : []), ...data.rows.map((row): [string, Found] => [row.key, row])]),
        }))
      })
    }
  }, [ask, filter, pages, hasWords])
  return found.filter === filter && hasWords ? found.byKey : NOTHING
}
const NOTHING: ReadonlyMap<string, Found> = new Map()
