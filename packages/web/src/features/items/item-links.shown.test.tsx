import { afterEach, describe, expect, test } from '@jest/globals'
import type { Link } from '@dystracer/core/records/wire'
import type { Item } from '@dystracer/core/items/wire'
import { waitFor, within } from '@testing-library/react'
import { toast, Toaster } from 'sonner'
import { aMe } from '#shared/test/a-me'
import { aDetail, anItem } from '#shared/test/an-item'
import { aRequirement } from '#shared/test/a-requirement'
import { show, type Answers } from '#shared/test/shown'
import { ItemLinks } from './ItemLinks'
import { MergeDialog } from './MergeDialog'

const KEY = 'EMB-7'
const aLink = (given: Partial<Link>): Link => ({
  linkId: 'l1',
  kind: 'blocks',
  from: { kind: 'item', id: KEY },
  to: { kind: 'item', id: 'EMB-3' },
  provenance: 'person',
  statedBy: 'person:ines',
  source: null,
  atMs: 0,
  isSuspect: false,
  title: 'Bound the ramp',
  ...given,
})
const links = (given: Partial<Item>, { canEdit = true, ...answers }: Answers & { canEdit?: boolean } = {}) =>
  show(
    <>
      <ItemLinks item={aDetail({ key: KEY, ...given })} canEdit={canEdit} />
      <Toaster />
    </>,
    { answers: { readMe: () => aMe(), ...answers }, at: `/items/item~${KEY}` },
  )
afterEach(() => void toast.dismiss())

describe('what an item hangs together with', () => {
  test('is told from its side, and leads there', async () => {
    const { container, findByRole, user, address } = links({
      links: [aLink({}), aLink({ linkId: 'l2', from: { kind: 'item', id: 'EMB-4' }, to: { kind: 'item', id: KEY }, title: 'Cool slower' })],
      blockedBy: ['EMB-4'],
    })
    expect(container.textContent).toContain('Blocked by EMB-4')
    expect(container.textContent).toMatch(/Blocks EMB-3 Bound the ramp/)
    await user.click(await findByRole('link', { name: /EMB-4 Cool slower/ }))
    expect(address()).toContain('item~EMB-4')
  })

  test('leaves out what stands in the ladder already: commits and branches that name it themselves', () => {
    const { queryByText } = links({
      links: [
        aLink({ kind: 'fixes', to: { kind: 'commit', id: 'kiln/abcdef0123' }, provenance: 'commit', title: 'By its message' }),
        aLink({ linkId: 'l2', kind: 'fixes', to: { kind: 'commit', id: 'kiln/0123456789' }, title: 'By hand' }),
      ],
    })
    expect(queryByText(/By its message/)).toBeNull()
    expect(queryByText(/0123456 By hand/)).not.toBeNull()
  })

  test('is untied by one click; refused, it says why', async () => {
    const { user, findByRole, findByText, asked } = links(
      { links: [aLink({})] },
      { removeLink: () => ({ refused: 'conflict', detail: 'It is gone already.' }) },
    )
    await user.click(await findByRole('button', { name: 'Untie EMB-3' }))
    await findByText(/It is gone already/)
    expect(asked.find(({ name }) => name === 'removeLink')?.params).toEqual({ key: KEY, linkId: 'l1' })
  })

  test('is looked at again where the text of a requirement changed since', async () => {
    const suspect = aLink({ kind: 'breaks', to: { kind: 'requirement', id: 'SAF-3' }, isSuspect: true, title: 'Sensor faults' })
    const first = links({ links: [suspect] }, { canEdit: false })
    await first.findByText(/its text changed since/)
    expect(first.queryByRole('button')).toBeNull()
    first.unmount()
    const { user, findByRole, findByText, bodiesOf } = links({ links: [suspect] }, { confirmLinks: () => aRequirement({ key: 'SAF-3' }) })
    await user.click(await findByRole('button', { name: 'It still holds for SAF-3' }))
    await findByText('It holds for SAF-3 as it is now')
    expect(bodiesOf('confirmLinks')).toMatchObject([{ linkIds: ['l1'] }])
  })

  test('has parts, told by how far they are, the furthest first', async () => {
    const { findByRole } = links({
      children: [
        anItem({ key: 'EMB-8', title: 'Read the probe', stage: 'merged' }),
        anItem({ key: 'EMB-9', title: 'Draw it', stage: 'underway' }),
        anItem({ key: 'EMB-10', title: 'Say it', stage: 'merged', disposition: 'will-not-fix' }),
      ],
    })
    const parts = await findByRole('region', { name: 'Parts' })
    expect(parts.textContent).toMatch(/^3 parts: 2 Merged, 1 Underway/)
    expect(within(parts).getByText('Say it').className).toContain('line-through')
  })

  test('is tied to more by words: the other way round from the other, the first that is found by Enter', async () => {
    const hit = { ref: { kind: 'item' as const, id: 'EMB-3' }, title: 'Bound the ramp', detail: 'EMB-3', stair: null, found: null }
    const own = { ...hit, ref: { kind: 'item' as const, id: KEY }, title: 'Itself', detail: KEY }
    const { user, findByRole, findByText, bodiesOf, asked, queryByRole, queryByText } = links(
      {},
      { search: () => ({ hits: [own, hit, { ...hit, ref: { kind: 'fault', id: 'F-1' }, title: 'A fault' }] }), addLink: () => aDetail() },
    )
    await user.click(await findByRole('button', { name: 'Tie to another…' }))
    const dialog = within(await findByRole('dialog'))
    const ways = dialog.getAllByRole('option').map((one) => one.textContent)
    expect(ways.length).toBeGreaterThan(5)
    const inverse = dialog.getAllByRole('option').find((one) => (one as HTMLOptionElement).value === 'blocks from there')
    await user.selectOptions(dialog.getByRole('combobox'), inverse as HTMLElement)
    await user.type(dialog.getByRole('textbox'), 'ramp')
    await findByText('Bound the ramp')
    expect(queryByText('Itself')).toBeNull()
    expect(queryByText('A fault')).toBeNull()
    await user.keyboard('{Enter}')
    await waitFor(() => expect(queryByRole('dialog')).toBeNull())
    expect(bodiesOf('addLink')).toMatchObject([{ kind: 'blocks', to: { kind: 'item', id: KEY } }])
    expect(asked.find(({ name }) => name === 'addLink')?.params).toEqual({ key: 'EMB-3' })
  })
})

describe('a text that two people changed', () => {
  const dialog = (texts: { base: string; mine: string; theirs: string }) => {
    const saved: string[] = []
    const shown = show(<MergeDialog {...texts} onSave={(text) => saved.push(text)} onClose={() => saved.push('closed')} />)
    return { ...shown, saved }
  }

  test('begins with both changes where they fit together', async () => {
    const { user, findByRole, getByText, saved } = dialog({ base: 'a\nb\nc', mine: 'a\nb\nc, late', theirs: 'A\nb\nc' })
    getByText(/Both changes fit together/)
    await user.click(await findByRole('button', { name: 'Save the merged text' }))
    expect(saved).toEqual(['A\nb\nc, late'])
  })

  test('begins with both texts where they do not, and loses neither', async () => {
    const { user, findByRole, getByText, getByRole, saved } = dialog({ base: 'a', mine: 'b', theirs: 'c' })
    getByText(/Both changed the same lines/)
    expect((getByRole('textbox', { name: 'Merged text' }) as HTMLTextAreaElement).value).toBe('c\n\nb')
    await user.click(await findByRole('button', { name: 'Go on editing mine' }))
    expect(saved).toEqual(['closed'])
  })
})
