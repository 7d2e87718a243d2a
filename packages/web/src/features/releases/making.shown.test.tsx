import { describe, expect, jest, test } from '@jest/globals'
import type { NextRelease, ReleaseContents } from '@dystracer/core/releases/contents-wire'
import type { ReleaseBoard } from '@dystracer/core/releases/wire'
import { waitFor } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { anItem } from '#shared/test/an-item'
import { show, type Answers } from '#shared/test/shown'
import { MakeReleaseDialog } from './MakeReleaseDialog'
import { RollBackDialog } from './RollBackDialog'

const SHA = 'b'.repeat(40)
const held = (key: string, title: string) => ({ ...anItem({ key, title }), requirements: [] })
const NEXT: NextRelease = {
  service: 'kiln',
  repository: 'kiln',
  tagPrefix: 'v',
  latest: '4.1.3',
  names: ['4.1.4', '4.2.0', '5.0.0'],
  candidates: ['4.1.4-rc.1', '4.2.0-rc.1'],
  tip: { sha: SHA, subject: 'Watch the drift', atMs: 1_770_000_000_000, branch: 'main' },
  choices: [
    { sha: SHA, subject: 'Watch the drift', atMs: 1_770_000_000_000, branch: 'main' },
    { sha: 'c'.repeat(40), subject: 'Hold the relay', atMs: 1_760_000_000_000, branch: null },
  ],
  leftOut: [],
  items: [held('EMB-1', 'Relay sticks')],
  commits: 2,
  doubts: [
    { key: null, why: 'no-build' },
    { key: 'EMB-1', why: 'without-requirement' },
  ],
}

describe('a new release', () => {
  const shown = (next: NextRelease, makeRelease?: Answers['makeRelease']) => {
    const onClose = jest.fn()
    const page = show(<MakeReleaseDialog service="kiln" onClose={onClose} />, {
      answers: { readMe: () => aMe(), readNextRelease: () => next, ...(makeRelease && { makeRelease }) },
    })
    return { ...page, onClose }
  }

  test('is proposed with its name, what would be in it and what speaks against it; made, it opens', async () => {
    const page = shown(NEXT, ({ body }) => ({
      service: 'kiln',
      release: body.name,
      repository: 'kiln',
      tag: `v${body.name}`,
      sha: body.sha,
      atMs: 1,
      isRewritten: false,
      withdrawn: null,
      runsIn: [],
      items: [],
    }))
    await page.findByText(/2 changes since 4.1.3/)
    await page.findByText('Relay sticks')
    await page.findByText('No build of this commit was reported.')
    await page.findByText(/was asked for by nothing/)
    await page.user.click(page.getByRole('button', { name: '4.2.0' }))
    await page.user.click(page.getByRole('button', { name: 'Tag v4.2.0 and push it' }))
    await waitFor(() => expect(page.onClose).toHaveBeenCalled())
    expect(page.bodiesOf('makeRelease')).toEqual([{ name: '4.2.0', sha: SHA }])
    expect(decodeURIComponent(page.address())).toContain('release~kiln@4.2.0')
  })

  test('whose name is no version is refused at its field, and what was typed stays', async () => {
    const page = shown(NEXT, () => ({ refused: 'invalid-input', fields: { name: 'It begins with a digit' } }))
    const name = (await page.findByLabelText(/^Its name/)) as HTMLInputElement
    await page.user.clear(name)
    await page.user.type(name, 'main')
    await page.user.click(page.getByRole('button', { name: 'Tag vmain and push it' }))
    await waitFor(() => expect(page.bodiesOf('makeRelease')).toHaveLength(0))
    await page.user.clear(name)
    expect((page.getByRole('button', { name: /^Tag/ }) as HTMLButtonElement).disabled).toBe(true)
  })

  test('is made of an older commit as a candidate, and says what came later', async () => {
    const asked: string[] = []
    const page = show(<MakeReleaseDialog service="kiln" onClose={() => undefined} />, {
      answers: {
        readMe: () => aMe(),
        readNextRelease: ({ query }) => {
          asked.push(query.of ?? '')
          if (query.of === undefined) return NEXT
          return { ...NEXT, tip: NEXT.choices[1] ?? null, leftOut: [held('EMB-9', 'Came later')] }
        },
        makeRelease: () => ({ refused: 'conflict', detail: 'kiln has a tag already.' }),
      },
    })
    await page.user.selectOptions(await page.findByLabelText('Made of'), 'ccccccc: Hold the relay')
    await page.findByText(/Left out: 1 item that came later/)
    await page.findByText('Came later')
    await page.user.click(page.getByRole('button', { name: '4.2.0-rc.1' }))
    await page.user.click(page.getByRole('button', { name: 'Tag v4.2.0-rc.1 and push it' }))
    await page.findByText(/has a tag already/)
    expect(page.bodiesOf('makeRelease')).toEqual([{ name: '4.2.0-rc.1', sha: 'c'.repeat(40) }])
    expect(asked).toContain('c'.repeat(40))
  })

  test('of nothing new says so; of a line that was never read there is none to make', async () => {
    const same = shown({ ...NEXT, commits: 0, items: [], doubts: [] })
    await same.findByText(/Nothing has changed since 4.1.3/)
    same.unmount()
    const unread = shown({ ...NEXT, tip: null })
    await unread.findByText(/has not been read yet/)
    expect(unread.queryByRole('button', { name: /^Tag/ })).toBeNull()
  })
})

