import { describe, expect, test } from '@jest/globals'
import type { NoticeGroup } from '@dystracer/core/inbox/wire'
import { inboxApi } from './inbox.api'
import { store } from '#shared/lib/store'
import { waitFor, within } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { InboxPane } from './InboxPane'

function aGroup(key: string, given: Partial<NoticeGroup> = {}): NoticeGroup {
  return {
    itemKey: key,
    title: `Title of ${key}`,
    stair: 'pwwwwww',
    unread: 1,
    newestAtMs: 1_770_000_000_000,
    snoozedUntilMs: null,
    notices: [{ noticeId: `n-${key}`, why: 'mentioned', by: 'person:rafe', words: 'have a look', atMs: 1_770_000_000_000, isRead: false }],
    ...given,
  }
}

/** An inbox on a page, whose server knows these groups until they are changed. */
function shown(groups: NoticeGroup[], more: Answers = {}) {
  const held = { groups }
  const page = show(<InboxPane />, {
    at: '/inbox',
    answers: {
      readMe: () => aMe(),
      listInbox: ({ query }) => ({
        rows: held.groups.filter((group) => (query.view === 'unread' ? group.unread > 0 : true)),
        nextCursor: null,
      }),
      markRead: ({ body }) => {
        held.groups = held.groups.map((group) => (body.keys?.includes(group.itemKey) ? { ...group, unread: 0 } : group))
        return {}
      },
      snooze: () => ({}),
      ...more,
    },
  })
  return { ...page, held }
}

describe('the inbox', () => {
  test('says who told what about which item', async () => {
    const { findByRole } = shown([aGroup('EMB-4')])
    const row = await findByRole('option', { name: /EMB-4/ })
    await waitFor(() => expect(row.textContent).toContain('Rafe Lindqvist: have a look'))
  })

  test('opens an item beside it, and “e” marks it read and goes on to the next', async () => {
    const { user, findByRole, getByRole, bodiesOf, address } = shown([aGroup('EMB-4'), aGroup('EMB-5')])
    await user.click(await findByRole('option', { name: /EMB-4/ }))
    expect(address()).toBe('/inbox/item~EMB-4')
    getByRole('listbox').focus()
    await user.keyboard('e')
    expect(bodiesOf('markRead')).toEqual([{ keys: ['EMB-4'], noticeIds: [] }])
    expect(address()).toBe('/inbox/item~EMB-5')
  })

  test('puts an item off to a later moment', async () => {
    const { user, findByRole, getByRole, bodiesOf } = shown([aGroup('EMB-4')])
    await user.click(await findByRole('option', { name: /EMB-4/ }))
    await user.selectOptions(getByRole('combobox', { name: 'Put EMB-4 off' }), 'in an hour')
    const [sent] = bodiesOf('snooze') as { key: string; untilMs: number }[]
    expect(sent?.key).toBe('EMB-4')
    expect(Math.abs((sent?.untilMs ?? 0) - Date.now() - 3_600_000)).toBeLessThan(60_000)
  })

  test('does not move rows under the hand: what comes meanwhile waits until it is asked for', async () => {
    const { user, held, findByRole, getByRole, queryByRole } = shown([aGroup('EMB-4')])
    await user.click(await findByRole('option', { name: /EMB-4/ }))
    held.groups = [aGroup('EMB-9'), ...held.groups]
    store.dispatch(inboxApi.util.invalidateTags(['Notice']))
    const fresh = await findByRole('button', { name: '1 new' })
    const keys = () =>
      within(getByRole('listbox'))
        .getAllByRole('option')
        .map((row) => /EMB-\d+/.exec(row.textContent ?? '')?.[0])
    expect(keys()).toEqual(['EMB-4'])
    await user.click(fresh)
    await waitFor(() => expect(keys()).toEqual(['EMB-9', 'EMB-4']))
    expect(queryByRole('button', { name: '1 new' })).toBeNull()
  })

  test('marks all that is shown as read at once', async () => {
    const { user, findByRole, getByRole, bodiesOf, findByText } = shown([aGroup('EMB-4'), aGroup('EMB-5')])
    await findByRole('option', { name: /EMB-4/ })
    await user.click(getByRole('button', { name: 'Mark all shown as read' }))
    expect(bodiesOf('markRead')).toEqual([{ keys: ['EMB-4', 'EMB-5'], noticeIds: [] }])
    await findByText(/^Nothing unread/)
  })
})
