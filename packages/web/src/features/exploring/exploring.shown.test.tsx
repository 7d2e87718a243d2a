import { expect, jest, test } from '@jest/globals'
import type { ExplorationDetail } from '@dystracer/core/exploring/wire'
import { act, fireEvent, waitFor } from '@testing-library/react'
import { useState } from 'react'
import { aMe } from '#shared/test/a-me'
import { show } from '#shared/test/shown'
import { PictureText } from '#shared/ui/PictureText'
import { ExplorationDialog } from './ExplorationDialog'
import { ExplorationPane } from './ExplorationPane'
import { Explorations } from './Explorations'
import { spentUntil } from './spent'

const anExploration = (more: Partial<ExplorationDetail> = {}): ExplorationDetail => ({
  project: 'EMB',
  explorationId: 'x1',
  question: 'Does it keep its plan?',
  text: '',
  release: null,
  about: ['SAF-3'],
  boxMinutes: 30,
  spentMs: 31 * 60_000,
  runningSinceMs: null,
  points: [{ point: 'while heating', isDone: false }],
  notes: [],
  by: 'person:ines',
  atMs: 1,
  ended: null,
  ...more,
})
const pane = (row = anExploration()) => {
  const answer = (change: (row: ExplorationDetail) => ExplorationDetail) => {
    row = change(row)
    return row
  }
  return show(<ExplorationPane id="EMB/x1" />, {
    answers: {
      readMe: () => aMe(),
      readExploration: () => row,
      setExplorationPoint: ({ body: { point, isDone } }) => answer((now) => ({ ...now, points: [{ point, isDone }] })),
      setExplorationClock: ({ body: { isRunning } }) => answer((now) => ({ ...now, runningSinceMs: isRunning ? Date.now() : null })),
      noteInExploration: ({ body: { sort, words, logsDefect } }) =>
        answer((now) => ({
          ...now,
          notes: [
            ...now.notes,
            { noteId: `n${now.notes.length}`, sort, words, item: logsDefect ? 'EMB-7' : null, by: 'person:ines', atMs: 2 },
          ],
        })),
      removeExplorationNote: () => answer((now) => ({ ...now, notes: [] })),
      endExploration: ({ body: { isEnded, words = '' } }) =>
        answer((now) => ({ ...now, ended: isEnded ? { by: 'person:ines', atMs: 3, words } : null })),
    },
  })
}

test('points are ticked off, trouble is noted and logged at once, and what came of it ends it', async () => {
  const { user, findByRole, findByText, getByRole, queryByRole, bodiesOf } = pane()
  await user.click(await findByRole('checkbox', { name: 'while heating' }))
  await waitFor(() => expect(bodiesOf('setExplorationPoint')).toEqual([{ point: 'while heating', isDone: true }]))
  await findByText(/its time is over/)
  await user.click(getByRole('button', { name: 'Go on' }))
  await findByRole('button', { name: 'Stop the clock' })
  await user.click(getByRole('button', { name: 'trouble' }))
  await user.type(getByRole('textbox', { name: /What you note/ }), 'The plan is empty{Control>}{Enter}{/Control}')
  await findByRole('link', { name: 'EMB-7' })
  expect(bodiesOf('noteInExploration')).toEqual([{ sort: 'trouble', words: 'The plan is empty', logsDefect: true }])
  await user.click(getByRole('button', { name: 'take it back: The plan is empty' }))
  await waitFor(() => expect(queryByRole('link', { name: 'EMB-7' })).toBeNull())
  await user.type(getByRole('textbox', { name: /What was found out/ }), 'It does not')
  await user.click(getByRole('button', { name: 'It is over' }))
  await findByRole('button', { name: 'it goes on' })
  expect(queryByRole('form', { name: 'A note' })).toBeNull()
  expect(getByRole('checkbox', { name: 'while heating' }).hasAttribute('disabled')).toBe(true)
})

