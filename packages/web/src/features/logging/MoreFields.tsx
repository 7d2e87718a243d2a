import { ITEM_FIELDS, LINE_FIELDS, suggestionsFor } from '@dystracer/core/setup/item-fields'
import type { Me } from '@dystracer/core/desk/wire'
import type { ProjectSetup } from '@dystracer/core/setup/wire'
import { needsField, OwnFieldControl, showsField } from '#features/items/index'
import { PRIORITY_CHOICES } from '#shared/lib/choices'
import { capitalised } from '#shared/lib/format'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { DateInput } from '#shared/ui/DateInput'
import type { LogDraft } from './log-draft'

/** The fields that stand here, by the names by which a type needs them. */
const STANDING_HERE = ['owner', 'priority', 'due', 'labels', 'estimate', 'points', ...LINE_FIELDS.map((name) => ITEM_FIELDS[name].use.name)]

/** Whether a type needs a field that stands among these: then they are shown at once. */
export function needsMore(setup: ProjectSetup | undefined, type: string): boolean {
  return [...STANDING_HERE, ...(setup?.ownFields.map((field) => `own:${field.fieldId}`) ?? [])].some((field) =>
    needsField(setup, type, field),
  )
}

/** The fields of a new item that few need: whose it is, by when, how large, and the project's own. */
export function MoreFields({
  draft,
  setup,
  me,
  wrong: fields,
  onChange: set,
}: {
  draft: LogDraft
  setup: ProjectSetup | undefined
  me: Me | undefined
  /** What the server said of single fields, by their names. */
  wrong: Record<string, string>
  onChange: (change: Partial<LogDraft>) => void
}) {
  const shows = (field: string) => showsField(setup, draft.type, field)
  const needs = (field: string) => needsField(setup, draft.type, field)
  return (
    <>
      <Field label="Owner" isNeeded={needs('owner')} error={fields.ownerId ?? fields.owner}>
        <Choose
          value={draft.ownerId}
          none="nobody yet"
          onChange={(event) => set({ ownerId: event.target.value })}
          choices={(me?.people ?? []).map((person) => ({ value: person.personId, label: person.name }))}
        />
      </Field>
      {shows('priority') && (
        <Field label="Priority" isNeeded={needs('priority')} error={fields.priority}>
          <Choose
            value={draft.priority}
            none="none"
            onChange={(event) => set({ priority: event.target.value })}
            choices={PRIORITY_CHOICES}
          />
        </Field>
      )}
      {shows('due') && (
        <Field label="Due" isNeeded={needs('due')} error={fields.dueOn ?? fields.due}>
          <DateInput label="Due" value={draft.dueOn} onDone={(dueOn) => set({ dueOn })} />
        </Field>
      )}
      {LINE_FIELDS.filter((name) => shows(ITEM_FIELDS[name].use.name)).map((name) => (
        <Field key={name} label={capitalised(ITEM_FIELDS[name].label)} isNeeded={needs(ITEM_FIELDS[name].use.name)} error={fields[name]}>
          <TextInput
            list={suggestionsFor(name)}
            maxLength={50}
            value={draft[name]}
            onChange={(event) => set({ [name]: event.target.value })}
          />
        </Field>
      ))}
      {shows('labels') && (
        <Field label="Labels, with commas" isNeeded={needs('labels')} error={fields.labels}>
          <TextInput list="labels" maxLength={400} value={draft.labels} onChange={(event) => set({ labels: event.target.value })} />
        </Field>
      )}
      {shows('estimate') && (
        <Field label="Estimate, such as 1h 30m" isNeeded={needs('estimate')} error={fields.estimateMinutes ?? fields.estimate}>
          <TextInput value={draft.estimate} onChange={(event) => set({ estimate: event.target.value })} />
        </Field>
      )}
      {shows('points') && (
        <Field label="Points" isNeeded={needs('points')} error={fields.points}>
          <TextInput type="number" min={0} step="any" value={draft.points} onChange={(event) => set({ points: event.target.value })} />
        </Field>
      )}
      <Field label="Part of (a key)" error={fields.parent}>
        <TextInput maxLength={20} value={draft.parent} onChange={(event) => set({ parent: event.target.value })} />
      </Field>
      {setup?.ownFields
        .filter((field) => field.types.length === 0 || field.types.includes(draft.type))
        .map((field) => (
          <Field
            key={field.fieldId}
            label={field.name}
            isNeeded={needs(`own:${field.fieldId}`)}
            error={fields[`ownValues.${field.fieldId}`]}
          >
            <OwnFieldControl
              field={field}
              value={draft.ownValues[field.fieldId]}
              people={me?.people ?? []}
              onChange={(value) => set({ ownValues: { ...draft.ownValues, [field.fieldId]: value } })}
            />
          </Field>
        ))}
      <label className="col-span-3 flex items-center gap-2">
        <input type="checkbox" checked={draft.isConfidential} onChange={(event) => set({ isConfidential: event.target.checked })} />
        Confidential: only its reporter, its owners, leads and people you name see it
      </label>
      <Suggestions id="milestones" values={me?.milestones ?? []} />
      <Suggestions id="sprints" values={me?.sprints ?? []} />
      <Suggestions id="labels" values={me?.labels ?? []} />
      <Suggestions id="releases" values={me?.releases ?? []} />
    </>
  )
}

function Suggestions({ id, values }: { id: string; values: readonly string[] }) {
  return (
    <datalist id={id}>
      {values.map((value) => (
        <option key={value} value={value} />
      ))}
    </datalist>
  )
}
