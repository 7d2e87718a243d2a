import { WordInput } from '#shared/ui/Words'
import { closestCenter, DndContext, type DragEndEvent } from '@dnd-kit/core'
import { arrayMove, SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable'
import type { IntakeRuleRow, IntakeRules as Rules } from '@dystracer/core/faults/intake-wire'
import { GripVertical } from 'lucide-react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { useDragSensors } from '#shared/lib/use-drag-sensors'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Button, Pending, SectionHead, When } from '#shared/ui/parts'
import {
  useIntakeRulesQuery,
  useOrderIntakeRulesMutation,
  useRemoveIntakeRuleMutation,
  useSetIntakeBudgetMutation,
  useSetIntakeRuleMutation,
} from './intake.api'
import { A_BUDGET, freeId } from './rule-form'
import { inputOf, NEW_ID } from './RulePane'
import { ruleWords } from './rule-words'

/** What is done about faults by itself: the rules in the order in which they are asked, and how many items they may log. */
export function IntakeRules() {
  const { me, may } = usePeople()
  const trail = usePaneTrail()
  const project = me?.project.prefix ?? ''
  const { data, error, isLoading } = useIntakeRulesQuery(project, { skip: project === '' })
  const canEdit = may('intake-rules.change')
  const rows = data?.rows ?? []
  const acts = useRuleActs(project, rows)
  const sensors = useDragSensors()
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (over && active.id !== over.id)
      void acts.move(
        String(active.id),
        rows.findIndex((row) => row.ruleId === over.id),
      )
  }
  return (
    <section aria-label="Intake rules">
      <SectionHead>Intake rules: what is done about faults by itself</SectionHead>
      <Pending error={error} isLoading={isLoading} />
      {data && rows.length === 0 && <p className="text-ink-3">None yet: faults become items by hand.</p>}
      {rows.length > 1 && (
        <p className="text-ink-2">They are asked from the top. The first that takes a fault is the last, unless it says otherwise.</p>
      )}
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
        <SortableContext items={rows.map((row) => row.ruleId)} strategy={verticalListSortingStrategy}>
          <ol className="m-0 list-none p-0">
            {rows.map((row, at) => (
              <RuleLine
                key={row.ruleId}
                rule={row}
                canEdit={canEdit}
                isFirst={at === 0}
                isLast={at === rows.length - 1}
                onOpen={() => trail.open({ kind: 'rule', id: `${project}/${row.ruleId}` })}
                onMove={(by) => void acts.move(row.ruleId, at + by)}
                onCopy={() => void acts.copy(row)}
                onRemove={() => void acts.remove(row)}
              />
            ))}
          </ol>
        </SortableContext>
      </DndContext>
      {canEdit && (
        <p className="mt-2">
          <Button onClick={() => trail.open({ kind: 'rule', id: `${project}/${NEW_ID}` })}>New rule…</Button>
        </p>
      )}
      {data && rows.length > 0 && (
        <Budget key={`${data.budget.perHour} ${data.budget.perDay}`} project={project} budget={data.budget} canEdit={canEdit} />
      )}
    </section>
  )
}

/** What is done with the rules of the list; each says what became of it. */
function useRuleActs(project: string, rows: readonly IntakeRuleRow[]) {
  const trail = usePaneTrail()
  const [order] = useOrderIntakeRulesMutation()
  const [save] = useSetIntakeRuleMutation()
  const [removeRule] = useRemoveIntakeRuleMutation()
  const ids = rows.map((row) => row.ruleId)
  const setOrder = async (ruleIds: string[]) => {
    const result = await order({ project, ruleIds })
    if (result.error) toast.error(problemText(result.error))
  }
  return {
    move: (ruleId: string, to: number) => setOrder(arrayMove(ids, ids.indexOf(ruleId), to)),
    /** A copy begins as a draft, and is opened. */
    copy: async (rule: IntakeRuleRow) => {
      const name = `Copy of ${rule.name}`.slice(0, 60)
      const ruleId = freeId(name, ids)
      const result = await save({ project, ruleId, body: { ...inputOf(rule), name, isDraft: true } })
      if (result.error) return void toast.error(problemText(result.error))
      trail.open({ kind: 'rule', id: `${project}/${ruleId}` })
    },
    remove: async (rule: IntakeRuleRow) => {
      const result = await removeRule({ project, ruleId: rule.ruleId })
      if (result.error) return void toast.error(problemText(result.error))
      const takeBack = async () => {
        const back = await save({ project, ruleId: rule.ruleId, body: inputOf(rule) })
        if (back.error) return void toast.error(problemText(back.error))
        await setOrder(ids)
      }
      toast.success(`${rule.name} is removed; its items stay`, { action: { label: 'Take back', onClick: () => void takeBack() } })
    },
  }
}

