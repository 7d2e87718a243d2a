import { columnsInOrder } from '@dystracer/core/looking/look'
import type { GroupField } from '@dystracer/core/looking/orders'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { useLazyFeedLinksQuery, usePinViewMutation, useRemoveViewMutation, useSaveViewMutation } from './looking.api'
import { problemText } from '#shared/lib/problem-text'
import { usePeople } from '#features/people/index'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Button, Refusal, SectionHead } from '#shared/ui/parts'
import type { OpenLook } from './use-look'
import { usePlaces } from './use-places'
import { apiRoot } from '#shared/lib/past'

/** What can be done with a way of looking: choose its columns and groups, keep it as a view, take its items along as a file or a feed. */
export function ViewMenu({ look }: { look: OpenLook }) {
  const [isOpen, setIsOpen] = useState(false)
  const { view, columns } = look
  const places = usePlaces()
  return (
    <>
      <Button look="line" onClick={() => setIsOpen(true)}>
        {view ? view.name : 'View…'}
      </Button>
      <Dialog title={view ? `View: ${view.name}` : 'This way of looking'} isOpen={isOpen} onClose={() => setIsOpen(false)}>
        <div className="space-y-4 px-4 py-3">
          {(look.layout === 'items' || look.layout === 'outline') && (
            <section aria-label="Columns">
              <SectionHead>Columns</SectionHead>
              <div className="flex flex-wrap gap-x-4">
                {places.columns.map(({ value: column, label }) => (
                  <label key={column} className="flex items-center gap-1">
                    <input
                      type="checkbox"
                      checked={columns.includes(column)}
                      onChange={(event) =>
                        look.set({
                          columns: columnsInOrder(
                            event.target.checked ? [...columns, column] : columns.filter((known) => known !== column),
                          ),
                        })
                      }
                    />
                    {label}
                  </label>
                ))}
              </div>
            </section>
          )}
          {look.layout === 'items' && (
            <Field label="In groups by">
              <Choose
                className="w-[200px]!"
                none="no groups"
                value={look.groupBy ?? ''}
                choices={places.groups}
                onChange={(event) => look.set({ groupBy: (event.target.value || undefined) as GroupField | undefined })}
              />
            </Field>
          )}
          <KeepView key={view?.viewId ?? 'new'} look={look} onDone={() => setIsOpen(false)} />
          <TakeAlong filter={look.filter} sort={look.sort} />
        </div>
      </Dialog>
    </>
  )
}

function KeepView({ look, onDone }: { look: OpenLook; onDone: () => void }) {
  const { me, may } = usePeople()
  const { view, filter, sort, columns } = look
  const project = me?.project.prefix ?? ''
  const { register, handleSubmit, watch } = useForm({
    defaultValues: { name: view?.name ?? '', isShared: view?.isShared ?? false, isPinned: view?.isPinned ?? true },
  })
  const [save] = useSaveViewMutation()
  const [remove] = useRemoveViewMutation()
  const [pin] = usePinViewMutation()
  if (!may('views.save')) return <p className="text-ochre">Sign in to keep it as a view.</p>
  const canChange = view === undefined || view.ownerId === me?.person?.personId || may('views.tidy')
  const keep = handleSubmit(async (draft) => {
    const viewId = canChange ? view?.viewId : undefined
    const kept = {
      layout: look.layout,
      widths: look.widths ?? {},
      ...(look.groupBy && { groupBy: look.groupBy }),
      ...(look.cards && { cards: look.cards }),
      ...(look.lanes && { lanes: look.lanes }),
      ...(look.values && { values: [...look.values] }),
    }
    const body = {
      ...draft,
      name: draft.name.trim(),
      filter,
      sort,
      columns: [...columns],
      look: kept,
      ...(viewId !== undefined && { viewId }),
    }
    const result = await save({ project, view: body })
    if (result.error) return void toast.error(problemText(result.error))
    toast.success(`The view ${body.name} is kept`)
    onDone()
  })
  return (
    <form aria-label="Keep as a view" className="space-y-2 border-t border-edge pt-3" onSubmit={(event) => void keep(event)}>
      <Field label="Keep it as a view, by the name">
        <TextInput maxLength={60} {...register('name')} />
      </Field>
      <p className="font-mono text-[12px] text-ink-2">{filter || 'all items'}</p>
      <div className="flex flex-wrap items-center gap-4">
        <label className="flex items-center gap-1">
          <input type="checkbox" {...register('isShared')} /> for everybody
        </label>
        <label className="flex items-center gap-1">
          <input
            type="checkbox"
            {...register('isPinned', {
              // One's own choice holds at once for a view that is there.
              onChange: ({ target }: { target: HTMLInputElement }) => {
                if (view) void pin({ project, viewId: view.viewId, isPinned: target.checked })
              },
            })}
          />{' '}
          in my index
        </label>
        <Button look="main" type="submit" disabled={watch('name').trim() === ''}>
          {view && canChange ? 'Keep the changes' : 'Keep the view'}
        </Button>
        {view && canChange && (
          <Button
            look="text"
            onClick={() =>
              void remove({ project, viewId: view.viewId }).then((result) => {
                if (result.error) toast.error(problemText(result.error))
                else onDone()
              })
            }
          >
            Remove the view
          </Button>
        )}
      </div>
    </form>
  )
}

function TakeAlong({ filter, sort }: { filter: string; sort: string }) {
  const { me } = usePeople()
  const [ask, { data, error }] = useLazyFeedLinksQuery()
  const query = new URLSearchParams({ filter, sort })
  return (
    <section aria-label="Take along" className="space-y-1 border-t border-edge pt-3">
      <SectionHead>Take along</SectionHead>
      <p className="flex gap-4">
        <a className="link" href={`${apiRoot}/items.csv?${query}`} download="items.csv">
          as CSV
        </a>
        <a className="link" href={`${apiRoot}/items.jsonl?${query}`} download="items.jsonl">
          as JSON Lines
        </a>
        {me?.person && (
          <Button look="line" onClick={() => void ask(filter)}>
            Private links for a calendar and a feed reader
          </Button>
        )}
      </p>
      <Refusal error={error} />
      {data && (
        <>
          <Field label="Due days, as a calendar">
            <TextInput readOnly value={data.calendar} onFocus={(event) => event.currentTarget.select()} />
          </Field>
          <Field label="What moved, as a feed">
            <TextInput readOnly value={data.activity} onFocus={(event) => event.currentTarget.select()} />
          </Field>
          <p className="text-[12px] text-ink-2">Who has a link reads what you may read through this filter. Keep it to yourself.</p>
        </>
      )}
    </section>
  )
}
