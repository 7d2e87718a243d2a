import { expect, test } from '@jest/globals'
import type { KeptReport } from '@dystracer/core/audits/wire'
import { waitFor } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { KeptReports } from './KeptReports'

const report = (at: string, gaps: number, given: Partial<KeptReport> = {}): KeptReport => ({
  at,
  words: 'of the week',
  by: 'system',
  figures: { requirements: 4, states: { broken: 0, failing: 1, 'look-again': 0, proved: 2, unproved: 1 }, gaps },
  ...given,
})
const shown = (rows: KeptReport[], answers: Answers = {}, canKeep = true) =>
  show(<KeptReports project="EMB" canKeep={canKeep} />, {
    answers: { readMe: () => aMe(), listKeptReports: () => ({ every: 'week', rows }), ...answers },
  })

test('a kept report says what it counted, and leads to its pages and to everything as of then', async () => {
  const page = shown([report('2026-11-23T06:00:00Z', 3, { words: 'for the insurer', by: 'person:rafe' })])
  await page.findByText(/2 of 4 requirements proved, 3 open gaps/)
  await page.findByText(/by Rafe Lindqvist/)
  const hrefs = page.getAllByRole('link').map((link) => link.getAttribute('href'))
  expect(hrefs).toEqual([
    '/api/past/2026-11-23T06:00:00Z/v1/projects/EMB/audit-report.html',
    '/api/past/2026-11-23T06:00:00Z/v1/projects/EMB/audit-report.pdf',
    '/api/past/2026-11-23T06:00:00Z/v1/projects/EMB/audit-report.csv',
    '/api/past/2026-11-23T06:00:00Z/v1/projects/EMB/audit-report.json',
    '/past/2026-11-23T06:00:00Z/requirements~gaps',
  ])
})

test('one is kept by hand with what it is for, and by itself as often as is said', async () => {
  const page = shown([], { keepReport: () => ({ every: 'week', rows: [] }), scheduleReports: () => ({ every: 'month', rows: [] }) })
  await page.findByText(/None is kept yet/)
  await page.user.type(page.getByLabelText('What it is for'), 'for the insurer{Enter}')
  await waitFor(() => expect(page.bodiesOf('keepReport')).toEqual([{ words: 'for the insurer' }]))
  await page.user.selectOptions(page.getByLabelText('How often a report is kept'), 'each month')
  await waitFor(() => expect(page.bodiesOf('scheduleReports')).toEqual([{ every: 'month' }]))
})

test('a reader sees what is kept, and keeps nothing', async () => {
  const page = shown([report('2026-11-23T06:00:00Z', 3), report('2026-11-16T06:00:00Z', 4), report('2026-11-09T06:00:00Z', 5)], {}, false)
  expect(await page.findAllByText(/open gaps/)).not.toHaveLength(0)
  expect(page.queryByRole('button', { name: 'Keep one now' })).toBeNull()
  expect(page.queryByLabelText('How often a report is kept')).toBeNull()
})
