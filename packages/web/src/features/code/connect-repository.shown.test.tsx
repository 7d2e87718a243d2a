import { expect, jest, test } from '@jest/globals'
import { waitFor } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { ConnectRepositoryDialog } from './ConnectRepositoryDialog'

async function shown(connectRepository: NonNullable<Answers['connectRepository']>) {
  const onClose = jest.fn()
  const page = show(<ConnectRepositoryDialog onClose={onClose} />, { answers: { readMe: () => aMe(), connectRepository } })
  await page.findByRole('dialog', { name: 'Connect a repository to Emberwick' })
  return { ...page, onClose, address: page.getByLabelText(/^Its address/) as HTMLInputElement }
}

test('a repository is connected to the project that one works in, and the dialog is done', async () => {
  const { user, address, onClose, asked } = await shown(() => ({
    repository: 'kiln',
    service: 'kiln',
    mainBranch: 'trunk',
    isEmpty: false,
  }))
  await user.type(address, 'https://code.emberwick.example/kiln.git{Enter}')
  await waitFor(() => expect(onClose).toHaveBeenCalledTimes(1))
  expect(asked.find((call) => call.name === 'connectRepository')).toMatchObject({
    params: { project: 'EMB' },
    body: { url: 'https://code.emberwick.example/kiln.git' },
  })
})

test('a wrong address is told at its field, and what was typed stays', async () => {
  const { user, address, onClose, findByText } = await shown(() => ({
    refused: 'invalid-input',
    fields: { url: 'Nothing answers there' },
  }))
  await user.type(address, 'https://code.emberwick.example/klin.git{Enter}')
  await findByText('Nothing answers there')
  expect(address.value).toBe('https://code.emberwick.example/klin.git')
  expect(onClose).not.toHaveBeenCalled()
})

test('nothing is sent without an address', async () => {
  const { user, address, bodiesOf } = await shown(() => ({ repository: 'kiln', service: 'kiln', mainBranch: 'main', isEmpty: true }))
  await user.type(address, '{Enter}')
  expect(bodiesOf('connectRepository')).toEqual([])
})
