import { expect, test } from '@jest/globals'
import type { Release } from '@dystracer/core/releases/wire'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { useReleaseQuery } from './releases.api'
import { Withdrawal } from './Withdrawal'

const RELEASE: Release = {
  service: 'kiln',
  release: '4.1.2',
  repository: 'kiln',
  tag: 'v4.1.2',
  sha: 'a'.repeat(40),
  atMs: 1_770_000_000_000,
  isRewritten: false,
  withdrawn: null,
  runsIn: ['production'],
  items: [],
}
/** A server that remembers whether the release is withdrawn. */
function aServer(role: 'lead' | 'reader' = 'lead'): Answers {
  let release = RELEASE
  return {
    readMe: () => aMe({ person: { personId: 'ines', name: 'Ines Okafor', initials: 'IO', role } }),
    readRelease: () => release,
    withdrawRelease: ({ body: { isWithdrawn, why } }) => {
      if (isWithdrawn && !why) return { refused: 'invalid-input', fields: { why: 'Say why, for whoever runs it' } }
      release = { ...RELEASE, withdrawn: isWithdrawn ? { why: why ?? '', by: 'Ines Okafor', atMs: 1_770_000_100_000 } : null }
      return release
    },
  }
}
function Shown() {
  const { data } = useReleaseQuery('kiln@4.1.2')
  return data ? <Withdrawal release={data} /> : null
}

test('a release is withdrawn with a reason, said where it still runs, and let stand again', async () => {
  const { user, findByRole, findByText, getByLabelText, queryByRole, bodiesOf } = show(<Shown />, { answers: aServer() })
  await user.click(await findByRole('button', { name: 'withdraw it…' }))
  await user.click(await findByRole('button', { name: 'Withdraw' }))
  await findByText('Say why, for whoever runs it')
  await user.type(getByLabelText(/Why, for whoever runs it/), 'The relay may weld shut.')
  await user.click(await findByRole('button', { name: 'Withdraw' }))
  await findByText(/The relay may weld shut\./)
  await findByText(/It still runs in production\./)
  await user.click(await findByRole('button', { name: 'let it stand again' }))
  await findByRole('button', { name: 'withdraw it…' })
  expect(queryByRole('form', { name: 'Withdraw it' })).toBeNull()
  expect(bodiesOf('withdrawRelease')).toHaveLength(3)
})

test('nothing is withdrawn by “Not now”, and a reader has no way to', async () => {
  const first = show(<Shown />, { answers: aServer() })
  await first.user.click(await first.findByRole('button', { name: 'withdraw it…' }))
  await first.user.click(first.getByRole('button', { name: 'Not now' }))
  await first.findByRole('button', { name: 'withdraw it…' })
  expect(first.bodiesOf('withdrawRelease')).toEqual([])
  first.unmount()
  const { container, asked } = show(<Shown />, { answers: aServer('reader') })
  await new Promise((resolve) => setTimeout(resolve, 50))
  expect(asked.map(({ name }) => name)).toContain('readRelease')
  expect(container.querySelector('button')).toBeNull()
})