const CONTENTS: ReleaseContents = {
  service: 'kiln',
  release: '4.1.2',
  against: { release: '4.1.3', runsIn: null },
  items: [],
  lost: [held('EMB-1', 'Relay sticks')],
  requirements: [],
  counts: { added: 0, removed: 3, again: 0, undone: 0, merges: 0, forNothing: 0 },
  commits: [],
  more: 0,
  authors: [],
  files: { schema: ['db/0002.sql'], settings: [], tests: [], changed: 4 },
  dependencies: [],
}
const board = (needsApproval: boolean): ReleaseBoard => ({
  hasDeployer: true,
  environments: [{ environment: 'production', kind: 'production', needsApproval, position: 1 }],
  services: [],
})

describe('rolling back', () => {
  const shown = (given: { needsApproval?: boolean; contents?: ReleaseContents; deploy?: Answers['askDeployment'] } = {}) => {
    const onClose = jest.fn()
    const page = show(
      <RollBackDialog service="kiln" environment="production" from="4.1.3" releases={['4.1.2', '4.1.1']} onClose={onClose} />,
      {
        answers: {
          readMe: () => aMe(),
          readReleaseBoard: () => board(given.needsApproval ?? false),
          readReleaseContents: ({ params }) => ({ ...(given.contents ?? CONTENTS), release: params.release?.split('@')[1] ?? '' }),
          askDeployment: given.deploy ?? (() => ({ deploymentId: 'd1', state: 'approved' }) as never),
        },
      },
    )
    return { ...page, onClose }
  }

  test('says first what is lost by it, and that the database is not put back', async () => {
    const page = shown()
    await page.findByText(/It takes back 3 changes and 1 item, which are no longer released there/)
    await page.findByText('Relay sticks')
    await page.findByText(/The database differs between the two: db\/0002.sql/)
    await page.user.selectOptions(page.getByLabelText(/4.1.3 runs there. Back to/), '4.1.1')
    expect(await page.findByRole('button', { name: 'Bring 4.1.1 back to production' })).toBeTruthy()
  })

  test('of nothing says that it takes back nothing', async () => {
    const counts = { ...CONTENTS.counts, removed: 0 }
    const page = shown({ contents: { ...CONTENTS, lost: [], counts, files: { ...CONTENTS.files, schema: [] } } })
    await page.findByText('It takes back no change.')
    expect(page.queryByText(/The database differs/)).toBeNull()
  })

  test('asks where an approval is needed, and stays where it is refused', async () => {
    const page = shown({ needsApproval: true, deploy: () => ({ refused: 'not-allowed', detail: 'Not here.' }) })
    await page.user.click(await page.findByRole('button', { name: 'Ask for 4.1.2 in production' }))
    await waitFor(() => expect(page.bodiesOf('askDeployment')).toEqual([{ service: 'kiln', release: '4.1.2', environment: 'production' }]))
    expect(page.onClose).not.toHaveBeenCalled()
  })
})
