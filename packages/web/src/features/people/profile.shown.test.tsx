import { beforeEach, expect, test } from '@jest/globals'
import { waitFor } from '@testing-library/react'
import type { OwnProfile } from '@dystracer/core/people/wire'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { AddressPage } from './AddressPage'
import { AddressesDialog } from './Addresses'
import { ProfilePane } from './ProfilePane'

beforeEach(() => localStorage.clear())

/** A server that keeps one account and changes it as the real one does. */
function anAccount(given: Partial<OwnProfile> = {}): Answers {
  let profile: OwnProfile = {
    name: 'Ines Calder',
    initials: 'IC',
    email: 'ines@emberwick.example',
    timeZone: null,
    addresses: [],
    hasMail: true,
    ...given,
  }
  const now = (change: Partial<OwnProfile>) => {
    profile = { ...profile, ...change }
    return profile
  }
  return {
    readMe: () => aMe(),
    readProfile: () => profile,
    changeMe: ({ body }) => now({ ...(body.name && { name: body.name }), ...(body.timeZone !== undefined && { timeZone: body.timeZone }) }),
    claimAddress: ({ body: { email } }) => {
      if (email.startsWith('rafe')) return { refused: 'conflict', detail: 'Somebody else has this address already; nothing was changed.' }
      const others = profile.addresses.filter((known) => known.email !== email)
      return now({ addresses: [...others, { email, confirmedAtMs: null }] })
    },
    giveUpAddress: ({ params }) => now({ addresses: profile.addresses.filter(({ email }) => email !== params.email) }),
    readSecondFactor: () => ({ isOn: false, sinceMs: null, recoveryLeft: 0 }),
    listSessions: () => ({ rows: [] }),
    listOwnTokens: () => ({ rows: [] }),
  }
}

test('a further address is claimed, sent a link again, and given up', async () => {
  const { user, findByRole, findByText, getByRole, queryByText, bodiesOf } = show(<ProfilePane />, {
    answers: anAccount(),
  })
  const form = await findByRole('form', { name: 'Claim an address' })
  await user.type(form.querySelector('input') as HTMLInputElement, 'ines@old.example{Enter}')
  await findByText('not confirmed yet')
  expect(form.querySelector('input')?.value).toBe('')
  await user.click(getByRole('button', { name: 'send the link to ines@old.example again' }))
  expect(bodiesOf('claimAddress')).toEqual([{ email: 'ines@old.example' }, { email: 'ines@old.example' }])
  await user.click(getByRole('button', { name: 'give up ines@old.example' }))
  await waitFor(() => expect(queryByText('not confirmed yet')).toBeNull())
})

test('an address of somebody else is refused in words, and what was typed stays', async () => {
  const { user, findByRole, findByText } = show(<ProfilePane />, { answers: anAccount() })
  const input = (await findByRole('form', { name: 'Claim an address' })).querySelector('input') as HTMLInputElement
  await user.type(input, 'rafe@old.example{Enter}')
  await findByText(/Somebody else has this address already/)
  expect(input.value).toBe('rafe@old.example')
})

test('where no mail goes out nothing is said to be sent, and no link can be sent again', async () => {
  const answers = anAccount({ hasMail: false, addresses: [{ email: 'ines@old.example', confirmedAtMs: null }] })
  const { findByText, queryByRole } = show(<ProfilePane />, { answers })
  await findByText('not confirmed yet')
  expect(queryByRole('button', { name: /again/ })).toBeNull()
})

test('the zone of the browser is offered, and any other can be chosen', async () => {
  const { user, findByLabelText, bodiesOf } = show(<ProfilePane />, { answers: anAccount() })
  await user.selectOptions(await findByLabelText(/Your days begin by/), 'Pacific/Auckland')
  await user.selectOptions(await findByLabelText(/Your days begin by/), 'UTC')
  expect(bodiesOf('changeMe')).toEqual([{ timeZone: 'Pacific/Auckland' }, { timeZone: null }])
})

test('theme and single keys are this browser’s own', async () => {
  const { user, findByLabelText, asked } = show(<ProfilePane />, { answers: anAccount() })
  const keys = (await findByLabelText(/Single letters/)) as HTMLInputElement
  expect(keys.checked).toBe(true)
  await user.click(keys)
  expect(keys.checked).toBe(false)
  await user.click(keys)
  await user.selectOptions(await findByLabelText('Light or dark'), 'dark')
  expect(((await findByLabelText('Light or dark')) as HTMLSelectElement).value).toBe('dark')
  await user.selectOptions(await findByLabelText('Light or dark'), 'system')
  expect(asked.filter(({ name }) => name === 'changeMe')).toEqual([])
})

test('the link in the mail confirms by a click alone, never by being opened', async () => {
  const answers: Answers = { confirmAddress: ({ body }) => ({ email: `of ${body.secret}`, confirmedAtMs: 1 }) }
  const { user, getByRole, findByText, bodiesOf } = show(<AddressPage secret="a.1.b" />, { answers })
  expect(bodiesOf('confirmAddress')).toEqual([])
  await user.click(getByRole('button', { name: 'It is mine' }))
  await findByText(/Commits and mails from of a.1.b are yours from now on/)
  expect(bodiesOf('confirmAddress')).toEqual([{ secret: 'a.1.b' }])
})

test('a link that is over says so, and can be tried as somebody else', async () => {
  const answers: Answers = {
    confirmAddress: () => ({ refused: 'wrong-token', detail: 'This link is over, or was made for another account.' }),
  }
  const { user, getByRole, findByText } = show(<AddressPage secret="a.1.b" />, { answers })
  await user.click(getByRole('button', { name: 'It is mine' }))
  await findByText(/made for another account/)
  getByRole('button', { name: 'It is mine' })
})

test('an administrator confirms what a member claimed, and writes down what they know', async () => {
  const rows = [{ email: 'rafe@old.example', confirmedAtMs: null as number | null }]
  const answers: Answers = {
    readMe: () => aMe(),
    listAddresses: () => ({ rows: [...rows] }),
    writeAddressDown: ({ body }) => {
      const known = rows.find(({ email }) => email === body.email)
      if (known) known.confirmedAtMs = 5
      else rows.push({ email: body.email, confirmedAtMs: 5 })
      return { rows: [...rows] }
    },
  }
  const rafe = { personId: 'rafe', name: 'Rafe Lindqvist', initials: 'RL', role: 'member' as const }
  const { user, findByRole, findByText, queryByText, findAllByText } = show(<AddressesDialog person={rafe} onClose={() => {}} />, {
    answers,
  })
  await user.click(await findByRole('button', { name: 'confirm rafe@old.example' }))
  await findByText(/^confirmed/)
  expect(queryByText('not confirmed yet')).toBeNull()
  const form = await findByRole('form', { name: 'Write an address down' })
  await user.type(form.querySelector('input') as HTMLInputElement, 'rafe@home.example{Enter}')
  expect(await findAllByText(/^confirmed/)).toHaveLength(2)
})
