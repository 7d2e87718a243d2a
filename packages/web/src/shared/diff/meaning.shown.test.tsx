import { describe, expect, test } from '@jest/globals'
import { parseDiff, type FileData } from 'react-diff-view'
import type { Meaning } from '@dystracer/core/files/wire'
import { show } from '#shared/test/shown'
import { DiffFile } from './DiffFile'
import { formOf } from './MeaningChange'

const [OLD, NEW] = ['a'.repeat(40), 'b'.repeat(40)]
const fileOf = (path: string) =>
  parseDiff(
    `diff --git a/${path} b/${path}\nindex ${OLD}..${NEW} 100644\n--- a/${path}\n+++ b/${path}\n` +
      '@@ -1,1 +1,1 @@\n-{"limit": 1200}\n+{"limit": 1250}\n',
  )[0] as FileData
const shown = (path: string, meaning: Meaning) =>
  show(<DiffFile file={fileOf(path)} repository="kiln" />, { answers: { readMeaning: () => meaning } })

describe('a file that has a meaning', () => {
  test('is shown line by line, and by what changed in it when that is asked for', async () => {
    const changes = [
      { at: 'limit', before: '1200', after: '1250' },
      { at: 'zones[name upper]', before: null, after: '{}' },
      { at: 'note', before: '""', after: null },
    ]
    const { user, getByRole, findByRole, queryByRole, container, asked } = shown('limits.json', { changes, total: 4, why: null })
    expect(container.textContent).toContain('{"limit": 1250}')
    await user.click(getByRole('button', { name: 'by what it means' }))
    const table = await findByRole('table', { name: 'What changed in limits.json' })
    expect([...table.querySelectorAll('tbody tr')].map((row) => row.textContent)).toEqual([
      'limit12001250',
      'zones[name upper]was not there{}',
      'note""is gone',
    ])
    expect(container.textContent).toContain('1 more change not shown here')
    expect(asked.map(({ params, query }) => [params, query])).toEqual([[{ repository: 'kiln' }, { form: 'json', before: OLD, after: NEW }]])
    await user.click(getByRole('button', { name: 'line by line' }))
    expect(queryByRole('table', { name: /^What changed/ })).toBeNull()
  })

  test('says where nothing changed in it, and why it cannot be compared so', async () => {
    const same = shown('limits.csv', { changes: [], total: 0, why: null })
    await same.user.click(same.getByRole('button', { name: 'by what it means' }))
    await same.findByText(/It means the same as before/)
    same.unmount()
    const none = shown('limits.csv', { changes: [], total: 0, why: 'Two of its columns have the same name' })
    await none.user.click(none.getByRole('button', { name: 'by what it means' }))
    await none.findByText('It cannot be compared by what it means: Two of its columns have the same name.')
  })

  test('is told by its name', () => {
    expect(['a.json', 'a.GEOJSON', 'a.csv', 'a.tsv', 'a.js', 'json'].map(formOf)).toEqual(['json', 'json', 'table', 'table', null, null])
    expect(shown('src/limits.js', { changes: [], total: 0, why: null }).queryByRole('button', { name: 'by what it means' })).toBeNull()
  })
})
