import type { MaintenanceLine } from '@dystracer/core/maintenance/wire'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { plural } from '#shared/lib/format'
import { TextInput } from '#shared/ui/fields'
import { Button, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'

/** Which branch the line is, whether it is there, and what it has beyond the release; another branch can be named. */
export function LineName({ line, onBranch }: { line: MaintenanceLine; onBranch: (branch: string) => void }) {
  const [isNaming, setIsNaming] = useState(false)
  const { release, repository, branch, isThere, ahead, mainBranch } = line
  return (
    <div className="px-4 py-2">
      <p>
        Line{' '}
        {isThere ? (
          <ThingLink to={{ kind: 'branch', id: `${repository}/${branch}` }}>{branch}</ThingLink>
        ) : (
          <span className="font-mono text-[12px]">{branch}</span>
        )}{' '}
        of {repository}
        {isThere
          ? `: ${ahead.length === 0 ? 'it stands at' : `${plural(ahead.length, 'commit')} beyond`} ${release}.`
          : `: not there yet, it begins at ${release}.`}{' '}
        <Button look="line" onClick={() => setIsNaming(!isNaming)}>
          another branch…
        </Button>
      </p>
      {isNaming && <Naming branch={branch} onBranch={onBranch} />}
      {ahead.length > 0 && (
        <details>
          <summary className="cursor-pointer text-[12px] text-ink-2">what it has beyond {release}</summary>
          <ul className="m-0 list-none p-0">
            {ahead.map(({ sha, subject, atMs }) => (
              <li key={sha} className="truncate">
                <ThingLink to={{ kind: 'commit', id: `${repository}/${sha}` }} /> {subject}{' '}
                <span className="text-ink-3">
                  <When atMs={atMs} />
                </span>
              </li>
            ))}
          </ul>
        </details>
      )}
      <p className="text-[12px] text-ink-2">
        Choose what of {mainBranch} is made anew on it, by a click at its box or with Space. Nothing is pushed before you say so.
      </p>
    </div>
  )
}

function Naming({ branch, onBranch }: { branch: string; onBranch: (branch: string) => void }) {
  const { register, handleSubmit } = useForm({ defaultValues: { branch } })
  return (
    <form
      aria-label="Another branch"
      className="mt-1 flex gap-2"
      onSubmit={(event) => void handleSubmit((values) => onBranch(values.branch.trim()))(event)}
    >
      <TextInput aria-label="Branch of the line" autoFocus maxLength={200} {...register('branch', { required: true })} />
      <Button type="submit">Look</Button>
    </form>
  )
}
