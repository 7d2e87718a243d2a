import { useMemo } from 'react'
import { useItemsInfiniteQuery } from '#features/looking/looking.api'
import { useRequirementsQuery } from '#features/requirements/requirements.api'
import { usePeople } from '#features/people/index'

/** People and keys that a text completes to: everybody, the items changed last, the requirements. */
export function useCompletions(isOpen = true): { text: string; detail: string }[] {
  const { me } = usePeople()
  const { data: items } = useItemsInfiniteQuery({ filter: '', sort: 'updated' }, { skip: !isOpen })
  const { data: requirements } = useRequirementsQuery(undefined, { skip: !isOpen })
  return useMemo(
    () => [
      ...(me?.people ?? []).map((person) => ({ text: `@${person.personId}`, detail: person.name })),
      ...(items?.pages[0]?.rows ?? []).map((item) => ({ text: item.key, detail: item.title })),
      ...(requirements?.rows ?? []).map((requirement) => ({ text: requirement.key, detail: requirement.title })),
    ],
    [me, items, requirements],
  )
}
