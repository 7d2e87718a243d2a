import { act } from '@testing-library/react'
import { expect, test } from '@jest/globals'
import { show } from '#shared/test/shown'
import { Findings } from './Findings'

const SHA = 'a'.repeat(40)
const found = (ruleId: string, file: string | null) => ({
  tool: 'scan',
  ruleId,
  level: 'warning' as const,
  message: `Found by ${ruleId}`,
  file,
  line: file === null ? null : 7,
})

test('new findings stand open with their place, gone ones folded away, and what they are held against is a link', async () => {
  const { findByRole, getByRole, getByText } = show(<Findings id="kiln/7" repository="kiln" />, {
    answers: {
      readBuildFindings: ({ params }) => {
        expect(params).toEqual({ repository: 'kiln', number: '7' })
        return {
          isAnalysed: true,
          against: SHA,
          fresh: [found('N1', 'src/probe.js'), found('N2', null)],
          gone: [found('G1', null)],
          stayed: 5,
          more: 3,
        }
      },
    },
  })
  const fresh = await findByRole('list', { name: 'New findings' })
  expect(fresh.textContent).toContain('warning Found by N1')
  expect(fresh.textContent).toContain('src/probe.js:7')
  expect(fresh.querySelectorAll('li')).toHaveLength(2)
  expect(getByText('1 finding gone').closest('details')?.open).toBe(false)
  expect(getByRole('region', { name: 'Findings' }).textContent).toMatch(/2 new, 1 gone, 5 as before, against .*; 3 more not listed/)
  expect(getByRole('link', { name: /aaaaaaa/ })).toBeTruthy()
})

test('of a first analysed commit it says that there is none before; of one that none was told of it says nothing', async () => {
  const none = { against: null, fresh: [], gone: [], stayed: 0, more: 0 }
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
