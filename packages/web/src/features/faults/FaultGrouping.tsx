import type { FaultDetail, LikeFault } from '@dystracer/core/faults/wire'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { TextInput } from '#shared/ui/fields'
import { Button, SectionHead } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useAlikeFaultsQuery, useMergeFaultMutation, useUnmergeFaultMutation } from './faults.api'

/**
 * Why the occurrences are one fault: what decided, at which line of which release, and what people said; and how another fault goes into
 * it.
 */
export function WhyOne({ fault }: { fault: FaultDetail }) {
  const { reason, causes, sites, mergedFaults, leftOut } = fault
  const decisive = causes.find((cause) => cause.isDecisive)
  return (
    <section aria-label="Why these are one" className="border-t border-edge px-4 py-3">
      <SectionHead>Why these are one</SectionHead>
      <ul className="m-0 list-none space-y-1 p-0 text-ink-2">
        {causes.length > 1 && (
          <li>
            Of {causes.length} exceptions that caused one another, <b>{decisive?.type}</b> decides: it is the deepest with code of yours.
            <ol className="m-0 list-none p-0 pl-3 font-mono text-[12px]">
              {causes.map((cause, at) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: a chain has no other order
                <li key={at} className={cause.isDecisive ? 'font-bold text-ink' : ''}>
                  {at > 0 && 'because of '}
                  {cause.type}: {cause.message}
                </li>
              ))}
            </ol>
          </li>
        )}
        <li>
          {reason.basis === 'app-frame'
            ? `The same statement of yours, in ${reason.frame ?? 'unknown'}`
            : reason.basis === 'frame'
              ? `The same place, in ${reason.frame ?? 'unknown'}; none of it is code of yours`
              : 'No frame was sent: the same type and the same message'}
          {reason.guard && `; ${reason.guard} only says that what it was given is not acceptable, so its caller is to blame`}.
        </li>
        {sites.length > 0 && (
          <li>
            {sites.length === 1 ? 'It fails at ' : 'Followed through the releases: '}
            {sites.map((site) => `line ${site.line}${site.release ? ` of ${site.release}` : ''}`).join(', ')}.
          </li>
        )}
        <li>
          Messages are alike as “<span className="font-mono text-[12px]">{fault.maskedMessage}</span>”
          {reason.maskedValues > 0 && `; ${plural(reason.maskedValues, 'value')} in it may differ`}.
        </li>
        {mergedFaults.length > 0 && <Merged faults={mergedFaults} />}
        {leftOut > 0 && <li>{plural(leftOut, 'occurrence')} of bursts were counted and not kept whole.</li>}
      </ul>
      <MergeInto fault={fault.fault} />
    </section>
  )
}

/** Faults that went into this one; what a person merged can be taken back. */
function Merged({ faults }: { faults: FaultDetail['mergedFaults'] }) {
  const { may } = usePeople()
  const trail = usePaneTrail()
  const [unmerge, { isLoading }] = useUnmergeFaultMutation()
  const takeBack = async (fault: string) => {
    const result = await unmerge(fault)
    if (result.error) return void toast.error(problemText(result.error))
    toast.success(`${fault} is one of its own again`)
    trail.open({ kind: 'fault', id: fault })
  }
  return (
    <li>
      Went into it, with what comes of them:{' '}
      {faults.map(({ fault, canTakeBack }) => (
        <span key={fault} className="mr-2 whitespace-nowrap">
          <span className="font-mono text-[12px]">{fault}</span>
          {canTakeBack && may('faults.sort') && (
            <Button look="line" disabled={isLoading} aria-label={`Take out again: ${fault}`} onClick={() => void takeBack(fault)}>
              take out again
            </Button>
          )}
        </span>
      ))}
    </li>
  )
}

function MergeInto({ fault }: { fault: string }) {
  const { may } = usePeople()
  const { register, handleSubmit, watch } = useForm({ defaultValues: { into: '' } })
  const merge = useMerge()
  if (!may('faults.sort')) return null
  return (
    <form
      aria-label="Merge"
      className="mt-2 flex items-center gap-2"
      onSubmit={(event) => void handleSubmit(({ into }) => merge(fault, into.trim().toUpperCase()))(event)}
    >
      <span className="text-ink-2">It is the same as</span>
      <TextInput aria-label="The fault that it goes into" placeholder="F-3" className="w-[80px]! py-0.5! font-mono" {...register('into')} />
      <Button type="submit" className="py-0.5!" disabled={!/^f-\d+$/i.test(watch('into').trim())}>
        Merge, now and always
      </Button>
    </form>
  )
}

/** Makes one fault of two and opens it. */
function useMerge(): (fault: string, into: string) => Promise<void> {
  const [merge] = useMergeFaultMutation()
  const trail = usePaneTrail()
  return async (fault, into) => {
    const result = await merge({ fault, into })
    if (result.error) return void toast.error(problemText(result.error))
    toast.success(`${fault} is ${result.data.fault} now, and what comes of it, too`)
    trail.become({ kind: 'fault', id: result.data.fault })
  }
}

/** Faults that resemble this one, each with both stacks side by side. */
export function Alike({ fault }: { fault: string }) {
  const { data } = useAlikeFaultsQuery(fault)
  if (!data || data.rows.length === 0) return null
  return (
    <section aria-label="Alike" className="border-t border-edge px-4 py-3">
      <SectionHead>Perhaps the same</SectionHead>
      {data.rows.map((row) => (
        <LikeRow key={row.fault} fault={fault} row={row} />
      ))}
    </section>
  )
}

function LikeRow({ fault, row }: { fault: string; row: LikeFault }) {
  const { may } = usePeople()
  const merge = useMerge()
  const shared = row.pairs.filter((pair) => pair.left && pair.right).length
  return (
    <details className="border-b border-edge-soft py-1">
      <summary className="cursor-pointer">
        <span className="font-mono text-[12px]">{row.fault}</span> {row.type}: {row.message.slice(0, 120)}{' '}
        <span className="text-[12px] text-ink-2">{plural(shared, 'frame')} in common</span>
      </summary>
      <table className="w-full table-fixed font-mono text-[11px]">
        <thead>
          <tr className="text-left text-ink-3">
            <th className="font-normal">{fault}</th>
            <th className="font-normal">
              <ThingLink to={{ kind: 'fault', id: row.fault }} />
            </th>
          </tr>
        </thead>
        <tbody>
          {row.pairs.slice(0, 30).map((pair, at) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: lines of two stacks have no other order
            <tr key={at} className={pair.left && pair.right ? 'bg-proof-soft' : ''}>
              <FrameCell frame={pair.left} />
              <FrameCell frame={pair.right} />
            </tr>
          ))}
        </tbody>
      </table>
      {may('faults.sort') && (
        <Button look="text" onClick={() => void merge(fault, row.fault)}>
          They are one: merge into {row.fault}
        </Button>
      )}
    </details>
  )
}

function FrameCell({ frame }: { frame: LikeFault['pairs'][number]['left'] }) {
  return (
    <td className={`truncate px-1 ${frame?.isApp ? '' : 'text-ink-3'}`} title={frame ? `${frame.function ?? ''} ${frame.file ?? ''}` : ''}>
      {frame && `${frame.function ?? '(anonymous)'} ${(frame.file ?? '').split('/').at(-1)}:${frame.line ?? '?'}`}
    </td>
  )
}
