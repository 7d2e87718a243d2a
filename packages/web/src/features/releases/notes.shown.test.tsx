import { describe, expect, test } from '@jest/globals'
import type { NotesPublication, ReleaseNotes } from '@dystracer/core/releases/contents-wire'
import { waitFor } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { Environments } from './Environments'
import { ReleaseNotesPart } from './ReleaseNotesPart'

const RELEASE = 'kiln@4.1.3'
const lead = aMe()
const reader = aMe({ person: { personId: 'wren', name: 'Wren', initials: 'W', role: 'reader' } })

/** A server that keeps the notes of a release, and whether they are published. */
function aServer({ me = lead, published = null as NotesPublication['published'] } = {}): Answers {
  let notes: ReleaseNotes = {
    reader: 'users',
    intro: '',
    groups: [
      {
        title: 'Fixed',
        lines: [
          { key: 'EMB-1', text: 'Relay sticks', isWritten: false },
          { key: null, text: '2 changes without an item', isWritten: false },
        ],
      },
    ],
  }
  let state: NotesPublication = { published }
  return {
    readMe: () => me,
    readReleaseNotes: ({ query }) => ({ ...notes, reader: (query.reader ?? 'users') as ReleaseNotes['reader'] }),
    writeReleaseNote: ({ body }) => {
      const line = (key: string | null, text: string) => ({ key, text: text || 'Relay sticks', isWritten: text !== '' })
      notes =
        body.key === null
          ? { ...notes, intro: body.text }
          : {
              ...notes,
              groups: notes.groups.map((group) => ({
                ...group,
                lines: group.lines.map((one) => (one.key === body.key ? line(one.key, body.text) : one)),
              })),
            }
      return notes
    },
    readNotesPublication: () => state,
    publishNotes: ({ body }) => {
      state = { published: { atMs: 1_770_000_000_000, isPublic: body.isPublic ?? false, isCurrent: true } }
      return state
    },
    withdrawNotes: () => {
      state = { published: null }
      return state
    },
  }
}
const part = <ReleaseNotesPart release={RELEASE} service="kiln" />

describe('the notes of a release', () => {
  test('are written anew line by line, and stand as they were again', async () => {
    const { user, findByRole, findByText, queryByRole, bodiesOf } = show(part, { answers: aServer() })
    await user.click(await findByRole('button', { name: 'Edit EMB-1' }))
    const words = await findByRole('textbox', { name: 'Words about EMB-1' })
    await user.clear(words)
    await user.type(words, 'The relay lets go')
    await user.click(await findByRole('button', { name: 'Keep the words' }))
    await findByText('The relay lets go')
    await user.click(await findByRole('button', { name: 'Let EMB-1 stand as it was' }))
    await findByText('Relay sticks')
    expect(bodiesOf('writeReleaseNote')).toMatchObject([
      { key: 'EMB-1', text: 'The relay lets go' },
      { key: 'EMB-1', text: '' },
    ])
    // What is counted and is no item's has no words of anybody.
    expect(queryByRole('button', { name: 'Edit null' })).toBeNull()
  })

  test('are left by Escape without a change', async () => {
    const { user, findByRole, queryByRole, bodiesOf } = show(part, { answers: aServer() })
    await user.click(await findByRole('button', { name: 'Write a beginning' }))
    await user.type(await findByRole('textbox', { name: 'Words about the beginning' }), 'Please restart{Escape}')
    await waitFor(() => expect(queryByRole('textbox')).toBeNull())
    expect(bodiesOf('writeReleaseNote')).toEqual([])
  })

  test('are asked for by reader, and say where nothing concerns them', async () => {
    const answers = aServer()
    const { user, findByRole, findByText, asked } = show(part, {
      answers: { ...answers, readReleaseNotes: ({ query }) => ({ reader: (query.reader ?? 'users') as 'users', intro: '', groups: [] }) },
    })
    await findByText('Nothing in it concerns them.')
    await user.click(await findByRole('button', { name: 'auditors' }))
    await waitFor(() => expect(asked.some(({ name, query }) => name === 'readReleaseNotes' && query.reader === 'auditors')).toBe(true))
    expect((await findByRole('link', { name: 'as Markdown' })).getAttribute('href')).toContain('reader=auditors')
  })

  test('are published for the project, then for everybody, and taken back', async () => {
    const { user, findByRole, findByText, bodiesOf } = show(part, { answers: aServer() })
    await findByText('Not published.')
    await user.click(await findByRole('button', { name: 'Publish them' }))
    await findByText(/for those who read the project at/)
    await user.click(await findByRole('button', { name: 'Publish them for everybody' }))
    await findByText(/for everybody at/)
    expect((await findByRole('link', { name: 'a feed' })).getAttribute('href')).toBe('/feeds/notes/kiln.atom?reader=users')
    await user.click(await findByRole('button', { name: 'Take them back' }))
    await findByText('Not published.')
    expect(bodiesOf('publishNotes')).toMatchObject([{ isPublic: false }, { isPublic: true }])
  })

  test('that read otherwise than what was published say so, and can be published anew', async () => {
    const published = { atMs: 1, isPublic: true, isCurrent: false }
    const { user, findByRole, findByText, bodiesOf } = show(part, { answers: aServer({ published }) })
    await findByText(/They have been changed since/)
    await user.click(await findByRole('button', { name: 'Publish them anew' }))
    await waitFor(() => expect(bodiesOf('publishNotes')).toMatchObject([{ isPublic: true }]))
  })

  test('are read by who only reads, and written by nobody there', async () => {
    const { findByText, queryByRole } = show(part, { answers: aServer({ me: reader }) })
    await findByText('Relay sticks')
    expect(queryByRole('button', { name: /Edit|Write|Publish/ })).toBeNull()
  })
})

