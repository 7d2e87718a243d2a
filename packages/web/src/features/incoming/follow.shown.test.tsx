import { expect, test } from '@jest/globals'
import type { ReportState } from '@dystracer/core/incoming/wire'
import { show } from '#shared/test/shown'
import { FollowPage } from './FollowPage'

const STATE: ReportState = {
  title: 'The kiln stopped at 800',
  reportedAtMs: 0,
  state: 'waits',
  disposition: null,
  sameAsState: null,
  words: '',
  answers: [],
}

test('the reporter reads what became of it, sees our question, and answers it', async () => {
  let state: ReportState = { ...STATE, state: 'asked', words: 'Which kiln was it?' }
  const { user, findByText, getByText, findByLabelText, getByRole, bodiesOf } = show(<FollowPage token="secret-1" />, {
    answers: {
      readReport: () => state,
      answerReport: ({ body }) => {
        state = { ...STATE, answers: [{ text: body.text, atMs: 1 }] }
        return {}
      },
    },
  })
  await findByText('We have a question before we can go on.')
  getByText('Which kiln was it?')
  expect((getByRole('button', { name: 'Send' }) as HTMLButtonElement).disabled).toBe(true)
  await user.type(await findByLabelText('Your answer'), '  The one at the window. ')
  await user.click(getByRole('button', { name: 'Send' }))
  await findByText('It waits for somebody to look at it.')
  await findByText('The one at the window.')
  expect(bodiesOf('answerReport')).toEqual([{ text: 'The one at the window.' }])
  expect(((await findByLabelText('Tell us more')) as HTMLTextAreaElement).value).toBe('')
})

test('an answer that is refused stays in its field', async () => {
  const { user, findByLabelText, getByRole, findByText } = show(<FollowPage token="secret-1" />, {
    answers: { readReport: () => STATE, answerReport: () => ({ refused: 'too-many-requests', detail: 'Wait a minute.' }) },
  })
  const field = (await findByLabelText('Tell us more')) as HTMLTextAreaElement
  await user.type(field, 'It happened again')
  await user.click(getByRole('button', { name: 'Send' }))
  await findByText(/Wait a minute/)
  expect(field.value).toBe('It happened again')
})

test('what was decided is said in plain words, and where the same is followed up how that stands', async () => {
  const { findByText, getByText } = show(<FollowPage token="secret-1" />, {
    answers: { readReport: () => ({ ...STATE, state: 'same-as', disposition: 'duplicate', sameAsState: 'released' }) },
  })
  await findByText('It is the same as another report.')
  getByText('The fix is in use. We are watching whether it holds.')
})
