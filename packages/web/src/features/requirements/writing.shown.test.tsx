import { expect, test } from '@jest/globals'
import type { Requirement } from '@dystracer/core/requirements/wire'
import type { AcceptedWriting } from '@dystracer/core/requirements/writing-wire'
import { aMe } from '#shared/test/a-me'
import { show } from '#shared/test/shown'
import { ImportRequirementsDialog } from './ImportRequirementsDialog'
import { WritingList } from './WritingList'

const row = (key: string, text: string): Requirement => ({
  key,
  title: key,
  text,
  parent: null,
  isHeading: false,
  isRetired: false,
  revision: 1,
  implementedBy: 0,
  brokenBy: [],
  tests: 0,
  failingTests: 0,
  suspects: 0,
})

test('a finding names its words and rule, may stand with a reason, and counts again', async () => {
  let accepted: AcceptedWriting[] = []
  const { user, findByRole, findByText, findByLabelText, bodiesOf } = show(
    <WritingList
      project="EMB"
      canAccept
      rows={[row('SAF-1', 'The kiln shall stop quickly.'), row('SAF-2', 'The kiln shall stop within 2 s.')]}
    />,
    {
      answers: {
        readMe: () => aMe(),
        listAcceptedWriting: () => ({ accepted }),
        acceptWriting: ({ body }) => {
          accepted = body.reason === null ? [] : [{ ...body, reason: body.reason, by: 'person:ines' }]
          return { accepted }
        },
      },
    },
  )
  expect(await findByText('quickly')).toBeTruthy()
  await user.click(await findByRole('button', { name: 'let it stand: quickly in SAF-1' }))
  await user.type(await findByLabelText('Why “quickly” may stand'), 'A note says how quickly{Enter}')
  await user.click(await findByText('1 finding that may stand'))
  await user.click(await findByRole('button', { name: 'count it again: quickly in SAF-1' }))
  expect(await findByRole('button', { name: 'let it stand: quickly in SAF-1' })).toBeTruthy()
  expect(bodiesOf('acceptWriting')).toMatchObject([
    { key: 'SAF-1', code: 'unbounded', reason: 'A note says how quickly' },
    { reason: null },
  ])
})

test('a file asks for nothing before it is chosen', async () => {
  const { findByRole } = show(<ImportRequirementsDialog onClose={() => {}} />, { answers: { readMe: () => aMe() } })
  expect((await findByRole('button', { name: 'Bring them in' })).hasAttribute('disabled')).toBe(true)
})