describe('environments', () => {
  const environments = [
    { environment: 'staging', kind: 'staging' as const, needsApproval: false, position: 1 },
    { environment: 'production', kind: 'production' as const, needsApproval: true, position: 2 },
  ]
  const answers = (me = lead, more: Answers = {}): Answers => ({
    readMe: () => me,
    readReleaseBoard: () => ({ hasDeployer: true, environments, services: [] }),
    ...more,
  })

  test('are changed where they stand: order, kind and whether they need an approval', async () => {
    const { user, findByLabelText, asked } = show(<Environments />, {
      answers: answers(lead, { setEnvironment: () => ({ hasDeployer: true, environments, services: [] }) }),
    })
    await user.click(await findByLabelText('staging needs approval'))
    await user.selectOptions(await findByLabelText('Kind of staging'), 'test')
    const order = await findByLabelText('Order of staging')
    await user.clear(order)
    await user.type(order, '5')
    await user.tab()
    const sent = () => asked.filter(({ name }) => name === 'setEnvironment')
    await waitFor(() => expect(sent()).toHaveLength(3))
    expect(sent().map(({ params, body }) => [params.environment, body])).toMatchObject([
      ['staging', { needsApproval: true, kind: 'staging', position: 1 }],
      ['staging', { kind: 'test' }],
      ['staging', { position: 5 }],
    ])
  })

  test('are added behind the others, removed, and a name that is none is refused at its field', async () => {
    const refuse = { refused: 'invalid-input' as const, fields: { environment: 'Letters, digits, dots and hyphens' } }
    let isRefused = true
    const { user, findByRole, findByText, asked } = show(<Environments />, {
      answers: answers(lead, {
        setEnvironment: () => (isRefused ? refuse : { hasDeployer: true, environments, services: [] }),
        removeEnvironment: () => ({ hasDeployer: true, environments, services: [] }),
      }),
    })
    const name = (await findByRole('textbox', { name: /^New environment/ })) as HTMLInputElement
    await user.type(name, 'demo')
    await user.click(await findByRole('button', { name: 'Add the environment' }))
    await findByText('Letters, digits, dots and hyphens')
    expect(name.value).toBe('demo')
    isRefused = false
    await user.click(await findByRole('button', { name: 'Add the environment' }))
    await waitFor(() => expect(name.value).toBe(''))
    expect(asked.filter(({ name: one }) => one === 'setEnvironment').at(-1)).toMatchObject({
      params: { environment: 'demo' },
      body: { position: 3 },
    })
    await user.click(await findByRole('button', { name: 'Remove staging' }))
    await waitFor(() => expect(asked.some(({ name: one }) => one === 'removeEnvironment')).toBe(true))
  })

  test('are seen and not changed by who only reads', async () => {
    const { findByLabelText, queryByRole } = show(<Environments />, { answers: answers(reader) })
    expect(((await findByLabelText('staging needs approval')) as HTMLInputElement).disabled).toBe(true)
    expect(queryByRole('form', { name: 'New environment' })).toBeNull()
    expect(queryByRole('button', { name: 'Remove staging' })).toBeNull()
  })
})
