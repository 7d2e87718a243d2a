import { afterEach, describe, expect, test } from '@jest/globals'
import { useState } from 'react'
import { waitFor } from '@testing-library/react'
import { toast, Toaster } from 'sonner'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { Button } from '#shared/ui/parts'
import { BulkBar } from './BulkBar'
import { useBulkChange } from './use-bulk-change'

/** A list in which three items are chosen. */
function Chosen() {
  const { isLoading, run, takeBack } = useBulkChange()
  const [keys, setKeys] = useState(['EMB-1', 'EMB-2', 'EMB-3'])
  return (
    <>
      <BulkBar
        count={keys.length}
        isBusy={isLoading}
        onChange={(change, said) => void run(keys, change, said)}
        onNone={() => setKeys([])}
      />
      <Button onClick={() => void takeBack()}>z</Button>
      <Toaster />
    </>
  )
}
const chosen = (answers: Answers) => show(<Chosen />, { answers: { readMe: () => aMe({ milestones: ['4.2'] }), ...answers }, at: '/items' })
const done = (changed: number, given: object = {}) => ({ changed, refused: [], seqs: [7, 8, 9], ...given })
afterEach(() => void toast.dismiss())

describe('what is done with several items at once', () => {
  test.each([
    ['Give them to', 'rafe', { ownerId: 'rafe' }, '3 items given away'],
    ['Set their severity', '2', { severity: 2 }, '3 items changed'],
    ['Set their component', 'Billing', { component: 'Billing' }, '3 items changed'],
    ['Set their milestone', '4.2', { milestone: '4.2' }, '3 items changed'],
  ] as const)('%s', async (label, value, change, said) => {
    const { user, findByRole, findByText, findByLabelText, bodiesOf } = chosen({ changeMany: () => done(3) })
    await findByRole('option', { name: 'Rafe Lindqvist' })
    await user.selectOptions(await findByLabelText(label), value)
    await findByText(said)
    expect(bodiesOf('changeMany')).toEqual([{ keys: ['EMB-1', 'EMB-2', 'EMB-3'], change }])
  })

  test('is taken back at once by the message that told of it', async () => {
    const { user, findByRole, findByText, bodiesOf, queryByText } = chosen({ changeMany: () => done(3), undoMany: () => done(3) })
    await user.click(await findByRole('button', { name: 'Archive' }))
    await findByText('3 items archived')
    await user.click(await findByRole('button', { name: 'Undo' }))
    await findByText('3 items as before')
    expect(bodiesOf('undoMany')).toEqual([{ seqs: [7, 8, 9] }])
    await waitFor(() => expect(queryByText('3 items archived')).toBeNull())
  })

  test('is taken back by the key, too; where there is no such change, one’s own last one is', async () => {
    const { user, findByRole, findByText, bodiesOf } = chosen({
      changeMany: () => done(2),
      undoMany: () => done(2),
      undo: () => ({ key: 'EMB-9', said: 'item-changed' }),
    })
    await user.click(await findByRole('button', { name: 'Archive' }))
    await findByText('2 items archived')
    await user.click(await findByRole('button', { name: 'z' }))
    await findByText('2 items as before')
    await user.click(await findByRole('button', { name: 'z' }))
    await findByText('Your last change of EMB-9 is taken back')
    expect(bodiesOf('undoMany')).toHaveLength(1)
  })

  test('says which stayed as they were, and why; that all stood so already is no change', async () => {
    const first = chosen({ changeMany: () => done(2, { refused: [{ key: 'EMB-3', why: 'it is in another project' }] }) })
    await first.user.click(await first.findByRole('button', { name: 'Archive' }))
    await first.findByText('1 item stayed as it was: EMB-3: it is in another project')
    await first.findByText('2 items archived')
    void toast.dismiss()
    first.unmount()
    const { user, findByRole, findByText, queryByRole } = chosen({ changeMany: () => done(0, { seqs: [] }) })
    await user.click(await findByRole('button', { name: 'Archive' }))
    await findByText('They stood so already')
    await waitFor(() => expect(queryByRole('button', { name: 'Undo' })).toBeNull())
  })

  test('refused as a whole it says why', async () => {
    const { user, findByRole, findByText } = chosen({ changeMany: () => ({ refused: 'not-allowed', detail: 'You may not.' }) })
    await user.click(await findByRole('button', { name: 'Archive' }))
    await findByText(/You may not/)
  })

  test('can be left', async () => {
    const { user, findByRole, findByText } = chosen({})
    await user.click(await findByRole('button', { name: 'Choose none' }))
    await findByText('0 chosen')
  })
})
