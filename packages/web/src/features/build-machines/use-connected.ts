import { useRepositoriesQuery } from '#features/code/code.api'

/** The repositories that are connected now, by name, with their main lines. */
export function useConnected(): { name: string; mainBranch: string }[] {
  const { data } = useRepositoriesQuery()
  return (data?.rows ?? [])
    .filter((row) => row.disconnectedAtMs === null)
    .map(({ repository, mainBranch }) => ({ name: repository, mainBranch }))
}
