import type { Item } from '@dystracer/core/contract/items'
import { formatMinutes } from '@dystracer/core/text/duration'
import { useState } from 'react'
import { toast } from 'sonner'
import { useChangeItemMutation, useItemQuery } from '../../shared/lib/api'
import { problemText } from '../../shared/lib/problem-text'
import { usePeople } from '../../shared/lib/use-people'
import { usePaneTrail } from '../../shared/lib/use-trail'
import { Choose, TextArea, TextInput } from '../../shared/ui/fields'
import { Markdown } from '../../shared/ui/Markdown'
import { Pane } from '../../shared/ui/Pane'
import { Button, Fact, Label, Pending, SectionHead, When } from '../../shared/ui/parts'
import { Stair } from '../../shared/ui/Stair'
import { ThingLink } from '../../shared/ui/ThingLink'
import { HistoryList } from './HistoryList'
import { ItemActions } from './ItemActions'
import { ItemComments } from './ItemComments'
import { LadderView } from './LadderView'

export function ItemPane({ id }: { id: string }) {
  const { data: item, error, isLoading } = useItemQuery(id)
  const trail = usePaneTrail()
  if (!item)
    return (
      <Pane label={id} title={id}>
        <Pending error={error} isLoading={isLoading} />
      </Pane>
    )
  return (
    <Pane
      label={item.key}
      title={
        <>
          <span className="font-mono text-[13px] font-normal">{item.key}</span>{' '}
          <span className="text-[13px] font-normal text-ink-2">{item.type}</span>
        </>
      }
      aside={
        <>
          <Button look="text" onClick={() => trail.open({ kind: 'thread', id: `item:${item.key}` })}>
            thread
          </Button>
          <Stair stair={item.stair} isRejected={item.disposition !== null} hasComeBack={item.hasComeBack} />
        </>
      }
      foot={<ItemActions item={item} />}
    >
      <ItemBody item={item} />
    </Pane>
  )
}

const VERB: Record<string, string> = {
  breaks: 'Breaks',
  implements: 'Implements',
  'same-as': 'Same as',
  'see-also': 'See also',
  blocks: 'Blocks',
  parent: 'Part of',
  'brought-in-by': 'Brought in by',
}

function ItemBody({ item }: { item: Item }) {
  const people = usePeople()
  const shownLinks = item.links.filter((link) => VERB[link.kind] && (link.to.kind === 'requirement' || link.to.kind === 'item'))
  return (
    <>
      <div className="px-4 pt-3">
        <EditableTitle key={`${item.key}${item.title}`} item={item} canEdit={people.may('member')} />
        {item.hasComeBack && (
          <p role="status" className="mt-1 font-bold text-fault">
            Came back: seen again in a release that holds its fix.
          </p>
        )}
        {item.disposition && <p className="mt-1 text-fault">Rejected: {item.disposition.replaceAll('-', ' ')}</p>}
        {shownLinks.map((link) => {
          const isOutward = link.from.kind === 'item' && link.from.id === item.key
          const other = isOutward ? link.to : link.from
          return (
            <p key={link.linkId} className="mt-1">
              {isOutward ? VERB[link.kind] : `${VERB[link.kind]} (from there)`}{' '}
              <ThingLink to={other}>
                {other.id} {link.title}
              </ThingLink>
              {link.isSuspect && <span className="ml-1 text-ochre">re-check: its text changed since</span>}
            </p>
          )
        })}
      </div>
      <LadderView ladder={item.ladder} nameOf={people.nameOf} />
      <ItemFacts item={item} />
      <Description item={item} canEdit={people.may('member')} />
      <ItemComments item={item} />
      <HistoryList itemKey={item.key} />
    </>
  )
}

function EditableTitle({ item, canEdit }: { item: Item; canEdit: boolean }) {
  const [isEditing, setIsEditing] = useState(false)
  const [text, setText] = useState(item.title)
  const save = useSave(item)
  if (!isEditing) {
    return (
      <h3 className="text-[17px] leading-tight font-bold">
        {item.title}{' '}
        {canEdit && (
          <button type="button" className="link text-[12px] font-normal" onClick={() => setIsEditing(true)}>
            edit title
          </button>
        )}
      </h3>
    )
  }
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        void save({ title: text }).then((isSaved) => {
          if (isSaved) setIsEditing(false)
        })
      }}
      className="flex gap-2"
    >
      <TextInput
        aria-label="Title"
        autoFocus
        value={text}
        maxLength={200}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Escape') setIsEditing(false)
        }}
      />
      <Button look="main" type="submit">
        Save
      </Button>
    </form>
  )
}

