import { afterEach, beforeEach, describe, expect, test } from '@jest/globals'
import type { Comment } from '@dystracer/core/talk/wire'
import { waitFor, within } from '@testing-library/react'
import { toast, Toaster } from 'sonner'
import { aMe } from '#shared/test/a-me'
import { aDetail } from '#shared/test/an-item'
import { keepDraft } from '#shared/lib/drafts'
import { show, type Answers } from '#shared/test/shown'
import { ItemComments } from './ItemComments'

const AT_MS = 1_770_000_000_000
const aComment = (given: Partial<Comment> = {}): Comment => ({
  commentId: 'c1',
  by: 'person:rafe',
  from: null,
  atMs: AT_MS,
  text: 'It ramps past the limit.',
  replyTo: null,
  editedAtMs: null,
  reactions: [],
  ...given,
})
const item = aDetail({ key: 'EMB-7' })
const page = (rows: Comment[], nextCursor: string | null = null) => ({ rows, nextCursor, total: rows.length })
const talk = (rows: Comment[], answers: Answers = {}) =>
  show(
    <>
      <ItemComments item={item} />
      <Toaster />
    </>,
    {
      answers: {
        readMe: () => aMe(),
        listComments: () => page(rows),
        addComment: () => ({ commentId: 'c9' }),
        previewComment: () => ({ deeds: [], refused: [], mentions: [] }),
        ...answers,
      },
      at: '/items/item~EMB-7',
    },
  )
beforeEach(() => localStorage.clear())
afterEach(() => void toast.dismiss())

