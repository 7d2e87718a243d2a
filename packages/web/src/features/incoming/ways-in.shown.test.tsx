import { afterEach, describe, expect, test } from '@jest/globals'
import type { Delivery, Hook } from '@dystracer/core/incoming/wire'
import { waitFor, within } from '@testing-library/react'
import { toast, Toaster } from 'sonner'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { Hooks } from './Hooks'
import { WebhookSettings } from './WebhookSettings'

const AT_MS = 1_770_000_000_000
const admin = aMe({ person: { personId: 'teo', name: 'Teo Marsh', initials: 'TM', role: 'admin' } })
const aDelivery = (given: Partial<Delivery> = {}): Delivery => ({
  deliveryId: 4,
  atMs: AT_MS,
  sender: 'signed',
  kind: 'dev.cdevents.change.merged.0.2.0',
  outcome: 'taken',
  why: null,
  ...given,
})
const WEBHOOK = { address: 'https://dys.example/receive/cloudevents', secret: 'whsec_kiln' }
const settings = (answers: Answers = {}) =>
  show(
    <>
      <WebhookSettings />
      <Toaster />
    </>,
    {
      answers: { readMe: () => admin, readWebhook: () => WEBHOOK, listDeliveries: () => ({ rows: [], waiting: 0 }), ...answers },
      at: '/settings~code',
    },
  )
afterEach(() => void toast.dismiss())

describe('where events come in', () => {
  test('the secret is shown only to who asks for it, and can be made anew', async () => {
    const { user, findByRole, findByText, queryByText } = settings({ renewWebhook: () => ({ ...WEBHOOK, secret: 'whsec_new' }) })
    await findByText(WEBHOOK.address)
    expect(queryByText('whsec_kiln')).toBeNull()
    const show_ = await findByRole('button', { name: 'Show the secret' })
    expect(show_.getAttribute('aria-expanded')).toBe('false')
    await user.click(show_)
    await findByText('whsec_kiln')
    await user.click(await findByRole('button', { name: 'Make a new secret' }))
    await findByText('The old secret is refused from now on')
    await user.click(await findByRole('button', { name: 'Hide the secret' }))
    expect(queryByText(/whsec/)).toBeNull()
  })

  test('each event says by whom it came, what became of it and why, and is taken again', async () => {
    const { user, findByRole, findByText, asked } = settings({
      listDeliveries: () => ({
        rows: [
          aDelivery(),
          aDelivery({ deliveryId: 3, sender: 'token:build script', outcome: 'kept for later', why: 'There is no repository lid here.' }),
          aDelivery({ deliveryId: 2, sender: 'hook:builds', outcome: 'refused', why: 'It names no commit.' }),
          aDelivery({ deliveryId: 1, sender: 'person:rafe' }),
        ],
        waiting: 1,
      }),
      replayDelivery: () => ({ rows: [], waiting: 0 }),
    })
    await findByText(/1 event about a repository, service or environment that is not set up here/)
    const rows = within(await findByRole('region', { name: 'What came in' }))
      .getAllByRole('listitem')
      .map((row) => row.textContent ?? '')
    expect(rows[0]).toContain('signed')
    expect(rows[1]).toMatch(/with the token build script.*There is no repository lid here\.kept for later/)
    expect(rows[2]).toMatch(/by the hook builds.*It names no commit\.refused/)
    expect(rows[3]).toContain('again, by Rafe Lindqvist')
    await user.click(await findByRole('button', { name: 'take again: dev.cdevents.change.merged.0.2.0 3' }))
    await findByText('Taken again')
    expect(asked.find(({ name }) => name === 'replayDelivery')?.params).toEqual({ deliveryId: '3' })
  })

  test('is no matter of who is no administrator', async () => {
    const { findByText, queryByRole } = settings({ readMe: () => aMe() })
    await findByText('An administrator sees address and secret.')
    expect(queryByRole('button')).toBeNull()
  })
})

const aHook = (given: Partial<Hook> = {}): Hook => ({
  hookId: 'build-service',
  name: 'Build service',
  address: 'https://dys.example/receive/hooks/build-service',
  proof: { kind: 'standard-webhooks', header: '' },
  readings: [],
  messages: 0,
  lastAtMs: null,
  ...given,
})
const hooks = (rows: Hook[], answers: Answers = {}) =>
  show(<Hooks />, { answers: { readMe: () => admin, listHooks: () => ({ rows }), ...answers }, at: '/settings~code' })

describe('ways in for programs with shapes of their own', () => {
  test('say how many readings each has and when something came last, and open', async () => {
    const { user, findByRole, address } = hooks([aHook(), aHook({ hookId: 'chat', name: 'Chat', lastAtMs: AT_MS })])
    await findByRole('button', { name: 'Chat' })
    const rows = within(await findByRole('region', { name: 'Hooks' })).getAllByRole('listitem')
    expect(rows[0]?.textContent).toBe('Build service 0 readings · nothing has come yet')
    expect(rows[1]?.textContent).toMatch(/^Chat 0 readings · last /)
    await user.click(await findByRole('button', { name: 'Build service' }))
    expect(address()).toContain('hook~build-service')
  })

  test('are made by a name, from which the address follows', async () => {
    const { user, findByRole, findByText, bodiesOf, asked, address } = hooks([], { setHook: () => ({ rows: [aHook()] }) })
    await user.click(await findByRole('button', { name: 'A hook for a program…' }))
    const make = await findByRole('button', { name: 'Make it' })
    expect(make.hasAttribute('disabled')).toBe(true)
    await user.type(await findByRole('textbox'), '  Büld Service № 2! ')
    await findByText('/receive/hooks/bu-ld-service-no-2')
    await user.click(make)
    await waitFor(() => expect(address()).toContain('hook~bu-ld-service-no-2'))
    expect(asked.find(({ name }) => name === 'setHook')?.params).toEqual({ project: 'EMB', hookId: 'bu-ld-service-no-2' })
    expect(bodiesOf('setHook')).toHaveLength(1)
  })

  test('are refused at the field', async () => {
    const { user, findByRole, findByText } = hooks([], {
      setHook: () => ({ refused: 'invalid-input', fields: { name: 'Another hook is called that' } }),
    })
    await user.click(await findByRole('button', { name: 'A hook for a program…' }))
    await user.type(await findByRole('textbox'), 'Chat{Enter}')
    await findByText('Another hook is called that')
  })
})
