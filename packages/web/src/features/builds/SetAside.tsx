import type { TestRecord } from '@dystracer/core/builds/wire'
import { useState } from 'react'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { problemText } from '#shared/lib/problem-text'
import { AsideDialog } from '#shared/ui/AsideDialog'
import { Button } from '#shared/ui/parts'
import { useSetAsideMutation } from './builds.api'

type Test = Pick<TestRecord, 'repository' | 'suite' | 'name' | 'aside'>

/** Whether a test is set aside, until when and why; and setting it aside, or counting it again. */
export function SetAside({ test }: { test: Test }) {
  const { may, nameOf } = usePeople()
  const [isOpen, setIsOpen] = useState(false)
  const [set, { error, isLoading }] = useSetAsideMutation()
  const { repository, suite, name, aside } = test
  const countAgain = async () => {
    const result = await set({ repository, suite, name, until: null })
    if (result.error) toast.error(problemText(result.error))
    else toast.success('It counts again')
  }
  if (aside === null && !may('code.contribute')) return null
  return (
    <p>
      {aside && (
        <>
          <b className="text-ochre">Set aside</b> until {aside.until} by {nameOf(aside.by)}: {aside.why}. No merge waits for it.{' '}
        </>
      )}
      {may('code.contribute') &&
        (aside ? (
          <Button look="line" disabled={isLoading} onClick={() => void countAgain()}>
            Count it again
          </Button>
        ) : (
          <Button look="line" onClick={() => setIsOpen(true)}>
            Set it aside…
          </Button>
        ))}
      {isOpen && (
        <AsideDialog
          title="Set the test aside"
          note="It goes on running and is listed, but holds no merge up until the day is over. It proves nothing by that."
          example="the mail server of the tests is slow on Mondays"
          error={error}
          isBusy={isLoading}
          onClose={() => setIsOpen(false)}
          onSubmit={async ({ until, why }) => {
            const result = await set({ repository, suite, name, until, why })
            if (!result.error) toast.success(`Set aside until ${until}`)
            return !result.error
          }}
        />
      )}
    </p>
  )
}
