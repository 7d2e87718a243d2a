import type { ExplorationDetail } from '@dystracer/core/exploring/wire'
import { useForm } from 'react-hook-form'
import { usePeople } from '#features/people/index'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { Markdown } from '#shared/ui/Markdown'
import { Button, SectionHead, When } from '#shared/ui/parts'
import { PictureText } from '#shared/ui/PictureText'
import { useEndExplorationMutation } from './exploring.api'

/** What came of an exploration; while it goes on, the form that ends it. */
export function Ending({ data, canWrite }: { data: ExplorationDetail; canWrite: boolean }) {
  const { nameOf } = usePeople()
  const [end, { isLoading }] = useEndExplorationMutation()
  const { handleSubmit, setValue, watch } = useForm({ defaultValues: { words: '' } })
  const { project, explorationId, ended } = data
  if (!ended && !canWrite) return null
  const submit = handleSubmit(({ words }) => end({ project, explorationId, isEnded: true, words }).then(tellRefusal))
  return (
    <section aria-label="What came of it" className="border-t border-edge px-4 py-3">
      <SectionHead>What came of it</SectionHead>
      {ended ? (
        <>
          <p className="m-0 text-[12px] text-ink-2">
            {nameOf(ended.by)} ended it, <When atMs={ended.atMs} />{' '}
            {canWrite && (
              <Button
                look="line"
                disabled={isLoading}
                onClick={() => void end({ project, explorationId, isEnded: false }).then(tellRefusal)}
              >
                it goes on
              </Button>
            )}
          </p>
          {ended.words !== '' && <Markdown text={ended.words} />}
        </>
      ) : (
        <form aria-label="End it" className="space-y-2" onSubmit={(event) => void submit(event)}>
          <PictureText
            label="What was found out (Markdown)"
            project={project}
            rows={2}
            maxLength={20_000}
            value={watch('words')}
            onText={(words) => setValue('words', words)}
          />
          <Button type="submit" disabled={isLoading}>
            It is over
          </Button>
        </form>
      )}
    </section>
  )
}
