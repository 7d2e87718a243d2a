import { splitRepositoryId, type NodeRef } from '@dystracer/core/basics/node-ref'
import type { Link } from '@dystracer/core/records/wire'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { useActMutation, useUntieMutation } from '#features/items/items.api'
import { usePeople } from '#features/people/index'
import { FoundThings, useFound } from '#features/records/index'
import { problemText } from '#shared/lib/problem-text'
import { Dialog } from '#shared/ui/Dialog'
import { Field, TextInput } from '#shared/ui/fields'
import { Button } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useDecideTiesMutation, useTiesQuery } from './ties.api'

/** A thing of code that items are tied to. */
type CodeRef = NodeRef & { kind: 'commit' | 'branch' | 'pull-request' }

const SAID_BY: Partial<Record<Link['provenance'], string>> = {
  commit: 'named in the message',
  'branch-name': 'named in the branch',
  'pull-request': 'named in the pull request',
}

/** What a commit, branch or pull request is for: its items, each with who or what says so; to be added to and taken back. */
export function TiesOf({ to }: { to: CodeRef }) {
  const { may, nameOf } = usePeople()
  const { data } = useTiesQuery(to)
  const [untie] = useUntieMutation()
  const [isTying, setIsTying] = useState(false)
  const links = (data?.rows ?? []).filter(({ from }) => from.kind === 'item' || from.kind === 'requirement')
  const drop = async (link: Link) => {
    const result = await untie({ key: link.from.id, linkId: link.linkId })
    if (result.error) toast.error(problemText(result.error))
    else toast.success(`It has nothing to do with ${link.from.id} any more, whatever names it`)
  }
  return (
    <section aria-label="What it is for" className="my-1">
      {links.map((link) => (
        <p key={link.linkId} className="m-0 leading-6">
          <ThingLink to={link.from} /> <span className="min-w-0">{link.title}</span>{' '}
          <span className="text-[12px] text-ink-3">
            {link.kind === 'fixes' && 'its fix, '}
            {SAID_BY[link.provenance] ?? (link.statedBy ? `tied by ${nameOf(link.statedBy)}` : link.provenance)}
          </span>
          {may('items.change') && link.from.kind === 'item' && (
            <Button look="text" className="ml-1" aria-label={`Untie ${link.from.id}`} onClick={() => void drop(link)}>
              untie
            </Button>
          )}
        </p>
      ))}
      {data && links.length === 0 && (
        <p className={`m-0 ${data.needsNone ? 'text-ink-2' : 'text-ochre'}`}>
          {data.needsNone ? 'It needs no item, somebody said.' : 'No item: nothing says why.'}
        </p>
      )}
      {may('items.change') && (
        <p className="m-0 flex gap-3 text-[12px]">
          <Button look="line" onClick={() => setIsTying(true)}>
            Tie to an item…
          </Button>
          {to.kind === 'commit' && links.length === 0 && data && <NeedsNone id={to.id} needsNone={data.needsNone} />}
        </p>
      )}
      {isTying && <TieToItemDialog to={to} onClose={() => setIsTying(false)} />}
    </section>
  )
}

/** That a commit needs no item can be said, and taken back. */
function NeedsNone({ id, needsNone }: { id: string; needsNone: boolean }) {
  const { may } = usePeople()
  const [decide, { isLoading }] = useDecideTiesMutation()
  const place = splitRepositoryId(id)
  if (place === null || !may('code.contribute')) return null
  const say = async () => {
    const result = await decide({
      repository: place.repository,
      decisions: [{ what: needsNone ? 'needs-one' : 'needs-none', sha: place.rest }],
    })
    if (result.error) toast.error(problemText(result.error))
  }
  return (
    <Button look="line" disabled={isLoading} onClick={() => void say()}>
      {needsNone ? 'It needs one after all' : 'It needs none'}
    </Button>
  )
}

/** Ties by a key or by words: what is found stands below, and is taken by a click or (the first) by Enter. */
function TieToItemDialog({ to, onClose }: { to: CodeRef; onClose: () => void }) {
  const { register, handleSubmit, watch } = useForm({ defaultValues: { text: '' } })
  const found = useFound(watch('text'), ['item'])
  const [act] = useActMutation()
  const tie = async (item: NodeRef) => {
    const result = await act({ key: item.id, act: 'links', body: { kind: 'tied', to } })
    if (result.error) return void toast.error(problemText(result.error))
    toast.success(`Tied to ${item.id}`)
    onClose()
  }
  const take = handleSubmit(async () => {
    const [first] = found.hits
    if (first) await tie(first.ref)
  })
  return (
    <Dialog title="What is it for?" isOpen onClose={onClose}>
      <form className="space-y-2 px-4 py-3" onSubmit={(event) => void take(event)}>
        <Field label="Key of the item, or words of its title">
          <TextInput autoFocus {...register('text')} />
        </Field>
        <FoundThings found={found} onTake={(ref) => void tie(ref)} />
      </form>
    </Dialog>
  )
}
