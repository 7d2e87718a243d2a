import { expect, test } from '@jest/globals'
import type { NamedMoment } from '@dystracer/core/past/wire'
import { waitFor } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { show } from '#shared/test/shown'
import { LateDialog } from './LateDialog'
import { LookBackDialog } from './LookBackDialog'
import { PastBand } from './PastBand'

const FIRST_MS = Date.parse('2026-01-02T00:00:00Z')
const moment = (kind: NamedMoment['kind'], name: string, at: string): NamedMoment => ({ kind, name, atMs: Date.parse(at) })
const ROWS = [
  moment('baseline', 'For the audit of autumn', '2026-10-20T09:00:00Z'),
  moment('release', 'kiln-controller 4.1.3', '2026-10-08T10:00:00Z'),
  moment('incident', '1: Studios see no temperature', '2026-09-01T10:00:00Z'),
]
const shown = (rows = ROWS, at = '/') =>
  show(<LookBackDialog onClose={() => undefined} />, {
    answers: { readMe: () => aMe(), listMoments: () => ({ firstAtMs: FIRST_MS, rows }) },
    at,
  })

test('a release, a baseline or an incident is led back to, the second after it became known, on the same page', async () => {
  const page = shown(ROWS, '/requirements~gaps/requirement~SAF-3')
  const link = (await page.findByText('kiln-controller 4.1.3')) as HTMLAnchorElement
  expect(new URL(link.href).pathname).toBe('/past/2026-10-08T10:00:01Z/requirements~gaps/requirement~SAF-3')
  await page.user.type(page.getByLabelText('Find a release, a baseline or an incident'), 'baseline')
  await waitFor(() => expect(page.queryByText('kiln-controller 4.1.3')).toBeNull())
  await page.findByText('For the audit of autumn')
})

test('a day that is not past, or before anything was known, is refused at its field', async () => {
  const page = shown()
  await page.findByText('kiln-controller 4.1.3')
  const day = page.getByLabelText(/^Day/) as HTMLInputElement
  await page.user.click(page.getByRole('button', { name: 'Look back' }))
  await page.findByText('Choose a day')
  await page.user.type(day, '2999-01-01')
  await page.user.click(page.getByRole('button', { name: 'Look back' }))
  await page.findByText('That is not past yet')
  await page.user.clear(day)
  await page.user.type(day, '2020-01-01')
  await page.user.click(page.getByRole('button', { name: 'Look back' }))
  await page.findByText(/Nothing was known here before/)
})

test('a long list of moments says that there is more', async () => {
  const page = shown(Array.from({ length: 45 }, (_, at) => moment('release', `planner 1.${at}.0`, '2026-05-01T00:00:00Z')))
  await page.findByText('The newest 40 are listed; type to find an older one.')
})

test('what came late says when it was and since when it is known; a page about now has no band', async () => {
  const late = {
    seq: 4,
    kind: 'build-finished',
    subjects: ['build:kiln/7', 'person:ines'],
    atMs: FIRST_MS,
    knownAtMs: FIRST_MS + 86_400_000,
  }
  const page = show(
    <>
      <PastBand />
      <LateDialog at="2026-01-02T12:00:00Z" late={{ rows: [late], nextCursor: '4' }} onClose={() => undefined} />
    </>,
    { answers: { readMe: () => aMe() } },
  )
  await page.findByText(/build finished/)
  await page.findByText(/known since Saturday 3 January 2026/)
  await page.findByText('There is more; the first 1 are listed.')
  expect(page.queryByRole('region', { name: 'Looking back' })).toBeNull()
})
