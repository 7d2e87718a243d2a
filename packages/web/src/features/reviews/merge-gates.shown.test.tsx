import { expect, test } from '@jest/globals'
import { DEFAULT_GATES } from '@dystracer/core/reviews/gates'
import type { RepositoryGates } from '@dystracer/core/reviews/wire'
import { waitFor } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { aRepository } from '#shared/test/a-repository'
import { show } from '#shared/test/shown'
import { GateList } from './GateList'
import { MergeGates } from './MergeGates'

function gates(held: RepositoryGates) {
  return show(<MergeGates />, {
    answers: {
      readMe: () => aMe(),
      listRepositories: () => ({ rows: [aRepository()] }),
      readMergeGates: () => held,
      setMergeGates: ({ body }) => {
        held = { ...held, rules: [{ ...DEFAULT_GATES, branches: '*', ...body }] as RepositoryGates['rules'] }
        return held
      },
      dropMergeGates: () => held,
    },
  })
}

test('the words of a gate are its controls: a condition is added, taken away, and held to hours', async () => {
  const { user, findByRole, bodiesOf } = gates({ rules: [], file: null })
  await user.selectOptions(await findByRole('combobox', { name: 'and, in kiln' }), 'needsOwners')
  await findByRole('button', { name: /not any more: those who look after its files agree/ })
  await user.selectOptions(await findByRole('combobox', { name: 'and, in kiln' }), 'hours')
  await findByRole('combobox', { name: 'Days of merges in kiln' })
  await user.click(await findByRole('button', { name: /not any more: those who look after/ }))
  await waitFor(() => expect(bodiesOf('setMergeGates')).toHaveLength(3))
  expect(bodiesOf('setMergeGates')[0]).toMatchObject({ branches: '*', needsOwners: true, hours: null })
  expect(bodiesOf('setMergeGates')[1]).toMatchObject({ hours: { days: [1, 2, 3, 4], from: '08:00', until: '16:00' } })
  expect(bodiesOf('setMergeGates')[2]).toMatchObject({ needsOwners: false })
})

test('the quality that is asked for is a sentence: one that is not understood says why and is not saved', async () => {
  const { user, findByRole, findByText, bodiesOf } = gates({ rules: [], file: null })
  await user.selectOptions(await findByRole('combobox', { name: 'and, in kiln' }), 'quality')
  const sentence = await findByRole('textbox', { name: 'The quality that is asked for in kiln' })
  expect(bodiesOf('setMergeGates')[0]).toMatchObject({ quality: '0 new bugs, debt +30 min' })
  await user.clear(sentence)
  await user.type(sentence, '0 new dragons{Enter}')
  await findByText(/no dragons/)
  expect(bodiesOf('setMergeGates')).toHaveLength(1)
  await user.clear(sentence)
  await user.type(sentence, '2 new smells{Enter}')
  await waitFor(() => expect(bodiesOf('setMergeGates')).toHaveLength(2))
  expect(bodiesOf('setMergeGates')[1]).toMatchObject({ quality: '2 new smells' })
  await user.click(await findByRole('button', { name: 'not any more: quality, kiln' }))
  await waitFor(() => expect(bodiesOf('setMergeGates')[2]).toMatchObject({ quality: '' }))
})

test('gates that the repository keeps are shown and not changed here; a file that cannot be read is told', async () => {
  const { findByText, queryByRole } = gates({
    rules: [],
    file: { path: '.dystracer/gates.yml', problem: 'main › agreements: is no number' },
  })
  expect(await findByText(/cannot be read: main › agreements/)).toBeTruthy()
  expect(queryByRole('combobox', { name: 'and, in kiln' })).toBeNull()
})

test('each gate is a sentence with its reason', async () => {
  const gate = (code: RepositoryGatesCode, more: object = {}) => ({
    code,
    isMet: false,
    words: null,
    has: 0,
    needs: 0,
    personIds: [],
    ...more,
  })
  const { findByText } = show(
    <GateList
      base="main"
      gates={[
        gate('draft'),
        gate('owners', { words: 'relay.js', has: 0, needs: 1, personIds: ['ines'] }),
        gate('hours', { words: 'Monday to Thursday, 08:00 to 16:00 (UTC)' }),
        gate('findings', { has: 2 }),
        gate('main', { words: 'Build 7 of main broke' }),
      ]}
    />,
    { answers: { readMe: () => aMe() } },
  )
  expect(await findByText(/It is a draft/)).toBeTruthy()
  expect(await findByText(/looks after relay.js, and has to agree/)).toBeTruthy()
  expect(await findByText(/It may be merged Monday to Thursday/)).toBeTruthy()
  expect(await findByText('2 findings are new with it')).toBeTruthy()
  expect(await findByText('Build 7 of main broke: mend that first')).toBeTruthy()
})

type RepositoryGatesCode = Parameters<typeof GateList>[0]['gates'][number]['code']

test('how much of a change tests have to run is added, set and taken away; a number that makes no sense is put back', async () => {
  const { user, findByRole, findByLabelText, bodiesOf } = gates({ rules: [], file: null })
  await user.selectOptions(await findByRole('combobox', { name: 'and, in kiln' }), 'coverage')
  const percent = (await findByLabelText('So many of a hundred changed lines, in kiln')) as HTMLInputElement
  expect(percent.value).toBe('80')
  await user.clear(percent)
  await user.type(percent, '400')
  await user.tab()
  expect(percent.value).toBe('80')
  await user.clear(percent)
  await user.type(percent, '65')
  await user.tab()
  await waitFor(() => expect(bodiesOf('setMergeGates')).toHaveLength(2))
  await user.click(await findByRole('button', { name: 'not any more: coverage, kiln' }))
  await waitFor(() => expect(bodiesOf('setMergeGates')).toHaveLength(3))
  expect(bodiesOf('setMergeGates').map((body) => (body as { coverageAtLeast: number | null }).coverageAtLeast)).toEqual([80, 65, null])
})

test('a gate of coverage says how much is run and how much is asked for', async () => {
  const gate = (more: object) => ({ code: 'coverage' as const, isMet: false, words: null, has: 0, needs: 80, personIds: [], ...more })
  const shown = (more: object) => show(<GateList base="main" gates={[gate(more)]} />, { answers: { readMe: () => aMe() } })
  await shown({ has: 66 }).findByText('Tests run 66 of a hundred lines that it brings; 80 are asked for')
  await shown({ has: 90, isMet: true }).findByText('Tests run 90 of a hundred lines that it brings')
  await shown({ words: 'No coverage was reported for its newest commit' }).findByText('No coverage was reported for its newest commit')
})
