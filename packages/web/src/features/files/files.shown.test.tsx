import { describe, expect, test } from '@jest/globals'
import type { FileDetail } from '@dystracer/core/files/wire'
import { aMe } from '#shared/test/a-me'
import { show } from '#shared/test/shown'
import { FilePane } from './FilePane'
import { FoundLines } from './FoundLines'

const AT_MS = 1_770_000_000_000
const run = (line: number, lastLine: number, given: Partial<FileDetail['runs'][number]> = {}): FileDetail['runs'][number] => ({
  line,
  lastLine,
  sha: 'a'.repeat(40),
  subject: 'Open the relay',
  author: 'Rafe Lindqvist',
  atMs: AT_MS,
  items: ['EMB-4'],
  requirements: ['SAF-3'],
  ...given,
})
function aFile(given: Partial<FileDetail> = {}): FileDetail {
  return {
    repository: 'kiln',
    path: 'src/relay.js',
    sha: 'f'.repeat(40),
    text: 'one\ntwo\nthree\n',
    isBinary: false,
    isCut: false,
    sizeBytes: 14,
    runs: [run(1, 2), run(3, 3, { sha: 'b'.repeat(40), subject: 'Add a line', items: [], requirements: [] })],
    commits: [
      { repository: 'kiln', sha: 'a'.repeat(40), subject: 'Open the relay', author: 'Rafe Lindqvist', atMs: AT_MS, items: ['EMB-4'] },
    ],
    commitCount: 2,
    items: [],
    requirements: [{ key: 'SAF-3', title: 'Sensor faults', lines: 2 }],
    faults: [{ fault: 'F-3', title: 'TypeError: no probe', place: 'src/relay.js:2' }],
    knowers: [{ name: 'Rafe Lindqvist', personId: 'rafe', commits: 2, lines: 3, lastAtMs: AT_MS }],
    ...given,
  }
}
const shown = (file: FileDetail, at = '/file~kiln,src,relay.js') =>
  show(<FilePane id={decodeURIComponent(at.slice('/file~'.length)).replaceAll(',', '/')} />, {
    at,
    answers: { readMe: () => aMe(), readFile: () => file },
  })

describe('a file', () => {
  test('says who knows it, which requirements stand in it, and what fails there', async () => {
    const { findByText, getByRole } = shown(aFile())
    await findByText(/known best by/)
    expect(getByRole('link', { name: 'SAF-3' })).toBeTruthy()
    expect(getByRole('link', { name: 'F-3' })).toBeTruthy()
  })

  test('of a chosen line says who asked for it', async () => {
    const { findByRole } = shown(aFile(), '/file~kiln,src,relay.js%3A2')
    const asked = await findByRole('region', { name: 'Who asked for line 2' })
    expect(asked.textContent).toContain('Lines 1–2 came with aaaaaaa Open the relay')
    expect(asked.textContent).toContain('asked for by SAF-3')
  })

  test('of a line that nothing asked for says that', async () => {
    const { findByRole } = shown(aFile(), '/file~kiln,src,relay.js%3A3')
    expect((await findByRole('region', { name: 'Who asked for line 3' })).textContent).toContain('No item asked for it.')
  })

  test('that is no text still shows what hangs on it', async () => {
    const { findByText, queryByRole } = shown(aFile({ isBinary: true, text: '', runs: [] }))
    await findByText(/It is no text/)
    expect(queryByRole('listbox', { name: 'Lines' })).toBeNull()
  })

  test('that is too long says how long', async () => {
    const { findByText } = shown(aFile({ isCut: true, text: '', runs: [], sizeBytes: 5 << 20 }))
    expect((await findByText(/too long/)).textContent).toContain('5120 KiB')
  })
})

describe('a text in code', () => {
  const found = (text: string) =>
    show(<FoundLines text={text} onText={() => {}} />, {
      at: '/code',
      answers: {
        readMe: () => aMe(),
        searchFiles: () => ({ rows: [{ repository: 'kiln', path: 'src/relay.js', line: 2, text: '  relay.open()' }], isCut: true }),
      },
    })

  test('is not looked for before it has two characters', () => {
    const { asked, getByText } = found('r')
    expect(getByText(/at least two characters/)).toBeTruthy()
    expect(asked.filter(({ name }) => name === 'searchFiles')).toEqual([])
  })

  test('is found with its place, and a line opens the file there', async () => {
    const { user, findByRole, getByRole, address } = found('relay')
    await user.click(await findByRole('option', { name: /relay.open/ }))
    expect(getByRole('status').textContent).toBe('1 line, and more')
    expect(address()).toBe('/code/file~kiln,src,relay.js%3A2')
  })
})
