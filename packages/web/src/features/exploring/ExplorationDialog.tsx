import { parseKeys } from '@dystracer/core/cases/steps-text'
import type { ExplorationDetail } from '@dystracer/core/exploring/wire'
import { useForm } from 'react-hook-form'
import { useReleasesQuery } from '#features/releases/releases.api'
import { fieldProblem } from '#shared/lib/problem-text'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Dialog } from '#shared/ui/Dialog'
import { Choose, Field, TextArea, TextInput } from '#shared/ui/fields'
import { Button, Refusal } from '#shared/ui/parts'
import { PictureText } from '#shared/ui/PictureText'
import { useBeginExplorationMutation, useChangeExplorationMutation } from './exploring.api'

const FIELDS = ['question', 'text', 'points', 'about', 'release', 'boxMinutes'] as const

/** What is to be found out by looking around: points are lines; or changes that. */
export function ExplorationDialog({ project, row, onClose }: { project: string; row?: ExplorationDetail; onClose: () => void }) {
  const trail = usePaneTrail()
  const { data: board } = useReleasesQuery()
  const [begin, begun] = useBeginExplorationMutation()
  const [change, changed] = useChangeExplorationMutation()
  const { error, isLoading } = row ? changed : begun
  const { register, handleSubmit, setValue, watch } = useForm({
    defaultValues: {
      question: row?.question ?? '',
      text: row?.text ?? '',
      points: row?.points.map(({ point }) => point).join('\n') ?? '',
      about: row?.about.join(' ') ?? '',
      release: row?.release ?? '',
      boxMinutes: row?.boxMinutes === null || row === undefined ? '' : String(row.boxMinutes),
    },
  })
  const submit = handleSubmit(async ({ question, text, points, about, release, boxMinutes }) => {
    const body = {
      question,
      text,
      points: points
        .split('\n')
        .map((line) => line.trim())
        .filter((line) => line !== ''),
      about: parseKeys(about),
      release: release || null,
      boxMinutes: boxMinutes.trim() === '' ? null : Number(boxMinutes),
    }
    const result = await (row ? change({ project, explorationId: row.explorationId, ...body }) : begin({ project, ...body }))
    if (result.error) return
    onClose()
    if (!row) trail.open({ kind: 'exploration', id: `${project}/${result.data.explorationId}` })
  })
  const wrong = (field: (typeof FIELDS)[number]) => fieldProblem(error, field)
  const releases = board?.services.flatMap((service) => service.releases.map((release) => `${service.service}@${release.release}`)) ?? []
  const label = row ? 'Change what is explored' : 'Explore'
  return (
    <Dialog title={label} isOpen onClose={onClose}>
      <form aria-label={label} className="space-y-3 px-4 py-3" onSubmit={(event) => void submit(event)}>
        <Field label="What it is to find out" error={wrong('question')} isNeeded>
          <TextInput
            autoFocus
            maxLength={200}
            placeholder="What becomes of a draft when the network goes away half-way?"
            {...register('question', { required: true })}
          />
        </Field>
        <Field label="Points to look at, a line each" error={wrong('points')}>
          <TextArea rows={4} placeholder={'while it is saved\nwhile a picture is sent\non a phone that sleeps'} {...register('points')} />
        </Field>
        <PictureText
          label="What one has to know before (Markdown)"
          wrong={wrong('text')}
          project={project}
          rows={2}
          maxLength={20_000}
          value={watch('text')}
          onText={(text) => setValue('text', text)}
        />
        <div className="grid grid-cols-2 gap-3">
          <Field label="Of which release" error={wrong('release')}>
            <Choose none="none in particular" choices={releases.map((value) => ({ value, label: value }))} {...register('release')} />
          </Field>
          <Field label="At most so many minutes" error={wrong('boxMinutes')}>
            <TextInput type="number" min={5} max={1440} placeholder="90" {...register('boxMinutes')} />
          </Field>
        </div>
        <Field label="About: keys of requirements and items" error={wrong('about')}>
          <TextInput className="font-mono uppercase" {...register('about')} />
        </Field>
        {!FIELDS.some((field) => wrong(field)) && <Refusal error={error} />}
        <Button look="main" type="submit" disabled={isLoading}>
          {row ? 'Change it' : 'Begin'}
        </Button>
      </form>
    </Dialog>
  )
}
