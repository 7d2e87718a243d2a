import { useState } from 'react'
import { FilePicker, useCompletions } from '#features/talk/index'
import { requirementChoices, useRequirementsQuery } from '#features/requirements/requirements.api'
import { SEVERITIES } from '#shared/lib/choices'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { MarkdownEditor } from '#shared/editors/MarkdownEditor'
import { Button, Refusal } from '#shared/ui/parts'
import { needsField, showsField } from '#features/items/index'
import { LookAlikes } from './LookAlikes'
import { MoreFields, needsMore } from './MoreFields'
import { type LogAbout, useLogForm } from './use-log-form'

/**
 * Logs an item from anywhere. What is typed survives a reload and a failed save; while the title is typed, items that look alike stand
 * below it.
 */
export function LogDialog({ isOpen, onClose, about = null }: { isOpen: boolean; onClose: () => void; about?: LogAbout | null }) {
  return (
    <Dialog title="Log an item" isOpen={isOpen} onClose={onClose}>
      {isOpen && <LogForm about={about} onClose={onClose} />}
    </Dialog>
  )
}

function LogForm({ about, onClose }: { about: LogAbout | null; onClose: () => void }) {
  const form = useLogForm(onClose, about)
  const { me, setup, draft, set, project, files, setFiles, wrong: fields, error, titleField, submit, joinTo, canLog } = form
  const [isMore, setIsMore] = useState(false)
  const { data: requirements } = useRequirementsQuery()
  const completions = useCompletions()
  const shows = (field: string) => showsField(setup, draft.type, field)
  const needs = (field: string) => needsField(setup, draft.type, field)
  const isMoreShown = isMore || needsMore(setup, draft.type)
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        void submit()
      }}
      onKeyDown={(event) => {
        if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void submit()
      }}
      className="grid grid-cols-3 gap-x-3 gap-y-2 px-4 py-3"
    >
      <div className="col-span-3">
        <Field label="Title" error={fields.title}>
          <TextInput
            ref={titleField}
            autoFocus
            maxLength={200}
            value={draft.title}
            onChange={(event) => set({ title: event.target.value })}
          />
        </Field>
        <LookAlikes rows={form.alike} onSame={(key) => void joinTo(key)} />
      </div>
      <Field label="Type" error={fields.type}>
        <Choose
          value={draft.type}
          onChange={(event) => set({ type: event.target.value })}
          choices={(setup?.types ?? []).map(({ type }) => ({ value: type, label: type }))}
        />
      </Field>
      <Field label="Project" error={fields.project}>
        <Choose
          value={project}
          onChange={(event) => set({ project: event.target.value })}
          choices={(me?.projects ?? []).map(({ prefix, name }) => ({ value: prefix, label: `${prefix} ${name}` }))}
        />
      </Field>
      <Field label="Component" isNeeded={needs('component')} error={fields.component}>
        <Choose
          value={draft.component}
          none="not sure"
          onChange={(event) => set({ component: event.target.value })}
          choices={(me?.components ?? []).map((name) => ({ value: name, label: name }))}
        />
      </Field>
      {shows('severity') && (
        <Field label="Severity" isNeeded={needs('severity')} error={fields.severity}>
          <Choose
            value={draft.severity}
            none="to be decided"
            onChange={(event) => set({ severity: event.target.value })}
            choices={SEVERITIES}
          />
        </Field>
      )}
      {shows('requirement') && (
        <div className="col-span-2">
          <Field label="Requirement" isNeeded={needs('requirement')} error={fields.requirement}>
            <Choose
              value={draft.requirement}
              none="none known"
              onChange={(event) => set({ requirement: event.target.value })}
              choices={requirementChoices(requirements?.rows)}
            />
          </Field>
          {about?.whyRequirement && draft.requirement !== '' && draft.requirement === about.draft.requirement && (
            <p className="text-[12px] text-ink-2">Proposed: {about.whyRequirement}.</p>
          )}
        </div>
      )}
      <div className="col-span-3">
        <MarkdownEditor
          label="Description"
          value={draft.description}
          onChange={(description) => set({ description })}
          completions={completions}
          onFiles={(fresh) => setFiles([...files, ...fresh])}
          onSubmit={() => void submit()}
          minHeightPx={120}
        />
      </div>
      <div className="col-span-3">
        <FilePicker files={files} onChange={setFiles} />
      </div>
      <div className="col-span-3">
        <Button look="text" aria-expanded={isMoreShown} disabled={isMoreShown && !isMore} onClick={() => setIsMore(!isMore)}>
          {isMoreShown ? 'Less' : 'More: owner, priority, dates, labels …'}
        </Button>
      </div>
      {isMoreShown && <MoreFields draft={draft} setup={setup} me={me} wrong={fields} onChange={set} />}
      <Refusal error={error} className="col-span-3" />
      {!canLog && <p className="col-span-3 text-ochre">You are reading as a guest; sign in to log. What you type is kept.</p>}
      <div className="sticky bottom-0 col-span-3 -mb-3 flex items-center gap-3 bg-sheet py-3">
        <Button look="main" type="submit" disabled={form.isSending || !canLog}>
          Log it
        </Button>
        {/* What is begun from a thing is begun anew from there, and is one item. */}
        {about === null && (
          <>
            <Button onClick={onClose}>Keep the draft for later</Button>
            <label className="ml-auto flex items-center gap-2 text-ink-2">
              <input type="checkbox" checked={form.goesOn} onChange={(event) => form.setGoesOn(event.target.checked)} />
              Keep going
            </label>
          </>
        )}
      </div>
    </form>
  )
}
