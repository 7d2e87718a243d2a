import { useState } from 'react'
import { toast } from 'sonner'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { Copyable } from '#shared/ui/Copyable'
import { Button, Pending, SectionHead, When } from '#shared/ui/parts'
import { OUTCOME_LOOK } from './incoming.words'
import { useDeliveriesQuery, useRenewWebhookMutation, useReplayDeliveryMutation, useWebhookQuery } from './incoming.api'

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
          <Deliveries />
        </>
      )}
    </section>
  )
}

/** What came in lately and what became of it; an event is taken again once what it needed is there. */
function Deliveries() {
  const { nameOf } = usePeople()
  const { data, error, isLoading } = useDeliveriesQuery()
  const [replay, { isLoading: isReplaying }] = useReplayDeliveryMutation()
  return (
    <section aria-label="What came in" className="mt-3">
      <SectionHead>What came in</SectionHead>
      <Pending error={error} isLoading={isLoading} />
      {data?.rows.length === 0 && (
        <p className="text-ink-3">Nothing yet. The newest fifty events will stand here, with what became of each.</p>
      )}
      {data !== undefined && data.waiting > 0 && (
        <p className="text-ochre">
          {plural(data.waiting, 'event')} about a repository, service or environment that is not set up here; taken by themselves once it
          is.
        </p>
      )}
      <ul className="m-0 list-none p-0">
        {data?.rows.map((row) => (
          <li key={row.deliveryId} className="flex items-baseline gap-3 border-b border-edge-soft py-1">
            <span className="min-w-0 flex-1">
              <span className="font-mono text-[12px]">{row.kind}</span>{' '}
              <span className="text-[12px] text-ink-2">
                {row.sender === 'signed'
                  ? 'signed'
                  : row.sender.startsWith('token:')
                    ? `with the token ${row.sender.slice(6)}`
                    : row.sender.startsWith('hook:')
                      ? `by the hook ${row.sender.slice(5)}`
                      : `again, by ${nameOf(row.sender)}`}{' '}
                · <When atMs={row.atMs} />
              </span>
              {row.why && <span className={`block text-[12px] ${row.outcome === 'refused' ? 'text-fault' : 'text-ink-2'}`}>{row.why}</span>}
            </span>
            <span className={OUTCOME_LOOK[row.outcome]}>{row.outcome}</span>
            <Button
              look="line"
              disabled={isReplaying}
              aria-label={`take again: ${row.kind} ${row.deliveryId}`}
              onClick={() =>
                void replay(String(row.deliveryId)).then((result) =>
                  result.error ? toast.error(problemText(result.error)) : toast.success('Taken again'),
                )
              }
            >
              take again
            </Button>
          </li>
        ))}
      </ul>
    </section>
  )
}
