import { afterEach, describe, expect, test } from '@jest/globals'
import type { Item } from '@dystracer/core/items/wire'
import { STAGES, type Stage } from '@dystracer/core/ladder/ladder'
import { waitFor, within } from '@testing-library/react'
import { toast, Toaster } from 'sonner'
import { aMe, aSetup } from '#shared/test/a-me'
import { aDetail } from '#shared/test/an-item'
import { aRequirement } from '#shared/test/a-requirement'
import { show, type Answers } from '#shared/test/shown'
import { ItemActions } from './ItemActions'

/** An item that has come so far on its ladder. */
const at = (stage: Stage, given: Partial<Item> = {}): Item => {
  const item = aDetail({ key: 'EMB-7', severity: 2, ...given })
  const rank = STAGES.indexOf(stage)
  const treads = item.ladder.treads.map((tread, index) => ({ ...tread, state: index <= rank ? ('proved' as const) : ('waiting' as const) }))
  return { ...item, stage, ladder: { ...item.ladder, stage, treads } }
}
const actions = (item: Item, answers: Answers = {}) =>
  show(
    <>
      <ItemActions item={item} />
      <Toaster />
    </>,
    {
      answers: {
        readMe: () => aMe(),
        readSetup: () => aSetup(),
        readHand: () => ({ current: null, parked: [] }),
        ...answers,
      },
      at: '/items/item~EMB-7',
    },
  )
afterEach(() => void toast.dismiss())