test('what is to be found out is written with points as lines; a refusal stands at its field', async () => {
  const onClose = jest.fn()
  let isRefused = true
  const { user, findByRole, findByText, getByLabelText, getByRole, bodiesOf } = show(
    <ExplorationDialog project="EMB" onClose={onClose} />,
    {
      answers: {
        readMe: () => aMe(),
        readReleaseBoard: () => ({ services: [], environments: [], hasDeployer: false }),
        beginExploration: () =>
          isRefused ? { refused: 'invalid-input', fields: { about: 'NIX-1 is no requirement and no item' } } : anExploration(),
      },
    },
  )
  await user.type(await findByRole('textbox', { name: /What it is to find out/ }), 'Does it?')
  await user.type(getByLabelText('Points to look at, a line each'), 'one{Enter}  {Enter}two')
  await user.type(getByLabelText('At most so many minutes'), '45')
  await user.type(getByLabelText(/About: keys/), 'nix-1')
  await user.click(getByRole('button', { name: 'Begin' }))
  await findByText('NIX-1 is no requirement and no item')
  expect(onClose).not.toHaveBeenCalled()
  isRefused = false
  await user.click(getByRole('button', { name: 'Begin' }))
  await waitFor(() => expect(onClose).toHaveBeenCalled())
  expect(bodiesOf('beginExploration')[1]).toEqual({
    question: 'Does it?',
    text: '',
    points: ['one', 'two'],
    about: ['NIX-1'],
    release: null,
    boxMinutes: 45,
  })
})

test('the list says how far each is, and what there is to do where nothing is explored', async () => {
  const row = { ...anExploration(), points: { done: 1, all: 2 }, notes: { all: 3, trouble: 1 } }
  const some = show(<Explorations project="EMB" />, { answers: { listExplorations: () => ({ rows: [row] }) } })
  expect((await some.findByRole('option')).textContent).toMatch(
    /Does it keep its plan\?.*31 min of 30.*1 of 2 points.*3 notes, 1 of trouble/,
  )
  some.unmount()
  const none = show(<Explorations project="EMB" />, { answers: { listExplorations: () => ({ rows: [] }) } })
  await none.findByText(/look around with a question in mind/)
})

test('a clock that runs counts on; one that was set back counts nothing', () => {
  expect(spentUntil({ spentMs: 60_000, runningSinceMs: 100_000 }, 160_000)).toBe(120_000)
  expect(spentUntil({ spentMs: 60_000, runningSinceMs: 100_000 }, 90_000)).toBe(60_000)
  expect(spentUntil({ spentMs: 60_000, runningSinceMs: null }, 160_000)).toBe(60_000)
})

function Box() {
  const [text, setText] = useState('before after')
  return <PictureText aria-label="Words" project="EMB" value={text} onText={setText} />
}

test('a picture that is pasted while somebody writes stands where the cursor was, and nothing typed meanwhile is lost', async () => {
  let answer: () => void = () => undefined
  const { findByRole, findByText, queryByText } = show(<Box />, {
    answers: {
      keepPicture: () =>
        new Promise((resolve) => {
          answer = () => resolve({ pictureId: 'p1', path: 'pictures/EMB/p1', name: 'pan[el].png' })
        }),
    },
  })
  const box = (await findByRole('textbox', { name: 'Words' })) as HTMLTextAreaElement
  box.setSelectionRange(7, 7)
  const file = new File([new Uint8Array([1, 2, 3])], 'panel.png', { type: 'image/png' })
  fireEvent.paste(box, { clipboardData: { files: [file, new File(['x'], 'x.txt', { type: 'text/plain' })] } })
  await findByText(/sending/)
  fireEvent.change(box, { target: { value: 'before after, and more' } })
  box.setSelectionRange(7, 7)
  await act(async () => answer())
  await waitFor(() => expect(box.value).toBe('before \n![panel](pictures/EMB/p1)\nafter, and more'))
  expect(queryByText(/sending/)).toBeNull()
})
