import { isDefectType } from '@dystracer/core/setup/item-type'
import { ItemCode } from '#features/files/index'
import type { Item } from '@dystracer/core/items/wire'
import { lazy, Suspense, useState } from 'react'
import { useItemQuery } from './items.api'
import { useSetupQuery } from '#features/setup/setup.api'
import { AffectedReleases } from './AffectedReleases'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { TextInput } from '#shared/ui/fields'
import { Markdown } from '#shared/ui/Markdown'
import { MarkdownEditor } from '#shared/editors/MarkdownEditor'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, SectionHead, When } from '#shared/ui/parts'
import { Stair } from '#shared/ui/Stair'
import { ThingLink } from '#shared/ui/ThingLink'
import { AttachmentList, useUploads, ItemComments, useCompletions } from '#features/talk/index'
import { HistoryList } from '#features/history/index'
import { ItemActions } from './ItemActions'
import { ClaimActs, UnaffectedActs } from './LadderActs'
import { ItemFacts } from './ItemFacts'
import { ItemLinks } from './ItemLinks'
import { DriftLines, LadderView } from '#features/ladder/index'
import { PrivateNote } from '#features/hand/index'
import { useSave, useSaveText } from './use-save'

const MergeDialog = lazy(() => import('./MergeDialog').then((module) => ({ default: module.MergeDialog })))

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
          {item.aliases.length > 0 && <span className="ml-2 text-[12px] font-normal text-ink-3">was {item.aliases.join(', ')}</span>}
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
      <ItemBody key={item.key} item={item} />
    </Pane>
  )
}

function ItemBody({ item }: { item: Item }) {
  const people = usePeople()
  const save = useSave(item)
  const { data: setup } = useSetupQuery(item.project)
  const isDefect = isDefectType(setup?.types ?? [], item.type)
  const canEdit = people.may('items.change', item.project)
  return (
    <>
      <div className="px-4 pt-3">
        <EditableTitle item={item} canEdit={canEdit} />
        {item.hasComeBack && (
          <p role="status" className="mt-1 font-bold text-fault">
            Came back: seen again in a release that holds its fix.
          </p>
        )}
        {item.asked && (
          <p role="status" className="mt-1 text-ochre">
            Waits for its reporter, whom {people.nameOf(item.asked.by)} asked: “{item.asked.words}” Until <When atMs={item.asked.untilMs} />
            .
          </p>
        )}
        {item.mergedInto && (
          <p className="mt-1">
            Went into <ThingLink to={{ kind: 'item', id: item.mergedInto }} />.
          </p>
        )}
        {item.disposition && <p className="mt-1 text-fault">Rejected: {item.disposition.replaceAll('-', ' ')}</p>}
        {item.isConfidential && <p className="mt-1 text-ochre">Confidential: its reporter, its owners, leads and people named see it.</p>}
        {item.isArchived && <p className="mt-1 text-ink-2">Archived: lists leave it out.</p>}
        <ItemLinks item={item} canEdit={canEdit} />
      </div>
      <LadderView
        ladder={item.ladder}
        nameOf={people.nameOf}
        actsFor={(tread) => (
          <>
            {tread.evidence.some(({ code }) => code === 'claim-accepted') && <ClaimActs item={item} stage={tread.stage} isAccepted />}
            <UnaffectedActs item={item} tread={tread} />
          </>
        )}
      />
      <DriftLines drift={item.ladder.drift} actsFor={({ code, stage }) => code === 'claim' && <ClaimActs item={item} stage={stage} />} />
      <ItemFacts item={item} save={save} />
      <Description item={item} canEdit={canEdit} />
      {isDefect && <AffectedReleases item={item} />}
      <ItemCode itemKey={item.key} />
      {people.me?.person && <PrivateNote itemKey={item.key} />}
      <AttachmentList itemKey={item.key} />
      <ItemComments item={item} />
      <HistoryList itemKey={item.key} />
    </>
  )
}

