import { describe, expect, test } from '@jest/globals'
import type { CommitRemark } from '@dystracer/core/reviews/wire'
import { waitFor } from '@testing-library/react'
import { parseDiff } from 'react-diff-view'
import { DiffFile } from '#shared/diff/DiffFile'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { CommitRemarks, useRemarksOnLines } from './CommitRemarks'

const ID = `kiln/${'a'.repeat(40)}`
const FILES = parseDiff(
  'diff --git a/src/relay.js b/src/relay.js\nindex 1..2 100644\n--- a/src/relay.js\n+++ b/src/relay.js\n@@ -1,2 +1,3 @@\n' +
    ' one\n+two\n three\n',
)
function Commit() {
  const withLines = useRemarksOnLines(ID)
  return (
    <>
      <CommitRemarks id={ID} paths={['src/relay.js']} />
      {FILES.map((file) => (
        <DiffFile key={file.newPath} file={file} repository="kiln" {...withLines(file)} />
      ))}
    </>
  )
}

const aRemark = (given: Partial<CommitRemark>): CommitRemark => ({
  remarkId: 'r1',
  personId: 'rafe',
  atMs: 1_770_000_000_000,
  text: 'Why two?',
  place: { path: 'src/relay.js', line: 2, lastLine: 2, side: 'new' },
  isSettled: false,
  settledBy: null,
  reactions: [],
  answers: [],
  ...given,
})

/** A server that keeps remarks as the real one does. */
function aServerWith(rows: CommitRemark[], role: 'lead' | 'reader' = 'lead'): Answers {
  let kept = rows
  const me = aMe()
  return {
    readMe: () => ({ ...me, person: me.person && { ...me.person, role } }),
    listCommitRemarks: () => ({ rows: kept }),
    remarkOnCommit: ({ body }) => {
      const said = { remarkId: `r${kept.length + 1}`, personId: 'ines', atMs: 1_770_000_100_000, text: body.text, reactions: [] }
      kept = body.replyTo
        ? kept.map((row) => (row.remarkId === body.replyTo ? { ...row, answers: [...row.answers, said] } : row))
        : [...kept, aRemark({ ...said, place: body.place ?? null })]
      return { rows: kept }
    },
    reactToCommitRemark: ({ params, body }) => {
      const reactions = body.isOn ? [{ reaction: body.reaction, personIds: ['ines'] }] : []
      kept = kept.map((row) => (row.remarkId === params.remarkId ? { ...row, reactions } : row))
      return { rows: kept }
    },
    settleCommitRemark: ({ params, body }) => {
      kept = kept.map((row) =>
        row.remarkId === params.remarkId ? { ...row, isSettled: body.isSettled, settledBy: body.isSettled ? 'person:ines' : null } : row,
      )
      return { rows: kept }
    },
  }
}

describe('remarks on a commit', () => {
  test('are reacted to by a click, which another takes back; a reader sees who did', async () => {
    const first = show(<Commit />, { answers: aServerWith([aRemark({})]) })
    await first.findByText('Why two?')
    await first.user.click(first.getByRole('button', { name: 'agree' }))
    const given = await first.findByRole('button', { name: 'agree 1' })
    expect(given.getAttribute('aria-pressed')).toBe('true')
    await first.user.click(given)
    await first.findByRole('button', { name: 'agree' })
    expect(first.bodiesOf('reactToCommitRemark')).toEqual([
      { reaction: 'agree', isOn: true },
      { reaction: 'agree', isOn: false },
    ])
    first.unmount()
    const seen = aRemark({ reactions: [{ reaction: 'thanks', personIds: ['rafe'] }] })
    const other = show(<Commit />, { answers: aServerWith([seen], 'reader') })
    await other.findByText('thanks 1')
    expect(other.queryByRole('button', { name: 'agree' })).toBeNull()
  })

  test('stand below their line, are answered there, and settled to a line that opens again', async () => {
    const { user, findByText, getByRole, queryByText, findByRole, bodiesOf } = show(<Commit />, { answers: aServerWith([aRemark({})]) })
    await findByText('Why two?')
    await findByText('1 on lines below')
    await user.click(getByRole('button', { name: 'Answer…' }))
    await user.type(getByRole('textbox', { name: 'Your answer' }), 'One for each zone')
    await user.click(getByRole('button', { name: 'Answer' }))
    await findByText('One for each zone')
    expect(bodiesOf('remarkOnCommit')).toMatchObject([{ text: 'One for each zone', replyTo: 'r1' }])
    await user.click(getByRole('button', { name: 'Settled' }))
    await user.click(await findByRole('button', { name: /settled by Ines/ }))
    await findByText('Why two?')
    await user.click(getByRole('button', { name: 'Not settled' }))
    await waitFor(() => expect(queryByText(/settled by/)).toBeNull())
  })

  test('are written on a line by a click on its number, and on the whole', async () => {
    const { user, findByRole, getByRole, findByText, container, bodiesOf } = show(<Commit />, { answers: aServerWith([]) })
    await findByRole('button', { name: 'Remark on the whole…' })
    const number = [...container.querySelectorAll('.diff-gutter-insert')].find((cell) => cell.textContent === '2')
    await user.click(number as HTMLElement)
    await user.type(await findByRole('textbox', { name: 'Your remark on line 2' }), 'Here')
    await user.click(getByRole('button', { name: 'Remark' }))
    await findByText('Here')
    await user.click(getByRole('button', { name: 'Remark on the whole…' }))
    await user.type(await findByRole('textbox', { name: 'Your remark on the whole' }), 'Well done')
    await user.click(getByRole('button', { name: 'Remark' }))
    await findByText('Well done')
    expect(bodiesOf('remarkOnCommit')).toMatchObject([
      { text: 'Here', place: { path: 'src/relay.js', line: 2, lastLine: 2, side: 'new' } },
      { text: 'Well done' },
    ])
  })

  test('are read by who only reads, and written by nobody there; where there is none nothing is shown', async () => {
    const read = show(<Commit />, { answers: aServerWith([aRemark({ place: null })], 'reader') })
    await read.findByText('Why two?')
    expect(read.queryByRole('button')).toBeNull()
    read.unmount()
    const none = show(<Commit />, { answers: aServerWith([], 'reader') })
    await waitFor(() => expect(none.asked.some(({ name }) => name === 'listCommitRemarks')).toBe(true))
    expect(none.queryByRole('region', { name: 'Remarks' })).toBeNull()
  })

  test('what was typed stays where it is refused', async () => {
    const answers: Answers = { ...aServerWith([]), remarkOnCommit: () => ({ refused: 'not-allowed', detail: 'Not here.' }) }
    const { user, findByRole, getByRole } = show(<Commit />, { answers })
    await user.click(await findByRole('button', { name: 'Remark on the whole…' }))
    await user.type(await findByRole('textbox', { name: 'Your remark on the whole' }), 'Well done')
    await user.click(getByRole('button', { name: 'Remark' }))
    expect((getByRole('textbox', { name: 'Your remark on the whole' }) as HTMLTextAreaElement).value).toBe('Well done')
  })
})
