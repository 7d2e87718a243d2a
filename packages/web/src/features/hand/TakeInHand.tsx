import { toast } from 'sonner'
import { useHandQuery, useTakeInHandMutation } from './hand.api'
import { problemText } from '#shared/lib/problem-text'
import { Button } from '#shared/ui/parts'

/** Takes an item in hand; what was in hand is parked. Nothing where it is in hand already. */
export function TakeInHand({ itemKey }: { itemKey: string }) {
  const { data } = useHandQuery()
  const [take] = useTakeInHandMutation()
  if (!data || data.current?.item.key === itemKey) return null
  const isParked = data.parked.some((held) => held.item.key === itemKey)
  return (
    <Button
      look="text"
      onClick={() =>
        void take({ key: itemKey }).then((result) => {
          if (result.error) toast.error(problemText(result.error))
          else toast.success(data.current ? `${itemKey} is in hand, ${data.current.item.key} is parked` : `${itemKey} is in hand`)
        })
      }
    >
      {isParked ? 'Resume' : 'Take in hand'}
    </Button>
  )
}
