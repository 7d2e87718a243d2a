import { useState } from 'react'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { problemText } from '#shared/lib/problem-text'
import { Copyable } from '#shared/ui/Copyable'
import { Button, Pending, SectionHead } from '#shared/ui/parts'
import { useRenewWebhookMutation, useWebhookQuery } from './incoming.api'

/** Where a code host, a build service or a deployer sends its events, and the secret that it signs them with. */
export function WebhookSettings() {
  const { may } = usePeople()
  const canSee = may('webhooks.set-up')
  const { data, error, isLoading } = useWebhookQuery(undefined, { skip: !canSee })
  const [renew, { isLoading: isRenewing }] = useRenewWebhookMutation()
  const [isShown, setIsShown] = useState(false)
  return (
    <section aria-label="Webhooks">
      <SectionHead>Webhooks</SectionHead>
      <p className="text-ink-2">
        A code host, a build service or a deployer may send events as they happen: CDEvents in CloudEvents, signed as Standard Webhooks say.
        Without them repositories are looked at every minute.
      </p>
      {!canSee && <p className="text-ochre">An administrator sees address and secret.</p>}
      <Pending error={error} isLoading={isLoading && canSee} />
      {data && (
        <>
          <Copyable text={data.address} label="Address for webhooks" />
          {isShown ? <Copyable text={data.secret} label="Secret of webhooks" /> : null}
          <div className="mt-1 flex gap-3">
            <Button look="line" aria-expanded={isShown} onClick={() => setIsShown(!isShown)}>
              {isShown ? 'Hide the secret' : 'Show the secret'}
            </Button>
            {isShown && (
              <Button
                look="line"
                disabled={isRenewing}
                onClick={() =>
                  void renew().then((result) =>
                    result.error ? toast.error(problemText(result.error)) : toast.success('The old secret is refused from now on'),
                  )
                }
              >
                Make a new secret
              </Button>
            )}
          </div>
        </>
      )}
    </section>
  )
}
