import { acceptedAsItStands } from '@dystracer/core/triage/decision'
import { isDefectType } from '@dystracer/core/setup/item-type'
import { useSetupQuery } from '#features/setup/setup.api'
import { RejectDialog } from '#features/rejecting/index'
import { type ActName, type ActBody, type Act, useActMutation, useChangeItemMutation, useStartMutation } from './items.api'
import type { Item, Started } from '@dystracer/core/items/wire'
import { useForm } from 'react-hook-form'
import { useState } from 'react'
import { toast } from 'sonner'
import { useRepositoriesQuery } from '#features/code/code.api'
import { requirementChoices, useRequirementsQuery } from '#features/requirements/requirements.api'
import { TakeInHand } from '#features/hand/index'
import { problemText } from '#shared/lib/problem-text'
import { dialogOpened, useAppDispatch } from '#shared/lib/store'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field } from '#shared/ui/fields'
import { Button } from '#shared/ui/parts'

/** Why nothing can be done here, and what would help. */
function WhyOnlyRead({ project }: { project: string }) {
  const { me, isArchivedProject } = usePeople()
  const dispatch = useAppDispatch()
  if (isArchivedProject(project)) return <p className="text-ink-2">{project} is archived: it can be read, and nothing in it is changed.</p>
  if (me?.person) return <p className="text-ink-2">You read here. A lead of {project} can give you a role that takes part.</p>
  return (
    <p className="text-ink-2">
      You are reading as a guest.{' '}
      <Button look="text" onClick={() => dispatch(dialogOpened('sign-in'))}>
        Sign in
      </Button>{' '}
      to take part.
    </p>
  )
}

/** What can be done with an item now, by what its ladder lacks. */
export function ItemActions({ item }: { item: Item }) {
  const people = usePeople()
  const { data: setup } = useSetupQuery(item.project)
  const [act, { isLoading }] = useActMutation()
  const [open, setOpen] = useState<'start' | 'requirement' | 'more' | 'reject' | null>(null)
  const [started, setStarted] = useState<Started | null>(null)
  const stateOf = (stage: string) => item.ladder.treads.find((tread) => tread.stage === stage)?.state
  if (!people.may('items.change', item.project)) return <WhyOnlyRead project={item.project} />
  const run = async <Name extends ActName>(what: Name, body: ActBody<Name>, said: string) => {
    const result = await act({ key: item.key, act: what, body } as Act)
    if (result.error) toast.error(problemText(result.error))
    else toast.success(said)
  }
  const isSettled = item.disposition !== null
  const isFollowing = item.followerIds.includes(people.me?.person?.personId ?? '')
  return (
    <div className="flex flex-wrap items-center gap-2">
      {stateOf('accepted') !== 'proved' && !isSettled && (
        <Button look="main" disabled={isLoading} onClick={() => void run('accept', acceptedAsItStands(item), `${item.key} is accepted`)}>
          Accept at {acceptedAsItStands(item).severity}
        </Button>
      )}
      {!isSettled && (
        <Button
          look={stateOf('accepted') === 'proved' && stateOf('underway') === 'waiting' ? 'main' : 'plain'}
          onClick={() => setOpen('start')}
        >
          Start work…
        </Button>
      )}
      {stateOf('released') === 'proved' && stateOf('verified') !== 'proved' && !item.hasComeBack && (
        <Button onClick={() => void run('verify', { words: '' }, `${item.key} is verified`)}>Verify</Button>
      )}
      <Button look="text" onClick={() => setOpen('requirement')}>
        Requirement…
      </Button>
      {!isSettled && <TakeInHand itemKey={item.key} />}
      {item.mergedInto !== null ? (
        <Button look="text" onClick={() => void run('split', undefined, `${item.key} is split from ${item.mergedInto}`)}>
          Split from {item.mergedInto}
        </Button>
      ) : isSettled ? (
        <Button look="text" onClick={() => void run('reopen', { words: '' }, `${item.key} is open again`)}>
          Open again
        </Button>
      ) : (
        <Button look="text" onClick={() => setOpen('reject')}>
          Reject…
        </Button>
      )}
      <RejectDialog
        itemKey={item.key}
        hasDuplicate
        isOpen={open === 'reject'}
        onClose={() => setOpen(null)}
        onChosen={(body) => {
          setOpen(null)
          void run('reject', body, `${item.key} is rejected`)
        }}
      />
      <Button
        look="text"
        onClick={() => void run('follow', { isOn: !isFollowing }, isFollowing ? 'You do not follow it any more' : `You follow ${item.key}`)}
      >
        {isFollowing ? 'Stop following' : 'Follow'}
      </Button>
      <Button look="text" onClick={() => setOpen('more')}>
        More…
      </Button>
      <MoreDialog item={item} isOpen={open === 'more'} onClose={() => setOpen(null)} />
      <StartDialog
        item={item}
        isOpen={open === 'start'}
        started={started}
        onStarted={setStarted}
        onClose={() => {
          setOpen(null)
          setStarted(null)
        }}
      />
      <RequirementDialog
        isOpen={open === 'requirement'}
        onClose={() => setOpen(null)}
        onChosen={(key) => {
          setOpen(null)
          void run(
            'links',
            { kind: isDefectType(setup?.types ?? [], item.type) ? 'breaks' : 'implements', to: { kind: 'requirement', id: key } },
            `${item.key} is tied to ${key}`,
          )
        }}
      />
    </div>
  )
}

