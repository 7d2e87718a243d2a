import { toast } from 'sonner'
import { plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { Button } from '#shared/ui/parts'
import { useTakeProposedMutation } from './reviews.api'

/** Takes what remarks propose, as one commit on the branch of the change. */
export function TakeProposed({ id, remarkIds, label }: { id: string; remarkIds: string[]; label: string }) {
  const [take, { isLoading }] = useTakeProposedMutation()
  const onTake = async () => {
    const result = await take({ id, remarkIds })
    if (result.error) toast.error(problemText(result.error))
    else toast.success(`${plural(remarkIds.length, 'proposal')} taken: the branch has a commit more`)
  }
  return (
    <Button look="text" className="mr-2" disabled={isLoading} onClick={() => void onTake()}>
      {isLoading ? 'Taking it …' : label}
    </Button>
  )
}
