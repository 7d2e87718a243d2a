import { expect, test } from '@jest/globals'
import { show } from '#shared/test/shown'
import { PublicReportPage } from './PublicReportPage'

const readPublicForm = () => ({ name: 'Emberwick', components: ['Firing control', 'Billing'] })

test('somebody without an account reports, gets a private link, and can report something else from the same address', async () => {
  const { user, findByLabelText, getByLabelText, getByRole, findByRole, bodiesOf } = show(<PublicReportPage project="EMB" />, {
    answers: { readPublicForm, sendPublicReport: () => ({ token: 'secret-1' }) },
  })
  await user.type(await findByLabelText('In one line'), 'The kiln stopped at 800')
  await user.type(getByLabelText(/What did you do/), 'It went cold')
  await user.selectOptions(getByLabelText('Where'), 'Billing')
  await user.type(getByLabelText(/Your e-mail address/), 'potter@studio.example')
  await user.click(getByRole('button', { name: 'Send the report' }))
  expect((await findByRole('link', { name: 'this private link' })).getAttribute('href')).toBe('/follow/secret-1')
  await user.click(getByRole('button', { name: 'Report something else' }))
  expect(((await findByLabelText('In one line')) as HTMLInputElement).value).toBe('')
  expect((getByLabelText(/Your e-mail address/) as HTMLInputElement).value).toBe('potter@studio.example')
  expect(bodiesOf('sendPublicReport')).toEqual([
    { title: 'The kiln stopped at 800', description: 'It went cold', address: 'potter@studio.example', component: 'Billing' },
  ])
})

test('a report that is refused keeps what was written; whoever is not sure where names no place', async () => {
  const { user, findByLabelText, getByRole, findByText, bodiesOf } = show(<PublicReportPage project="EMB" />, {
    answers: { readPublicForm, sendPublicReport: () => ({ refused: 'too-many-requests', detail: 'Wait a minute.' }) },
  })
  const title = (await findByLabelText('In one line')) as HTMLInputElement
  await user.type(title, 'The door does not open')
  await user.click(getByRole('button', { name: 'Send the report' }))
  await findByText(/Wait a minute/)
  expect(title.value).toBe('The door does not open')
  expect(bodiesOf('sendPublicReport')).toEqual([expect.objectContaining({ component: null })])
})

test('a project without a public form says so and shows none', async () => {
  const { findByText, queryByRole } = show(<PublicReportPage project="EMB" />, {
    answers: { readPublicForm: () => ({ refused: 'not-found', detail: 'This project takes no reports here.' }) },
  })
  await findByText(/takes no reports here/)
  expect(queryByRole('button')).toBeNull()
})