describe('what was said of an item', () => {
  test('stands in order, answers below what they answer; one whose question is not there stands alone', async () => {
    const { findAllByRole } = talk([
      aComment(),
      aComment({ commentId: 'c2', by: 'person:ines', text: 'By how much?', replyTo: 'c1' }),
      aComment({ commentId: 'c3', by: null, from: 'studio@example.org', text: 'By thirty degrees.' }),
      aComment({ commentId: 'c4', text: 'To something that was taken away.', replyTo: 'gone' }),
    ])
    const articles = await findAllByRole('article')
    expect(articles.map((one) => one.getAttribute('aria-label'))).toEqual([
      'Comment by Rafe Lindqvist',
      'Comment by Ines Calder',
      'Comment by studio@example.org',
      'Comment by Rafe Lindqvist',
    ])
    expect(articles[1]?.parentElement?.className).toContain('border-l-2')
    expect(articles[3]?.parentElement?.className).not.toContain('border-l-2')
  })

  test('is quoted into an answer, which goes to what it answers; sent, the field is empty again', async () => {
    const { user, findByRole, getByText, bodiesOf, queryByText } = talk([aComment({ text: 'It ramps\npast the limit.' })])
    const first = within(await findByRole('article'))
    await user.click(first.getByRole('button', { name: 'quote' }))
    getByText(/Answer to Rafe Lindqvist/)
    await user.click(await findByRole('button', { name: 'Comment' }))
    await waitFor(() => expect(bodiesOf('addComment')).toEqual([{ text: '> It ramps\n> past the limit.', replyTo: 'c1' }]))
    await waitFor(() => expect(queryByText(/Answer to/)).toBeNull())
    expect((await findByRole('button', { name: 'Comment' })).hasAttribute('disabled')).toBe(true)
  })

  test('an answer to an answer goes to the same question, and can be no answer after all', async () => {
    const { user, findAllByRole, findByRole, getByText, queryByText } = talk([
      aComment(),
      aComment({ commentId: 'c2', by: 'person:ines', text: 'By how much?', replyTo: 'c1' }),
    ])
    const [, second] = await findAllByRole('article')
    await user.click(within(second as HTMLElement).getByRole('button', { name: 'answer' }))
    getByText(/Answer to Ines Calder/)
    await user.click(await findByRole('button', { name: 'not an answer' }))
    expect(queryByText(/Answer to/)).toBeNull()
  })

  test('is agreed with by one click, and the click says what was there before', async () => {
    const { user, findByRole, asked } = talk([aComment({ reactions: [{ reaction: 'agree', personIds: ['ines', 'rafe'] }] })], {
      reactToComment: () => ({}),
    })
    const agree = await findByRole('button', { name: 'agree 2' })
    await waitFor(() => expect(agree.getAttribute('aria-pressed')).toBe('true'))
    await user.click(agree)
    await waitFor(() => expect(asked.find(({ name }) => name === 'reactToComment')?.body).toEqual({ reaction: 'agree', isOn: false }))
  })

  test('can be mended by who said it alone; that it was, and what it said before, stays to be read', async () => {
    const { user, findAllByRole, findByRole } = talk(
      [aComment({ by: 'person:ines', editedAtMs: AT_MS + 1, text: 'By thirty degrees.' }), aComment({ commentId: 'c2' })],
      { listCommentRevisions: () => ({ rows: [{ text: 'By twenty degrees.', atMs: AT_MS }] }) },
    )
    const [own, other] = (await findAllByRole('article')).map((one) => within(one))
    await waitFor(() => own?.getByRole('button', { name: 'edit' }))
    expect(other?.queryByRole('button', { name: 'edit' })).toBeNull()
    const edited = await findByRole('button', { name: 'edited' })
    await user.click(edited)
    expect(edited.getAttribute('aria-expanded')).toBe('true')
    await waitFor(() => expect(own?.getByText('twenty').tagName).toBe('DEL'))
  })

  test('somebody else’s change meanwhile is told, and what was written stays', async () => {
    const { user, findByRole, findByText } = talk([aComment({ by: 'person:ines' })], {
      editComment: () => ({ refused: 'changed-meanwhile', detail: 'Somebody changed it.' }),
    })
    await user.click(await findByRole('button', { name: 'edit' }))
    await user.click(await findByRole('button', { name: 'Save' }))
    await findByText(/Somebody changed it/)
    await findByRole('button', { name: 'Leave as it was' })
  })

  test('goes on by pages', async () => {
    const { user, findByRole, findAllByRole, queryByRole } = talk([], {
      listComments: ({ query }) =>
        query.cursor === undefined
          ? { ...page([aComment()], 'more'), total: 2 }
          : { ...page([aComment({ commentId: 'c2', text: 'Later.' })]), total: 2 },
    })
    await user.click(await findByRole('button', { name: 'Later comments' }))
    await waitFor(async () => expect(await findAllByRole('article')).toHaveLength(2))
    expect(queryByRole('button', { name: 'Later comments' })).toBeNull()
  })

  test('is read by who may not write; where nobody said anything, that is said', async () => {
    const wren = aMe({ person: { personId: 'wren', name: 'Wren Abara', initials: 'WA', role: 'reader' } })
    const { findByText, queryByRole } = talk([], { readMe: () => wren })
    await findByText('Nobody has said anything yet.')
    expect(queryByRole('form', { name: 'Write a comment' })).toBeNull()
  })

  test('what its last lines will do is told while it is written, and a draft outlives a reload', async () => {
    keepDraft('comment/EMB-7', 'Owner: rafe')
    const { findByRole, bodiesOf } = talk([], {
      previewComment: () => ({
        deeds: [
          { kind: 'owner', name: 'Rafe Lindqvist' },
          { kind: 'severity', value: 2 },
          { kind: 'label', label: 'step-2' },
          { kind: 'due', on: '2026-12-01' },
          { kind: 'time', minutes: 90, on: '2026-11-24' },
        ],
        refused: [{ trailer: 'Severity: high', code: 'not-a-severity' }],
        mentions: [
          { personId: 'rafe', maySee: true },
          { personId: 'ines', maySee: false },
        ],
      }),
    })
    const deeds = await findByRole('list', { name: 'What this will do' })
    expect(
      within(deeds)
        .getAllByRole('listitem')
        .map((line) => line.textContent),
    ).toEqual([
      'gives it to Rafe Lindqvist',
      'sets severity 2',
      'adds the label step-2',
      'makes it due on 2026-12-01',
      'books 1 h 30 on 2026-11-24',
      '“Severity: high” will do nothing: a severity is a number from 1 to 5',
      'tells Rafe Lindqvist',
      'Ines Calder may not see this item and will not be told',
    ])
    expect(bodiesOf('previewComment')).toEqual([{ text: 'Owner: rafe' }])
  })
})
