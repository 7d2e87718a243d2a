import type { NodeRef } from '@dystracer/core/basics/node-ref'
import { LINK_KIND_NAMES, LINK_KINDS, linkKindOf, type LinkKindDeclaration } from '@dystracer/core/records/link-kinds'
import type { Link } from '@dystracer/core/records/wire'
import type { Item } from '@dystracer/core/items/wire'
import { STAGES } from '@dystracer/core/ladder/ladder'
import { useForm } from 'react-hook-form'
import { useState } from 'react'
import { toast } from 'sonner'
import { useActMutation, useUntieMutation } from './items.api'
import { useConfirmLinksMutation } from '#features/requirements/requirements.api'
import { FoundThings, useFound } from '#features/records/index'
import { plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Button } from '#shared/ui/parts'
import { Stair } from '#shared/ui/Stair'
import { ThingLink } from '#shared/ui/ThingLink'
import { STAGE_NAME } from '#features/ladder/index'

/** Commits and pull requests that they name themselves stand in the ladder; here stands what a person tied. */
const isListed = (link: Link, key: string) =>
  linkKindOf(link.kind) !== null &&
  !(link.kind === 'parent' && link.to.id === key) &&
  (['requirement', 'item'].includes(link.to.kind) || link.provenance === 'person' || link.kind === 'brought-in-by')
/** The ways to tie by hand: each kind, and those that are called otherwise from the other item. */
const WAYS = LINK_KIND_NAMES.flatMap((kind) => {
  const { label, to, inverse }: LinkKindDeclaration['byHand'] = LINK_KINDS[kind].byHand
  const way = { value: kind as string, kind, to, label, isInverse: false }
  return inverse === undefined ? [way] : [way, { ...way, value: `${kind} from there`, label: inverse, isInverse: true }]
})

/** The requirement's text changed since the tie was made: does it still hold? What changed stands with the requirement. */
function LookAgain({ link, canEdit }: { link: Link; canEdit: boolean }) {
  const [confirm, { isLoading }] = useConfirmLinksMutation()
  const hold = async () => {
    const result = await confirm({ key: link.to.id, linkIds: [link.linkId] })
    if (result.error) toast.error(problemText(result.error))
    else toast.success(`It holds for ${link.to.id} as it is now`)
  }
  return (
    <span className="ml-1 text-ochre">
      its text changed since{canEdit && ': '}
      {canEdit && (
        <Button look="line" disabled={isLoading} aria-label={`It still holds for ${link.to.id}`} onClick={() => void hold()}>
          it still holds
        </Button>
      )}
    </span>
  )
}

/** What an item hangs together with, from its side; its parts with how they stand; and a way to tie more. */
export function ItemLinks({ item, canEdit }: { item: Item; canEdit: boolean }) {
  const [isAdding, setIsAdding] = useState(false)
  const [untie] = useUntieMutation()
  const shown = item.links.filter((link) => isListed(link, item.key))
  return (
    <div className="mt-1">
      {item.blockedBy.length > 0 && <p className="font-bold text-fault">Blocked by {item.blockedBy.join(', ')}</p>}
      {shown.map((link) => {
        const isOutward = link.from.kind === 'item' && link.from.id === item.key
        const other = isOutward ? link.to : link.from
        return (
          <p key={link.linkId} className="mt-0.5">
            {linkKindOf(link.kind)?.[isOutward ? 'out' : 'in']}{' '}
            <ThingLink to={other}>
              {other.kind === 'commit' ? other.id.slice(other.id.indexOf('/') + 1, other.id.indexOf('/') + 8) : other.id} {link.title}
            </ThingLink>
            {link.isSuspect && <LookAgain link={link} canEdit={canEdit} />}
            {canEdit && (
              <button
                type="button"
                className="ml-1 text-ink-3"
                aria-label={`Untie ${other.id}`}
                onClick={() => void untie({ key: item.key, linkId: link.linkId }).then(tellRefusal)}
              >
                ×
              </button>
            )}
          </p>
        )
      })}
      {item.children.length > 0 && (
        <section aria-label="Parts" className="mt-1 border-l-2 border-edge pl-2">
          <p className="text-ink-2">
            {plural(item.children.length, 'part')}: {spreadOf(item)}
          </p>
          {item.children.map((child) => (
            <p key={child.key} className="flex items-center gap-2">
              <ThingLink to={{ kind: 'item', id: child.key }} />
              <span className={`min-w-0 flex-1 truncate ${child.disposition ? 'line-through' : ''}`}>{child.title}</span>
              <Stair stair={child.stair} isRejected={child.disposition !== null} hasComeBack={child.hasComeBack} />
            </p>
          ))}
        </section>
      )}
      {canEdit && (
        <Button look="line" className="mt-0.5 text-[12px]" onClick={() => setIsAdding(true)}>
          Tie to another…
        </Button>
      )}
      {isAdding && <TieDialog itemKey={item.key} onClose={() => setIsAdding(false)} />}
    </div>
  )
}

/** `2 Merged, 1 Underway`: where the parts stand, furthest first. */
function spreadOf(item: Item): string {
  const counts = new Map<string, number>()
  for (const child of item.children) counts.set(child.stage, (counts.get(child.stage) ?? 0) + 1)
  return [...STAGES]
    .reverse()
    .flatMap((stage) => (counts.has(stage) ? [`${counts.get(stage)} ${STAGE_NAME[stage]}`] : []))
    .join(', ')
}

/** Ties by a key or by words: what is found stands below and is chosen by a click or with Enter. */
function TieDialog({ itemKey, onClose }: { itemKey: string; onClose: () => void }) {
  const { register, handleSubmit, watch } = useForm({ defaultValues: { way: 'see-also', text: '' } })
  const { way: chosen, text } = watch()
  const way = WAYS.find((known) => known.value === chosen) ?? WAYS[0]
  const [act] = useActMutation()
  const found = useFound(text, way?.to ?? [], itemKey)
  const tie = async (ref: NodeRef) => {
    if (!way) return
    const result = await act({
      key: way.isInverse ? ref.id : itemKey,
      act: 'links',
      body: { kind: way.kind, to: way.isInverse ? { kind: 'item', id: itemKey } : ref },
    })
    if (result.error) toast.error(problemText(result.error))
    else onClose()
  }
  return (
    <Dialog title={`Tie ${itemKey} to another`} isOpen onClose={onClose}>
      <form
        className="space-y-2 px-4 py-3"
        onSubmit={(event) =>
          void handleSubmit(async () => {
            if (found.hits[0]) await tie(found.hits[0].ref)
          })(event)
        }
      >
        <Field label={`${itemKey} …`}>
          <Choose choices={WAYS} {...register('way')} />
        </Field>
        <Field label="Key, hash, repository/number or words">
          <TextInput autoFocus {...register('text')} />
        </Field>
        <FoundThings found={found} onTake={(ref) => void tie(ref)} />
      </form>
    </Dialog>
  )
}
