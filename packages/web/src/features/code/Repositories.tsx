import type { Repository } from '@dystracer/core/code/wire'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { useChangeRepositoryMutation } from '#features/projects/projects.api'
import { toChoices } from '#shared/lib/choices'
import { plural } from '#shared/lib/format'
import { AccessFields } from './AccessFields'
import { accessOfForm, EMPTY_REPOSITORY_FORM, type RepositoryForm } from './repository-access'
import { fieldProblem, problemText } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Button, Refusal, SectionHead, When } from '#shared/ui/parts'
import { ConnectRepositoryDialog } from './ConnectRepositoryDialog'
import { useRepositories } from './use-repositories'

/** Whether there are branches, and the main line is none of them: it was renamed or deleted where it lies. */
const hasLostMain = (row: Repository) => row.branches.length > 0 && !row.branches.some((branch) => branch.isMain)

/** How the reading of a repository stands, and what is in the way. */
function Standing({ row }: { row: Repository }) {
  if (row.disconnectedAtMs !== null)
    return (
      <span className="text-ochre">
        read no more since <When atMs={row.disconnectedAtMs} />
      </span>
    )
  if (row.reading)
    return (
      <span role="status">
        {row.reading.words}
        {row.reading.of !== null && ` ${row.reading.done} of ${row.reading.of}`}
      </span>
    )
  if (row.trouble)
    return (
      <span className="text-fault">
        cannot be fetched: {row.trouble}; tried again {row.retryAtMs && <When atMs={row.retryAtMs} />}
      </span>
    )
  if (row.fetchedAtMs === null) return <>its history is being read</>
  if (hasLostMain(row))
    return (
      <span className="text-fault">
        its main line {row.mainBranch} is gone: nothing counts as merged any more until another is chosen (Settings, Code)
      </span>
    )
  return (
    <>
      fetched <When atMs={row.fetchedAtMs} />
    </>
  )
}

/** The connected repositories: those about which there is something to say a line each, all others together in one. */
export function RepositoryLines({ className = '' }: { className?: string }) {
  const { data } = useRepositories()
  const isCalm = (row: Repository) =>
    row.disconnectedAtMs === null && !row.reading && !row.trouble && row.fetchedAtMs !== null && !hasLostMain(row)
  const rows = data?.rows ?? []
  const calm = rows.filter(isCalm)
  const told = calm.length === 1 ? rows : rows.filter((row) => !isCalm(row))
  const line = `m-0 border-b border-edge-soft py-1 text-[12px] text-ink-2 ${className}`
  return (
    <>
      {told.map((row) => (
        <p key={row.repository} className={line}>
          <b>{row.repository}</b> · {plural(row.commits, 'commit')} · <Standing row={row} />
        </p>
      ))}
      {calm.length > 1 && (
        <p className={line}>
          {calm.map((row) => (
            <span key={row.repository} className="mr-3 whitespace-nowrap">
              <b>{row.repository}</b> {row.commits}
            </span>
          ))}
          <span className="whitespace-nowrap">
            commits, fetched <When atMs={Math.min(...calm.map((row) => row.fetchedAtMs ?? 0))} />
          </span>
        </p>
      )}
    </>
  )
}

/** The repositories of the project as they are set up: where each lies, whether it is read, and the connecting of another. */
export function Repositories() {
  const [open, setOpen] = useState<{ moves: Repository } | { lines: Repository } | 'connect' | null>(null)
  const { data } = useRepositories()
  const { may } = usePeople()
  const canEdit = may('setup.change')
  return (
    <section aria-label="Repositories">
      <SectionHead>Repositories</SectionHead>
      {data?.rows.length === 0 && <p className="text-ink-3">None yet.</p>}
      <ul className="m-0 list-none p-0">
        {data?.rows.map((row) => (
          <RepositoryRow
            key={row.repository}
            row={row}
            canEdit={canEdit}
            onMove={() => setOpen({ moves: row })}
            onLines={() => setOpen({ lines: row })}
          />
        ))}
      </ul>
      {canEdit && (
        <p className="mt-2">
          <Button onClick={() => setOpen('connect')}>Connect a repository…</Button>
        </p>
      )}
      {open === 'connect' && <ConnectRepositoryDialog onClose={() => setOpen(null)} />}
      {open !== null && open !== 'connect' && 'moves' in open && <MoveDialog row={open.moves} onClose={() => setOpen(null)} />}
      {open !== null && open !== 'connect' && 'lines' in open && <LinesDialog row={open.lines} onClose={() => setOpen(null)} />}
    </section>
  )
}

const ACCESS_WORDS: Record<Repository['access']['kind'], (row: Repository) => string> = {
  none: () => 'read as anybody may',
  login: ({ access }) => `read as ${access.kind === 'login' ? access.userName : ''}`,
  key: () => 'read with a key of this server',
}

