import { act } from '@testing-library/react'
import { within } from '@testing-library/react'
import type { BuildFindings } from '@dystracer/core/builds/wire'
import { expect, test } from '@jest/globals'
import { aMe } from '#shared/test/a-me'
import { show } from '#shared/test/shown'
import { Findings } from './Findings'

const SHA = 'a'.repeat(40)
const found = (
  ruleId: string,
  file: string | null,
  more: Partial<BuildFindings['fresh'][number]> = {},
): BuildFindings['fresh'][number] => ({
  tool: 'scan',
  identity: ruleId,
  ruleId,
  level: 'warning',
  kind: 'smell',
  minutes: 10,
  message: `Found by ${ruleId}`,
  file,
  line: file === null ? null : 7,
  steps: [],
  fixes: [],
  helpUrl: null,
  aside: null,
  ownerIds: [],
  ...more,
})
const NOTHING = { bug: 0, weakness: 0, smell: 0, debtMinutes: 0 }

test('new findings stand open with their place, gone ones folded away, and what they are held against is a link', async () => {
  const { findByRole, getByRole, getByText } = show(<Findings id="kiln/7" repository="kiln" />, {
    answers: {
      readBuildFindings: ({ params }) => {
        expect(params).toEqual({ repository: 'kiln', number: '7' })
        return {
          isAnalysed: true,
          against: SHA,
          brought: { ...NOTHING, smell: 2, debtMinutes: 10 },
          fresh: [found('N1', 'src/probe.js'), found('N2', null)],
          gone: [found('G1', null)],
          stayed: 5,
          more: 3,
        }
      },
    },
  })
  const fresh = await findByRole('list', { name: 'New findings' })
  expect(fresh.textContent).toContain('smell Found by N1')
  expect(fresh.textContent).toContain('src/probe.js:7')
  expect(fresh.querySelectorAll('li')).toHaveLength(2)
  expect(getByText('1 finding gone').closest('details')?.open).toBe(false)
  expect(getByRole('region', { name: 'Findings' }).textContent).toMatch(/2 new, 1 gone, 5 as before, against .*; 3 more not listed/)
  expect(getByRole('region', { name: 'Findings' }).textContent).toContain('It brings: 2 new smells, debt +10 min.')
  expect(getByRole('link', { name: /aaaaaaa/ })).toBeTruthy()
})

test('how a finding comes about stands below it; it is set aside with a day and a reason, and counted again', async () => {
  const steps = [
    { file: 'src/wire.js', line: 3, message: 'read from the network' },
    { file: null, line: null, message: '' },
  ]
  let row = found('N1', 'src/probe.js', {
    kind: 'weakness',
    steps,
    fixes: ['check its length'],
    ownerIds: ['ines'],
    helpUrl: 'https://rules.example/N1',
  })
  const { user, findByRole, getByRole, getByText, bodiesOf } = show(<Findings id="kiln/7" repository="kiln" />, {
    answers: {
      readMe: () => aMe(),
      readBuildFindings: () => ({
        isAnalysed: true,
        against: null,
        brought: { ...NOTHING, weakness: row.aside ? 0 : 1 },
        fresh: [row],
        gone: [],
        stayed: 0,
        more: 0,
      }),
      setFindingAside: ({ body }) => {
        const { until, why } = body as { until: string | null; why: string }
        row = { ...row, aside: until === null ? null : { until, why, by: 'ines', atMs: 1 } }
        return {}
      },
    },
  })
  const fresh = await findByRole('list', { name: 'New findings' })
  expect(fresh.textContent).toContain('read from the network')
  expect(fresh.textContent).toContain('goes on')
  expect(fresh.textContent).toContain('It proposes: check its length')
  expect(getByRole('link', { name: 'N1' }).getAttribute('rel')).toContain('noopener')
  await user.click(await findByRole('button', { name: 'set it aside: Found by N1' }))
  const dialog = await findByRole('form', { name: 'Set the finding aside' })
  await user.type(within(dialog).getByRole('textbox', { name: 'Until' }), '2031-04-09')
  await user.type(within(dialog).getByRole('textbox', { name: /Why it does not count/ }), 'it cannot be negative')
  await user.click(within(dialog).getByRole('button', { name: 'Set it aside' }))
  await findByRole('list', { name: 'New findings that are set aside', hidden: true })
  expect(bodiesOf('setFindingAside')[0]).toEqual({ tool: 'scan', identity: 'N1', until: '2031-04-09', why: 'it cannot be negative' })
  await user.click(getByText('1 new finding set aside'))
  await user.click(await findByRole('button', { name: 'count it again: Found by N1' }))
  await findByRole('list', { name: 'New findings' })
  expect(bodiesOf('setFindingAside')[1]).toMatchObject({ until: null })
})

test('of a first analysed commit it says that there is none before; of one that none was told of it says nothing', async () => {
  const none = { against: null, brought: NOTHING, fresh: [], gone: [], stayed: 0, more: 0 }
  const analysed = show(<Findings id="kiln/7" repository="kiln" />, {
    answers: { readBuildFindings: () => ({ ...none, isAnalysed: true }) },
  })
  await analysed.findByText(/no commit before it was analysed/)
  analysed.unmount()
  let asked = 0
  const untold = show(<Findings id="kiln/7" repository="kiln" />, {
    answers: { readBuildFindings: () => ({ ...none, isAnalysed: asked++ < 0 }) },
  })
  await act(() => new Promise((resolve) => setTimeout(resolve, 50)))
  expect(asked).toBe(1)
  expect(untold.queryByRole('region')).toBeNull()
})
