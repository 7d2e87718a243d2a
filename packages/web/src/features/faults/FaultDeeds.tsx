import type { Fault } from '@dystracer/core/faults/wire'
import { lazy, Suspense, useState } from 'react'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { problemText } from '#shared/lib/problem-text'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Choose } from '#shared/ui/fields'
import { Button } from '#shared/ui/parts'
import { Stair } from '#shared/ui/Stair'
import { ThingLink } from '#shared/ui/ThingLink'
import { useLazyFaultItemProposalQuery, useLogFaultMutation } from './faults.api'
import { JudgeDialog, SilenceDialog, TieFaultDialog } from './FaultDialogs'
import { STATE_TONE, STATE_WORD, stateSentence } from './state-words'
import { useFaultActs } from './use-fault-acts'

/** What opens a dialog, as its button says it. */
const OPENERS = { tie: 'Tie…', silence: 'Silence…', fixed: 'Fixed in…', 'not-ours': 'Not ours…' } as const
type Opener = keyof typeof OPENERS
type OpenDialog = Opener | null
const JUDGING = ['fixed', 'not-ours'] as const

/** How a fault stands, which item stands for it and who has it, and what can be done about it by hand. */
export function FaultDeeds({ fault }: { fault: Fault }) {
  const { may } = usePeople()
  const canAct = may('faults.sort')
  return (
    <div className="space-y-1.5 border-b border-edge px-4 py-3">
      <p>
        <b className={STATE_TONE[fault.state] ?? ''}>{STATE_WORD[fault.state]}</b>{' '}
        <span className="text-ink-2">{stateSentence(fault)}</span>
      </p>
      <ItemOfFault fault={fault} canAct={canAct} />
      {canAct && <Acts fault={fault} />}
    </div>
  )
}

function ItemOfFault({ fault, canAct }: { fault: Fault; canAct: boolean }) {
  const { act, isBusy } = useFaultActs()
  const { item } = fault
  if (!item) return <LogFault fault={fault.fault} canAct={canAct} />
  return (
    <p className="flex flex-wrap items-center gap-2">
      <ThingLink to={{ kind: 'item', id: item.key }} /> stands for it{' '}
      <Stair stair={item.stair} isRejected={item.disposition !== null} hasComeBack={item.hasComeBack} />
      <span className="min-w-0 truncate text-ink-2">{item.title}</span>
      {canAct && (
        <Button look="text" disabled={isBusy} onClick={() => void act([fault.fault], { act: 'untie', key: item.key })}>
          untie
        </Button>
      )}
    </p>
  )
}

const LogDialog = lazy(() => import('#features/logging/index').then((module) => ({ default: module.LogDialog })))

/** Begins an item for a fault, filled in as far as that tells; logged, or found among those that look alike, it stands for it. */
function FillIn({ fault }: { fault: string }) {
  const trail = usePaneTrail()
  const { act } = useFaultActs()
  const [propose, { data, isFetching }] = useLazyFaultItemProposalQuery()
  const [isOpen, setIsOpen] = useState(false)
  const begin = async () => {
    const result = await propose(fault)
    if (result.error) toast.error(problemText(result.error))
    else setIsOpen(true)
  }
  const onLogged = async (key: string) => {
    await act([fault], { act: 'tie', key })
    trail.open({ kind: 'item', id: key })
  }
  return (
    <>
      <Button look="text" disabled={isFetching} onClick={() => void begin()}>
        Fill it in first…
      </Button>
      {isOpen && data && (
        <Suspense fallback={null}>
          <LogDialog
            isOpen
            onClose={() => setIsOpen(false)}
            about={{
              draft: {
                project: data.project,
                title: data.title,
                description: data.description,
                component: data.component ?? '',
                foundIn: data.foundIn ?? '',
                severity: data.severity === null ? '' : String(data.severity),
                requirement: data.requirement?.key ?? '',
              },
              ...(data.requirement && { whyRequirement: data.requirement.why }),
              onLogged,
            }}
          />
        </Suspense>
      )}
    </>
  )
}