function RepositoryRow({ row, canEdit, onMove, onLines }: { row: Repository; canEdit: boolean; onMove: () => void; onLines: () => void }) {
  const [change, { isLoading }] = useChangeRepositoryMutation()
  const isConnected = row.disconnectedAtMs === null
  const turn = async () => {
    const result = await change({ repository: row.repository, isConnected: !isConnected })
    if (result.error) return void toast.error(problemText(result.error))
    toast.success(isConnected ? `${row.repository} is read no more; what was read stays` : `${row.repository} is read again`)
  }
  return (
    <li className="flex items-baseline gap-3 border-b border-edge-soft py-1">
      <span className="min-w-0 flex-1">
        <b>{row.repository}</b> <span className="text-ink-2">main line {row.mainBranch}</span>
        {row.longLines.length > 0 && <span className="text-ink-2">, as long: {row.longLines.join(', ')}</span>}
        <span className="block truncate font-mono text-[12px] text-ink-2" title={row.url}>
          {row.url}
        </span>
        <span className="block text-[12px] text-ink-2">
          {plural(row.commits, 'commit')} · {ACCESS_WORDS[row.access.kind](row)} ·{' '}
          {row.projects.length > 1 && `shared by ${row.projects.join(', ')} · `}
          <Standing row={row} />
        </span>
      </span>
      {canEdit && (
        <>
          {row.branches.length > 0 && (
            <Button look="line" aria-label={`main lines: ${row.repository}`} onClick={onLines}>
              main lines…
            </Button>
          )}
          <Button look="line" aria-label={`address and login: ${row.repository}`} onClick={onMove}>
            address and login…
          </Button>
          <Button
            look="line"
            disabled={isLoading}
            aria-label={`${isConnected ? 'read no more' : 'read again'}: ${row.repository}`}
            onClick={() => void turn()}
          >
            {isConnected ? 'read no more' : 'read again'}
          </Button>
        </>
      )}
    </li>
  )
}

/** Which branch is the main line, and which others count as well. */
function LinesDialog({ row, onClose }: { row: Repository; onClose: () => void }) {
  const [change, { error, isLoading }] = useChangeRepositoryMutation()
  const { register, handleSubmit, watch } = useForm({ defaultValues: { mainBranch: row.mainBranch, longLines: row.longLines } })
  const names = [...new Set([row.mainBranch, ...row.longLines, ...row.branches.map((branch) => branch.name)])].sort()
  const main = watch('mainBranch')
  const submit = handleSubmit(async ({ mainBranch, longLines }) => {
    const others = longLines.filter((branch) => branch !== mainBranch)
    const result = await change({ repository: row.repository, mainBranch, longLines: others })
    if (result.error) return
    toast.success(`${mainBranch} is the main line of ${row.repository}`)
    onClose()
  })
  const wrong = fieldProblem(error, 'mainBranch') ?? fieldProblem(error, 'longLines')
  return (
    <Dialog title={`Main lines of ${row.repository}`} isOpen onClose={onClose}>
      <form aria-label={`Main lines of ${row.repository}`} className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <Field label="The main line" error={wrong}>
          <Choose {...register('mainBranch')} choices={toChoices(names)} />
        </Field>
        <fieldset className="m-0 max-h-[240px] overflow-y-auto border-0 p-0">
          <legend className="text-[12px] text-ink-2">
            A fix is merged as well once it stands on one of these, such as a maintenance line
          </legend>
          {names
            .filter((name) => name !== main)
            .map((name) => (
              <label key={name} className="flex items-center gap-2 py-0.5">
                <input type="checkbox" value={name} {...register('longLines')} />
                <span className="font-mono text-[12px]">{name}</span>
              </label>
            ))}
        </fieldset>
        {!wrong && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading}>
          These count
        </Button>
      </form>
    </Dialog>
  )
}

/** A repository that lies elsewhere now; its new address is asked before anything is written. */
function MoveDialog({ row, onClose }: { row: Repository; onClose: () => void }) {
  const [change, { error, isLoading }] = useChangeRepositoryMutation()
  const form = useForm<RepositoryForm>({ defaultValues: { ...EMPTY_REPOSITORY_FORM, url: row.url, kind: 'kept' } })
  const { register, handleSubmit, watch } = form
  const isKeyMissing = watch('kind') === 'key' && watch('keyId') === ''
  const submit = handleSubmit(async (input) => {
    const { url } = input
    const access = accessOfForm(input)
    const result = await change({ repository: row.repository, ...(url !== row.url && { url }), ...(access && { access }) })
    if (result.error) return
    const { calledThere, mainBranch } = result.data
    const isRenamed = calledThere !== row.repository.toLowerCase()
    toast.success(
      `${row.repository} is read from there now${
        isRenamed ? `; it goes on under this name, and what names ${calledThere} is taken for it` : ''
      }; its main line is ${mainBranch}`,
    )
    onClose()
  })
  const wrong = fieldProblem(error, 'url')
  return (
    <Dialog title={`Where ${row.repository} is read from`} isOpen onClose={onClose}>
      <form aria-label={`Where ${row.repository} is read from`} className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <p className="text-ink-2">Now: {row.url}. What was read of it stays, with all that is tied to it.</p>
        <Field label="Its address" error={wrong}>
          <TextInput autoFocus maxLength={500} inputMode="url" {...register('url', { required: true })} />
        </Field>
        <AccessFields form={form} error={error} isKnown />
        {!wrong && !fieldProblem(error, 'access') && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading || isKeyMissing}>
          {isLoading ? 'Asking it …' : 'Read it from there'}
        </Button>
      </form>
    </Dialog>
  )
}