describe('what can be done with an item', () => {
  test('that waits is to be accepted as it stands', async () => {
    const { user, findByRole, findByText, bodiesOf, queryByRole } = actions(at('logged', { ownerId: 'rafe', component: 'Billing' }), {
      acceptItem: () => aDetail(),
    })
    await user.click(await findByRole('button', { name: 'Accept at 2' }))
    await findByText('EMB-7 is accepted')
    expect(bodiesOf('acceptItem')).toMatchObject([{ severity: 2, ownerId: 'rafe', component: 'Billing' }])
    expect(queryByRole('button', { name: 'Verify' })).toBeNull()
  })

  test('that nobody judged yet is accepted at the middle', async () => {
    const { findByRole } = actions(at('logged', { severity: null }))
    await findByRole('button', { name: 'Accept at 3' })
  })

  test('that was released is verified; one that came back is not', async () => {
    const first = actions(at('released'), { verifyItem: () => aDetail() })
    await first.user.click(await first.findByRole('button', { name: 'Verify' }))
    await first.findByText('EMB-7 is verified')
    first.unmount()
    const { findByRole, queryByRole } = actions(at('released', { hasComeBack: true }))
    await findByRole('button', { name: 'Follow' })
    expect(queryByRole('button', { name: 'Verify' })).toBeNull()
  })

  test('refused it says why, and nothing is taken for done', async () => {
    const { user, findByRole, findByText, queryByText } = actions(at('logged'), {
      acceptItem: () => ({ refused: 'conflict', detail: 'Somebody rejected it.' }),
    })
    await user.click(await findByRole('button', { name: 'Accept at 2' }))
    await findByText(/Somebody rejected it/)
    expect(queryByText('EMB-7 is accepted')).toBeNull()
  })

  test('is rejected with words, as the same as another too', async () => {
    const { user, findByRole, findByText, getByLabelText, bodiesOf } = actions(at('accepted'), { rejectItem: () => aDetail() })
    await user.click(await findByRole('button', { name: 'Reject…' }))
    await user.selectOptions(getByLabelText('Why'), 'duplicate')
    await user.type(getByLabelText('Key of the item that it is the same as'), 'emb-3')
    await user.type(getByLabelText('Words to the reporter'), 'We know of it.')
    await user.click(await findByRole('button', { name: 'Reject it' }))
    await findByText('EMB-7 is rejected')
    expect(bodiesOf('rejectItem')).toMatchObject([{ disposition: 'duplicate', words: 'We know of it.', sameAs: 'EMB-3' }])
  })

  test('that was rejected is opened again; one that went into another is split from it', async () => {
    const first = actions(at('logged', { disposition: 'deferred' }), { reopenItem: () => aDetail() })
    await first.user.click(await first.findByRole('button', { name: 'Open again' }))
    await first.findByText('EMB-7 is open again')
    expect(first.queryByRole('button', { name: 'Start work…' })).toBeNull()
    first.unmount()
    const { user, findByRole, findByText } = actions(at('logged', { disposition: 'duplicate', mergedInto: 'EMB-3' }), {
      splitItem: () => aDetail(),
    })
    await user.click(await findByRole('button', { name: 'Split from EMB-3' }))
    await findByText('EMB-7 is split from EMB-3')
  })

  test('is followed, and followed no more', async () => {
    const first = actions(at('logged'), { followItem: () => aDetail() })
    await first.user.click(await first.findByRole('button', { name: 'Follow' }))
    await first.findByText('You follow EMB-7')
    expect(first.bodiesOf('followItem')).toEqual([{ isOn: true }])
    first.unmount()
    const { user, findByRole, bodiesOf } = actions(at('logged', { followerIds: ['ines'] }), { followItem: () => aDetail() })
    await user.click(await findByRole('button', { name: 'Stop following' }))
    await waitFor(() => expect(bodiesOf('followItem')).toEqual([{ isOn: false }]))
  })

  test('is tied to a requirement: a defect breaks it, other work implements it', async () => {
    const listRequirements = () => ({ rows: [aRequirement({ key: 'SAF-3', title: 'Sensor faults' })] })
    for (const [type, kind] of [
      ['defect', 'breaks'],
      ['task', 'implements'],
    ] as const) {
      const { user, findByRole, findByText, bodiesOf, unmount } = actions(at('accepted', { type }), {
        listRequirements,
        addLink: () => aDetail(),
      })
      await user.click(await findByRole('button', { name: 'Requirement…' }))
      const dialog = within(await findByRole('dialog'))
      await waitFor(() => dialog.getByRole('option', { name: /Sensor faults/ }))
      expect(dialog.getByRole('button', { name: 'Tie' }).hasAttribute('disabled')).toBe(true)
      await user.selectOptions(dialog.getByRole('combobox'), 'SAF-3')
      await user.click(dialog.getByRole('button', { name: 'Tie' }))
      await findByText('EMB-7 is tied to SAF-3')
      expect(bodiesOf('addLink')).toMatchObject([{ kind, to: { kind: 'requirement', id: 'SAF-3' } }])
      void toast.dismiss()
      unmount()
    }
  })

  test('is begun with a branch, whose commands are told', async () => {
    const { user, findByRole, findByTestId, bodiesOf, queryByRole } = actions(at('accepted', { proposedRepository: 'kiln' }), {
      listRepositories: () => ({ rows: [] }),
      startItem: () => ({ branch: 'emb-7-ramp', repository: 'kiln', commands: ['git fetch', 'git switch emb-7-ramp'] }),
    })
    await user.click(await findByRole('button', { name: 'Start work…' }))
    await user.click(await findByRole('button', { name: 'Create the branch' }))
    expect((await findByTestId('commands')).textContent).toBe('git fetch\ngit switch emb-7-ramp')
    expect(bodiesOf('startItem')).toEqual([{ repository: 'kiln' }])
    await user.click(await findByRole('button', { name: 'Done' }))
    await waitFor(() => expect(queryByRole('dialog')).toBeNull())
  })

  test('is copied, put away, or moved where there is another project', async () => {
    const first = actions(at('logged'), { copyItem: () => aDetail({ key: 'EMB-8' }) })
    await first.user.click(await first.findByRole('button', { name: 'More…' }))
    first.getByRole('option', { name: 'there is no other project' })
    expect(first.getByRole('button', { name: 'Move' }).hasAttribute('disabled')).toBe(true)
    await first.user.click(first.getByRole('button', { name: 'Log a copy' }))
    await first.findByText('EMB-8 is the copy')
    expect(first.address()).toContain('item~EMB-8')
    first.unmount()
    const projects = [
      { prefix: 'EMB', name: 'Emberwick', isArchived: false },
      { prefix: 'LAB', name: 'Glaze lab', isArchived: false },
    ]
    const { user, findByRole, findByText, getByRole, bodiesOf } = actions(at('logged'), {
      readMe: () => aMe({ projects }),
      moveItem: () => aDetail({ key: 'LAB-1', project: 'LAB' }),
    })
    await user.click(await findByRole('button', { name: 'More…' }))
    await user.selectOptions(getByRole('combobox'), 'LAB')
    await user.click(getByRole('button', { name: 'Move' }))
    await findByText('It is LAB-1 now')
    expect(bodiesOf('moveItem')).toEqual([{ project: 'LAB' }])
  })

  test('is nothing for who only reads, who is told what would help', async () => {
    const wren = aMe({ person: { personId: 'wren', name: 'Wren Abara', initials: 'WA', role: 'reader' } })
    const first = actions(at('logged'), { readMe: () => wren })
    await first.findByText('You read here. A lead of EMB can give you a role that takes part.')
    first.unmount()
    const second = actions(at('logged'), { readMe: () => aMe({ person: null }) })
    await second.findByText(/You are reading as a guest/)
    second.getByRole('button', { name: 'Sign in' })
    second.unmount()
    const { findByText } = actions(at('logged'), {
      readMe: () => aMe({ projects: [{ prefix: 'EMB', name: 'Emberwick', isArchived: true }] }),
    })
    await findByText(/EMB is archived/)
  })
})