/** Saves a change against the revision on screen; true when it is in. */
function useSave(item: Item): (change: Parameters<ReturnType<typeof useChangeItemMutation>[0]>[0]['change']) => Promise<boolean> {
  const [change] = useChangeItemMutation()
  return async (fields) => {
    const result = await change({ key: item.key, change: fields, revision: item.revision })
    if (result.error) toast.error(problemText(result.error))
    return !result.error
  }
}

function ItemFacts({ item }: { item: Item }) {
  const people = usePeople()
  const save = useSave(item)
  const isLocked = !people.may('member')
  const bare = 'border-0! px-0! py-0! disabled:opacity-100'
  return (
    <div className="grid grid-cols-2 border-t border-edge">
      <Fact label="Severity">
        <Choose
          aria-label="Severity"
          disabled={isLocked}
          value={item.severity ?? ''}
          none="not decided"
          choices={[1, 2, 3, 4, 5].map((value) => ({ value: String(value), label: String(value) }))}
          onChange={(event) => void save({ severity: event.target.value ? Number(event.target.value) : null })}
          className={`${bare} ${item.severity !== null && item.severity <= 2 ? 'font-bold text-fault' : ''}`}
        />
      </Fact>
      <Fact label="Owner">
        <Choose
          aria-label="Owner"
          disabled={isLocked}
          value={item.ownerId ?? ''}
          none="nobody"
          choices={(people.me?.people ?? []).map((person) => ({ value: person.personId, label: person.name }))}
          onChange={(event) => void save({ ownerId: event.target.value || null })}
          className={bare}
        />
      </Fact>
      <Fact label="Component">
        <Choose
          aria-label="Component"
          disabled={isLocked}
          value={item.component ?? ''}
          none="none"
          choices={(people.me?.components ?? []).map((name) => ({ value: name, label: name }))}
          onChange={(event) => void save({ component: event.target.value || null })}
          className={bare}
        />
      </Fact>
      <Fact label="Due">
        <TextInput
          aria-label="Due"
          type="date"
          disabled={isLocked}
          value={item.dueOn ?? ''}
          onChange={(event) => void save({ dueOn: event.target.value || null })}
          className={bare}
        />
      </Fact>
      <Fact label="Found in">
        {item.foundIn ? <span className="font-mono text-[12px]">{item.foundIn}</span> : <span className="text-ink-3">not said</span>}
      </Fact>
      <Fact label="Milestone">{item.milestone ?? <span className="text-ink-3">none</span>}</Fact>
      <Fact label="Time">
        {formatMinutes(item.spentMinutes)}
        {item.estimateMinutes !== null && ` of ${formatMinutes(item.estimateMinutes)}`}
      </Fact>
      <Fact label="Labels">
        {item.labels.length > 0 ? item.labels.map((label) => <Label key={label} text={label} />) : <span className="text-ink-3">none</span>}
      </Fact>
    </div>
  )
}

function Description({ item, canEdit }: { item: Item; canEdit: boolean }) {
  const [draft, setDraft] = useState<string | null>(null)
  const save = useSave(item)
  return (
    <div className="px-4 py-3">
      <SectionHead>
        Description{' '}
        {canEdit && draft === null && (
          <button type="button" className="link font-normal" onClick={() => setDraft(item.description)}>
            edit
          </button>
        )}
      </SectionHead>
      {draft === null ? (
        item.description ? (
          <Markdown text={item.description} />
        ) : (
          <p className="text-ink-3">Nothing was written.</p>
        )
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault()
            void save({ description: draft }).then((isSaved) => {
              if (isSaved) setDraft(null)
            })
          }}
        >
          <TextArea aria-label="Description" rows={8} value={draft} onChange={(event) => setDraft(event.target.value)} />
          <div className="mt-1 flex gap-2">
            <Button look="main" type="submit">
              Save
            </Button>
            <Button onClick={() => setDraft(null)}>Leave as it was</Button>
          </div>
        </form>
      )}
      <p className="mt-2 text-[12px] text-ink-3">
        Logged <When atMs={item.createdAtMs} />, changed <When atMs={item.updatedAtMs} />
      </p>
    </div>
  )
}
