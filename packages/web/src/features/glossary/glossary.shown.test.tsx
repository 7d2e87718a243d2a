import { expect, test } from '@jest/globals'
import type { GlossaryTerm } from '@dystracer/core/glossary/wire'
import { waitFor } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { aRequirement } from '#shared/test/a-requirement'
import { show, type Answers } from '#shared/test/shown'
import { Glossary } from './Glossary'
import { TermsHere } from './TermsHere'

const term = (given: Partial<GlossaryTerm> = {}): GlossaryTerm => ({
  term: 'firing',
  meaning: 'From cold to cold.',
  instead: ['burn'],
  by: 'person:ines',
  atMs: 1,
  ...given,
})
const ROWS = [aRequirement({ key: 'SAF-1', text: 'A firing ends.' }), aRequirement({ key: 'SAF-2', text: 'Firings end.', isRetired: true })]
const shown = (answers: Answers = {}, canWrite = true) =>
  show(<Glossary project="EMB" rows={ROWS} canWrite={canWrite} />, {
    answers: { readMe: () => aMe(), listTerms: () => ({ rows: [term()] }), ...answers },
  })

test('a word is explained; one that is refused says why at its field, and what was typed stays', async () => {
  const page = shown({
    setTerm: ({ body }) =>
      body.instead?.includes('plan')
        ? { refused: 'invalid-input', fields: { instead: 'plan cannot stand for itself' } }
        : { rows: [term()] },
  })
  await page.findByText(/1 requirement says it; not “burn”/)
  await page.user.click(page.getByRole('button', { name: 'Explain a word…' }))
  await page.user.type(page.getByLabelText(/^The word/), 'plan')
  await page.user.type(page.getByLabelText(/^What it means/), 'What a kiln does.')
  await page.user.type(page.getByLabelText(/^Said in its place/), 'plan, schedule')
  await page.user.click(page.getByRole('button', { name: 'Keep it' }))
  await page.findByText('plan cannot stand for itself')
  await page.user.clear(page.getByLabelText(/^Said in its place/))
  await page.user.type(page.getByLabelText(/^Said in its place/), 'schedule')
  await page.user.click(page.getByRole('button', { name: 'Keep it' }))
  await waitFor(() =>
    expect(page.bodiesOf('setTerm').at(-1)).toEqual({ term: 'plan', meaning: 'What a kiln does.', instead: ['schedule'], before: null }),
  )
  await page.findByRole('button', { name: 'Explain a word…' })
})

test('a word is renamed and taken out; a reader only reads', async () => {
  const page = shown({ setTerm: () => ({ rows: [] }), removeTerm: () => ({ rows: [] }) })
  await page.user.click(await page.findByRole('button', { name: 'Change firing' }))
  await page.user.clear(page.getByLabelText(/^The word/))
  await page.user.type(page.getByLabelText(/^The word/), 'run')
  await page.user.click(page.getByRole('button', { name: 'Keep it' }))
  await waitFor(() => expect(page.bodiesOf('setTerm')).toMatchObject([{ term: 'run', before: 'firing' }]))
  await page.user.click(await page.findByRole('button', { name: 'Take out firing' }))
  await waitFor(() => expect(page.asked.find(({ name }) => name === 'removeTerm')?.query).toEqual({ term: 'firing' }))
  page.unmount()
  const reader = shown({}, false)
  await reader.findByText('From cold to cold.')
  expect(reader.queryByRole('button')).toBeNull()
})

test('what the words of a requirement mean stands beside it', async () => {
  const page = show(<TermsHere text="A firing ends when the door opens." />, {
    answers: { readMe: () => aMe(), listTerms: () => ({ rows: [term(), term({ term: 'plan', meaning: 'What it does.' })] }) },
  })
  await page.findByText('From cold to cold.')
  expect(page.queryByText('What it does.')).toBeNull()
})