function RuleLine({
  rule,
  canEdit,
  isFirst,
  isLast,
  onOpen,
  onMove,
  onCopy,
  onRemove,
}: {
  rule: IntakeRuleRow
  canEdit: boolean
  isFirst: boolean
  isLast: boolean
  onOpen: () => void
  onMove: (by: number) => void
  onCopy: () => void
  onRemove: () => void
}) {
  const { setNodeRef, listeners, transform, transition, isDragging } = useSortable({ id: rule.ruleId, disabled: !canEdit })
  return (
    <li
      ref={setNodeRef}
      style={{ transform: transform ? `translateY(${transform.y}px)` : undefined, transition }}
      className={`flex items-baseline gap-2 border-b border-edge-soft bg-sheet py-1.5 ${isDragging ? 'relative z-10 bg-mark' : ''}`}
    >
      {canEdit && (
        <span {...listeners} aria-hidden="true" title="drag to another place" className="cursor-grab self-center text-ink-3">
          <GripVertical size={14} />
        </span>
      )}
      <span className="min-w-0 flex-1">
        <button type="button" onClick={onOpen} className="link min-h-6 font-bold">
          {rule.name}
        </button>
        {rule.isDraft && <span className="ml-2 text-ochre">draft, does nothing</span>}
        <span className="block text-ink-2">{ruleWords(rule)}</span>
        <span className="block text-[12px] text-ink-3">
          <Did rule={rule} />
        </span>
        {rule.warnings.map((warning) => (
          <span key={warning} className="block text-[12px] text-ochre">
            {warning}
          </span>
        ))}
      </span>
      {canEdit && (
        <span className="flex shrink-0 gap-1">
          <Button look="line" disabled={isFirst} aria-label={`Move ${rule.name} up`} onClick={() => onMove(-1)}>
            up
          </Button>
          <Button look="line" disabled={isLast} aria-label={`Move ${rule.name} down`} onClick={() => onMove(1)}>
            down
          </Button>
          <Button look="line" aria-label={`Copy ${rule.name}`} onClick={onCopy}>
            copy
          </Button>
          <Button look="line" aria-label={`Remove ${rule.name}`} onClick={onRemove}>
            remove
          </Button>
        </span>
      )}
    </li>
  )
}

function Did({ rule: { fired, lastFiredAtMs, week } }: { rule: IntakeRuleRow }) {
  if (fired === 0 || lastFiredAtMs === null) return <>has not fired</>
  const { logged, gathered, other } = week
  const parts = [
    logged > 0 && `logged ${plural(logged, 'item')}`,
    gathered > 0 && `gathered ${plural(gathered, 'fault')} beyond the budget`,
    other > 0 && `did something else about ${plural(other, 'fault')}`,
  ].filter(Boolean)
  return (
    <>
      this week it {parts.length > 0 ? parts.join(', ') : 'did nothing'}; fired {plural(fired, 'time')}, last <When atMs={lastFiredAtMs} />
    </>
  )
}

/** How many items all rules together may log. */
function Budget({ project, budget, canEdit }: { project: string; budget: Rules['budget']; canEdit: boolean }) {
  const [save] = useSetIntakeBudgetMutation()
  const { register, handleSubmit, formState } = useForm({
    defaultValues: { perHour: budget.perHour?.toString() ?? '', perDay: budget.perDay?.toString() ?? '' },
  })
  const keep = handleSubmit(async ({ perHour, perDay }) => {
    const wanted = { perHour: perHour === '' ? null : Number(perHour), perDay: perDay === '' ? null : Number(perDay) }
    if (wanted.perHour === budget.perHour && wanted.perDay === budget.perDay) return
    const result = await save({ project, ...wanted })
    if (result.error) toast.error(problemText(result.error))
    else toast.success('The budget is saved')
  })
  const isFull =
    (budget.perHour !== null && budget.usedHour >= budget.perHour) || (budget.perDay !== null && budget.usedDay >= budget.perDay)
  return (
    <form aria-label="Budget of all rules" className="mt-2" onSubmit={(event) => void keep(event)}>
      <fieldset disabled={!canEdit} className="m-0 border-0 p-0">
        All rules together log <WordInput label="Items an hour, of all rules" {...A_BUDGET} {...register('perHour')} />
        <span> items an hour at most and </span>
        <WordInput label="Items a day, of all rules" {...A_BUDGET} {...register('perDay')} />
        <span> a day; the rest goes into one item. </span>
        {formState.isDirty && (
          <Button look="line" type="submit">
            Save the budget
          </Button>
        )}
        <span className={`block text-[12px] ${isFull ? 'text-fault' : 'text-ink-3'}`}>
          {budget.usedHour} in the last hour, {budget.usedDay} in the last day.
        </span>
      </fieldset>
    </form>
  )
}
