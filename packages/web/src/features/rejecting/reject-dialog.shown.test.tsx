import { expect, jest, test } from '@jest/globals'
import { show } from '#shared/test/shown'
import { type Rejection, RejectDialog } from './RejectDialog'

function shown({ hasDuplicate = false } = {}) {
  const onChosen = jest.fn<(rejection: Rejection) => void>()
  const onClose = jest.fn()
  return {
    onChosen,
    onClose,
    ...show(<RejectDialog itemKey="EMB-7" isOpen hasDuplicate={hasDuplicate} onClose={onClose} onChosen={onChosen} />),
  }
}

test('a rejection says why and carries the words to the reporter, without the spaces around them', async () => {
  const { user, getByRole, getByLabelText, onChosen } = shown()
  await user.selectOptions(getByLabelText('Why'), 'cannot reproduce')
  await user.type(getByLabelText('Words to the reporter'), '  Tried on kiln 2.  ')
  await user.click(getByRole('button', { name: 'Reject it' }))
  expect(onChosen.mock.calls).toEqual([[{ disposition: 'cannot-reproduce', words: 'Tried on kiln 2.' }]])
})

test('a duplicate is offered only where its key can be given, and is not sent without it', async () => {
  expect(shown().queryByRole('option', { name: 'duplicate of …' })).toBeNull()
})

test('a duplicate names the other item, in the form in which keys are written', async () => {
  const { user, getByRole, getByLabelText, onChosen } = shown({ hasDuplicate: true })
  await user.selectOptions(getByLabelText('Why'), 'duplicate of …')
  await user.click(getByRole('button', { name: 'Reject it' }))
  expect(onChosen).not.toHaveBeenCalled()
  await user.type(getByLabelText('Key of the item that it is the same as'), ' emb-3 {Enter}')
  expect(onChosen.mock.calls).toEqual([[{ disposition: 'duplicate', words: '', sameAs: 'EMB-3' }]])
})

test('Escape leaves the item as it is', async () => {
  const { user, onChosen, onClose } = shown()
  await user.keyboard('{Escape}')
  expect(onClose).toHaveBeenCalledTimes(1)
  expect(onChosen).not.toHaveBeenCalled()
})
