import { expect, test } from '@jest/globals'
import { show, type Answers, type Refused } from '#shared/test/shown'
import { ProofDialog } from './ProofDialog'
import { useMakeTokenMutation } from './people.api'

/** Something on the page that the server lets through only after a password. */
function Deed() {
  const [make, { data, error }] = useMakeTokenMutation()
  return (
    <>
      <button type="button" onClick={() => void make({ project: null, body: { name: 'mine', scope: 'read', days: 30 } })}>
        Make it
      </button>
      {data && <p>{`made ${data.token}`}</p>}
      {error && <p>{`refused ${'code' in error ? String(error.code) : ''}`}</p>}
      <ProofDialog />
    </>
  )
}
const MADE = {
  token: 'dys-1',
  row: {
    tokenId: '1',
    name: 'mine',
    scope: 'read' as const,
    project: null,
    services: [],
    origins: [],
    personId: 'ines',
    madeBy: 'person:ines',
    madeAtMs: 0,
    expiresAtMs: null,
    lastUsedAtMs: null,
  },
}
/** A server that wants the password "the right one", and a code too where it is said. */
function aCarefulServer({ wantsCode = false } = {}): Answers {
  let isProven = false
  return {
    makeOwnToken: () => (isProven ? MADE : { refused: 'proof-needed' }),
    proveAgain: ({ body }): Refused | Record<string, never> => {
      if (body.password !== 'the right one') return { refused: 'wrong-credentials', detail: 'This is not your password.' }
      if (wantsCode && body.code === undefined) return { refused: 'second-factor-needed' }
      isProven = true
      return {}
    },
  }
}

test('what waits for the password is sent again once it is right, and nothing has to be filled in anew', async () => {
  const { user, getByRole, findByLabelText, findByText, queryByRole, bodiesOf } = show(<Deed />, { answers: aCarefulServer() })
  await user.click(getByRole('button', { name: 'Make it' }))
  await user.type(await findByLabelText('Your password'), 'a wrong one{Enter}')
  await findByText(/This is not your password/)
  await user.clear(await findByLabelText('Your password'))
  await user.type(await findByLabelText('Your password'), 'the right one{Enter}')
  await findByText('made dys-1')
  expect(queryByRole('dialog')).toBeNull()
  expect(bodiesOf('makeOwnToken')).toHaveLength(2)
  expect(bodiesOf('makeOwnToken')[0]).toEqual(bodiesOf('makeOwnToken')[1])
})

test('a code is asked for where the account has a second factor', async () => {
  const { user, getByRole, findByLabelText, findByText } = show(<Deed />, { answers: aCarefulServer({ wantsCode: true }) })
  await user.click(getByRole('button', { name: 'Make it' }))
  await user.type(await findByLabelText('Your password'), 'the right one{Enter}')
  await user.type(await findByLabelText(/The code that your authenticator shows/), '123456{Enter}')
  await findByText('made dys-1')
})

test('whoever does not want to leaves it: the refusal is told, and nothing is sent again', async () => {
  const { user, getByRole, findByRole, findByText, bodiesOf } = show(<Deed />, { answers: aCarefulServer() })
  await user.click(getByRole('button', { name: 'Make it' }))
  await user.click(await findByRole('button', { name: 'Not now' }))
  await findByText('refused proof-needed')
  expect(bodiesOf('makeOwnToken')).toHaveLength(1)
})