/** A fault that no item stands for becomes one by hand. */
function LogFault({ fault, canAct }: { fault: string; canAct: boolean }) {
  const { may } = usePeople()
  const trail = usePaneTrail()
  const [log, { isLoading }] = useLogFaultMutation()
  const submit = async () => {
    const result = await log({ fault })
    if (result.error) return void toast.error(problemText(result.error))
    toast.success(`${result.data.key} is logged for ${fault}`)
    trail.open({ kind: 'item', id: result.data.key })
  }
  return (
    <p className="flex flex-wrap items-center gap-3 text-ink-2">
      No item stands for it yet.
      {may('faults.log') && (
        <Button disabled={isLoading} onClick={() => void submit()}>
          Log a defect for it
        </Button>
      )}
      {may('faults.log') && canAct && <FillIn fault={fault} />}
      {!canAct && 'Your role may read it.'}
    </p>
  )
}

function Acts({ fault }: { fault: Fault }) {
  const { me } = usePeople()
  const { act, isBusy } = useFaultActs()
  const [open, setOpen] = useState<OpenDialog>(null)
  const one = [fault.fault]
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
      <Choose
        aria-label="Who has it"
        className="w-auto! py-0.5!"
        none="nobody has it"
        value={fault.ownerId ?? ''}
        disabled={isBusy}
        choices={(me?.people ?? []).map((person) => ({ value: person.personId, label: person.name }))}
        onChange={(event) => void act(one, { act: 'assign', ownerId: event.target.value || null })}
      />
      <Openers kinds={['tie']} onOpen={setOpen} />
      {fault.silence ? (
        <Button look="text" disabled={isBusy} onClick={() => void act(one, { act: 'hear' })}>
          Let it be heard again
        </Button>
      ) : (
        <Openers kinds={['silence']} onOpen={setOpen} />
      )}
      {fault.judgement ? (
        <Button look="text" disabled={isBusy} onClick={() => void act(one, { act: 'unjudge' })}>
          {fault.judgement.kind === 'fixed' ? 'It is not fixed' : 'It is ours after all'}
        </Button>
      ) : (
        <Openers kinds={JUDGING} onOpen={setOpen} />
      )}
      <OpenedDialog open={open} faults={one} like={fault} onClose={() => setOpen(null)} />
    </div>
  )
}

/** What can be done with all faults that were chosen. */
export function ChosenFaults({ chosen, onNone }: { chosen: readonly Fault[]; onNone: () => void }) {
  const { me } = usePeople()
  const { act, isBusy } = useFaultActs()
  const [open, setOpen] = useState<OpenDialog>(null)
  const faults = chosen.map((fault) => fault.fault)
  const [first] = chosen
  return (
    <div
      role="toolbar"
      aria-label="Chosen faults"
      className="flex flex-wrap items-center gap-3 border-b border-edge bg-mark px-3 py-1 text-[12px]"
    >
      <b>{faults.length} chosen</b>
      <Choose
        aria-label="Give them to"
        className="w-auto! py-0.5!"
        value=""
        none="give to …"
        disabled={isBusy}
        choices={(me?.people ?? []).map((person) => ({ value: person.personId, label: person.name }))}
        onChange={(event) => void act(faults, { act: 'assign', ownerId: event.target.value || null })}
      />
      <Openers kinds={['tie', 'silence', ...JUDGING]} onOpen={setOpen} />
      <Button look="text" onClick={onNone}>
        none
      </Button>
      {first && <OpenedDialog open={open} faults={faults} like={first} onClose={() => setOpen(null)} />}
    </div>
  )
}

function Openers({ kinds, onOpen }: { kinds: readonly Opener[]; onOpen: (kind: Opener) => void }) {
  return (
    <>
      {kinds.map((kind) => (
        <Button key={kind} look="text" onClick={() => onOpen(kind)}>
          {OPENERS[kind]}
        </Button>
      ))}
    </>
  )
}

function OpenedDialog({ open, faults, like, onClose }: { open: OpenDialog; faults: readonly string[]; like: Fault; onClose: () => void }) {
  if (open === 'tie') return <TieFaultDialog faults={faults} like={like} onClose={onClose} />
  if (open === 'silence') return <SilenceDialog faults={faults} onClose={onClose} />
  return open === null ? null : <JudgeDialog faults={faults} kind={open} onClose={onClose} />
}