function EditableTitle({ item, canEdit }: { item: Item; canEdit: boolean }) {
  const [draft, setDraft] = useState<{ text: string; base: Item } | null>(null)
  const saveText = useSaveText(item)
  const [theirs, setTheirs] = useState<string | null>(null)
  if (draft === null) {
    return (
      <h3 className="text-[17px] leading-tight font-bold">
        {item.title}{' '}
        {canEdit && (
          <button type="button" className="link text-[12px] font-normal" onClick={() => setDraft({ text: item.title, base: item })}>
            edit title
          </button>
        )}
      </h3>
    )
  }
  const submit = async (revision: number) => {
    const outcome = await saveText({ title: draft.text }, revision)
    if (outcome === 'saved') setDraft(null)
    if (outcome === 'conflict') setTheirs(item.title)
  }
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        void submit(item.title === draft.base.title ? item.revision : draft.base.revision)
      }}
      className="flex flex-wrap gap-2"
    >
      <TextInput
        aria-label="Title"
        autoFocus
        value={draft.text}
        maxLength={200}
        onChange={(event) => setDraft({ ...draft, text: event.target.value })}
        onKeyDown={(event) => {
          if (event.key === 'Escape') setDraft(null)
        }}
      />
      {theirs !== null && (
        <p role="alert" className="w-full text-ochre">
          Meanwhile it became “{theirs}”. Yours stands above; save again to put it in its place, or press Escape to keep theirs.
        </p>
      )}
      <Button
        look="main"
        type={theirs === null ? 'submit' : 'button'}
        onClick={theirs === null ? undefined : () => void submit(item.revision)}
      >
        Save
      </Button>
    </form>
  )
}

/** The description, edited as Markdown; two people editing it at once end in a merge, never in a loss. */
function Description({ item, canEdit }: { item: Item; canEdit: boolean }) {
  const [draft, setDraft] = useState<{ text: string; base: string; revision: number } | null>(null)
  const [isMerging, setIsMerging] = useState(false)
  const saveText = useSaveText(item)
  const completions = useCompletions(draft !== null)
  const { send } = useUploads(item.key)
  const submit = async (text: string, revision: number) => {
    const outcome = await saveText({ description: text }, revision)
    if (outcome === 'saved') {
      setDraft(null)
      setIsMerging(false)
    }
    if (outcome === 'conflict') setIsMerging(true)
  }
  return (
    <div className="px-4 py-3">
      {draft === null ? (
        <>
          <SectionHead>
            Description{' '}
            {canEdit && (
              <button
                type="button"
                className="link font-normal"
                aria-label="Edit the description"
                onClick={() => setDraft({ text: item.description, base: item.description, revision: item.revision })}
              >
                edit
              </button>
            )}
          </SectionHead>
          {item.description ? <Markdown text={item.description} /> : <p className="text-ink-3">Nothing was written.</p>}
        </>
      ) : (
        <>
          <MarkdownEditor
            label="Description"
            value={draft.text}
            onChange={(text) => setDraft({ ...draft, text })}
            completions={completions}
            onFiles={send}
            // A change of other fields does not stand in the way of the text.
            onSubmit={() => void submit(draft.text, item.description === draft.base ? item.revision : draft.revision)}
            minHeightPx={140}
          />
          <div className="mt-1 flex gap-2">
            <Button look="main" onClick={() => void submit(draft.text, item.description === draft.base ? item.revision : draft.revision)}>
              Save
            </Button>
            <Button onClick={() => setDraft(null)}>Leave as it was</Button>
          </div>
        </>
      )}
      {draft !== null && isMerging && (
        <Suspense fallback={null}>
          <MergeDialog
            base={draft.base}
            mine={draft.text}
            theirs={item.description}
            onSave={(text) => void submit(text, item.revision)}
            onClose={() => setIsMerging(false)}
          />
        </Suspense>
      )}
      <p className="mt-2 text-[12px] text-ink-3">
        Logged <When atMs={item.createdAtMs} />, changed <When atMs={item.updatedAtMs} />
      </p>
    </div>
  )
}