function MoreDialog({ item, isOpen, onClose }: { item: Item; isOpen: boolean; onClose: () => void }) {
  const { me } = usePeople()
  const [act] = useActMutation()
  const [change] = useChangeItemMutation()
  const trail = usePaneTrail()
  const others = (me?.projects ?? []).filter((project) => project.prefix !== item.project)
  const [project, setProject] = useState('')
  const go = async <Name extends 'move' | 'copy'>(what: Name, body: ActBody<Name>, said: (key: string) => string) => {
    const result = await act({ key: item.key, act: what, body } as Act)
    if (result.error) return void toast.error(problemText(result.error))
    const key = 'key' in result.data ? result.data.key : item.key
    toast.success(said(key))
    onClose()
    if (what === 'move') trail.rename(key)
    else trail.open({ kind: 'item', id: key })
  }
  const archive = async () => {
    const result = await change({ key: item.key, change: { isArchived: !item.isArchived } })
    if (result.error) return void toast.error(problemText(result.error))
    toast.success(item.isArchived ? `${item.key} is back` : `${item.key} is archived`)
    onClose()
  }
  return (
    <Dialog title={item.key} isOpen={isOpen} onClose={onClose}>
      <div className="space-y-3 px-4 py-3">
        <div className="flex items-end gap-2">
          <div className="flex-1">
            <Field label="Project to move it to; its key here stays an alias">
              <Choose
                value={project}
                none={others.length === 0 ? 'there is no other project' : 'choose'}
                onChange={(event) => setProject(event.target.value)}
                choices={others.map(({ prefix, name }) => ({ value: prefix, label: `${prefix} ${name}` }))}
              />
            </Field>
          </div>
          <Button disabled={project === ''} onClick={() => void go('move', { project }, (key) => `It is ${key} now`)}>
            Move
          </Button>
        </div>
        <div className="flex gap-2">
          <Button onClick={() => void go('copy', undefined, (key) => `${key} is the copy`)}>Log a copy</Button>
          <Button onClick={() => void archive()}>{item.isArchived ? 'Bring back from the archive' : 'Archive'}</Button>
        </div>
      </div>
    </Dialog>
  )
}

function StartDialog({
  item,
  isOpen,
  started,
  onStarted,
  onClose,
}: {
  item: Item
  isOpen: boolean
  started: Started | null
  onStarted: (started: Started) => void
  onClose: () => void
}) {
  const { data } = useRepositoriesQuery(undefined, { skip: !isOpen })
  const [repository, setRepository] = useState(item.proposedRepository ?? '')
  const [start, { isLoading }] = useStartMutation()
  const submit = async () => {
    const result = await start({ key: item.key, repository: repository || (data?.rows[0]?.repository ?? '') })
    if (result.error) toast.error(problemText(result.error))
    else if (result.data) onStarted(result.data)
  }
  return (
    <Dialog title={`Start work on ${item.key}`} isOpen={isOpen} onClose={onClose}>
      <div className="space-y-3 px-4 py-3">
        {started ? (
          <>
            <p>The branch is there. Check it out with:</p>
            <pre data-testid="commands" className="overflow-x-auto rounded-[3px] bg-edge-soft p-3 font-mono text-[12px]">
              {started.commands.join('\n')}
            </pre>
            <div className="flex gap-2">
              <Button
                look="main"
                onClick={() => {
                  void navigator.clipboard?.writeText(started.commands.join('\n'))
                  toast.success('Copied')
                }}
              >
                Copy both lines
              </Button>
              <Button onClick={onClose}>Done</Button>
            </div>
          </>
        ) : (
          <>
            <Field label="Repository">
              <Choose
                value={repository}
                onChange={(event) => setRepository(event.target.value)}
                choices={(data?.rows ?? []).map((row) => ({ value: row.repository, label: row.repository }))}
              />
            </Field>
            <p>
              Branch <code className="font-mono text-[12px]">{item.proposedBranch}</code> will be made at the tip of main.
            </p>
            <Button look="main" disabled={isLoading} onClick={() => void submit()}>
              Create the branch
            </Button>
          </>
        )}
      </div>
    </Dialog>
  )
}

function RequirementDialog({ isOpen, onClose, onChosen }: { isOpen: boolean; onClose: () => void; onChosen: (key: string) => void }) {
  const { data } = useRequirementsQuery(undefined, { skip: !isOpen })
  const { register, handleSubmit, watch } = useForm({ defaultValues: { key: '' } })
  return (
    <Dialog title="Tie to a requirement" isOpen={isOpen} onClose={onClose}>
      <form className="space-y-3 px-4 py-3" onSubmit={(event) => void handleSubmit(({ key }) => onChosen(key))(event)}>
        <Field label="Requirement">
          <Choose none="choose" choices={requirementChoices(data?.rows)} {...register('key', { required: true })} />
        </Field>
        <Button look="main" type="submit" disabled={!watch('key')}>
          Tie
        </Button>
      </form>
    </Dialog>
  )
}
