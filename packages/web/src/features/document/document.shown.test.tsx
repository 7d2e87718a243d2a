import { describe, expect, test } from '@jest/globals'
import type { Requirement } from '@dystracer/core/requirements/wire'
import { fireEvent, waitFor } from '@testing-library/react'
import { usePeople } from '#features/people/index'
import { aMe } from '#shared/test/a-me'
import { aRequirement } from '#shared/test/a-requirement'
import { show, type Answers } from '#shared/test/shown'
import { RequirementDocument } from './RequirementDocument'

const row = (key: string, text: string, given: Partial<Requirement> = {}): Requirement => ({
  key,
  title: text.slice(0, 20),
  text,
  parent: 'SAF-1',
  isHeading: false,
  isRetired: false,
  revision: 1,
  implementedBy: 1,
  brokenBy: [],
  tests: 1,
  failingTests: 0,
  suspects: 0,
  ...given,
})
const ROWS = [
  row('SAF-1', '', { title: 'Doors', isHeading: true, parent: null }),
  row('SAF-2', 'The door locks. It tells why.'),
  row('SAF-3', 'The door is warm.'),
  row('SAF-4', 'The door shines.'),
]
const detail = aRequirement({ key: 'SAF-9' })
/** Stands there once it is known who looks: before that nobody may write. */
function Ready() {
  return usePeople().me ? <p>ready</p> : null
}
function shown(answers: Answers = {}, rows = ROWS) {
  const page = show(
    <>
      <RequirementDocument rows={rows} />
      <Ready />
    </>,
    { at: '/requirements', answers: { readMe: () => aMe(), listRequirements: () => ({ rows }), ...answers } },
  )
  const sentence = (key: string) => {
    const found = page.container.querySelector<HTMLElement>(`[data-sentence="${key}"]`)
    if (!found) throw new Error(`no sentence ${key}`)
    return found
  }
  /** Presses a key on a sentence, as soon as it is known who may write, and waits for what comes of it. */
  const press = async (key: string, pressed: Parameters<typeof fireEvent.keyDown>[1] & object, until: () => unknown) => {
    await page.findByText('ready')
    sentence(key).focus()
    fireEvent.keyDown(sentence(key), pressed)
    await waitFor(until)
  }
  return { ...page, sentence, press }
}

describe('the keys of the document', () => {
  test('put a sentence below the one before it, out again, and among its neighbours', async () => {
    const page = shown({ placeRequirement: () => ({ refused: 'conflict', detail: 'Moved meanwhile.' }) })
    const bodies = () => page.bodiesOf('placeRequirement')
    await page.press('SAF-3', { key: 'ArrowRight', altKey: true }, () => expect(bodies()).toContainEqual({ parent: 'SAF-2', before: null }))
    await page.press('SAF-3', { key: 'ArrowLeft', altKey: true }, () => expect(bodies()).toContainEqual({ parent: null, before: null }))
    await page.press('SAF-3', { key: 'ArrowUp', altKey: true }, () => expect(bodies()).toContainEqual({ parent: 'SAF-1', before: 'SAF-2' }))
    await page.press('SAF-3', { key: 'ArrowDown', altKey: true }, () => expect(bodies()).toContainEqual({ parent: 'SAF-1', before: null }))
    const count = bodies().length
    page.sentence('SAF-2').focus()
    fireEvent.keyDown(page.sentence('SAF-2'), { key: 'ArrowRight', altKey: true })
    expect(bodies()).toHaveLength(count)
  })

  test('are reckoned from where things stand after the move before, however quickly they come', async () => {
    let answer = (): void => undefined
    const page = shown({
      placeRequirement: () =>
        new Promise((resolve) => {
          answer = () => resolve(detail)
        }),
    })
    const bodies = () => page.bodiesOf('placeRequirement')
    await page.press('SAF-3', { key: 'ArrowRight', altKey: true }, () => expect(bodies()).toHaveLength(1))
    fireEvent.keyDown(page.sentence('SAF-3'), { key: 'ArrowLeft', altKey: true })
    answer()
    // The page has not read the document anew: the second waits for that.
    await new Promise((resolve) => setTimeout(resolve, 50))
    expect(bodies()).toEqual([{ parent: 'SAF-2', before: null }])
  })

  test('write a sentence in place, which is kept or left as it was', async () => {
    const page = shown({ writeRequirement: () => detail })
    await page.press('SAF-3', { key: 'e' }, () => page.getByLabelText('Its text'))
    const area = page.getByLabelText('Its text') as HTMLTextAreaElement
    expect(area.value).toBe('The door is warm.')
    await page.user.type(area, ' It shall stay so.')
    fireEvent.keyDown(area, { key: 'Enter', ctrlKey: true })
    await waitFor(() =>
      expect(page.bodiesOf('writeRequirement')).toMatchObject([
        { title: 'The door is warm.', text: 'The door is warm. It shall stay so.' },
      ]),
    )
    await waitFor(() => expect(page.queryByLabelText('Its text')).toBeNull())
    expect(document.activeElement).toBe(page.sentence('SAF-3'))
    await page.press('SAF-3', { key: 'e' }, () => page.getByLabelText('Its text'))
    fireEvent.keyDown(page.getByLabelText('Its text'), { key: 'Escape' })
    await waitFor(() => expect(page.queryByLabelText('Its text')).toBeNull())
    expect(page.bodiesOf('writeRequirement')).toHaveLength(1)
  })

  test('write one behind another, and one more behind that', async () => {
    const rows = [...ROWS, row('SAF-9', 'New.')]
    const page = shown({ beginRequirement: () => detail }, rows)
    await page.press('SAF-2', { key: 'n' }, () => page.getByLabelText('A new requirement'))
    await page.user.type(page.getByLabelText('A new requirement'), 'The hinge holds 40 kg. Always.')
    fireEvent.keyDown(page.getByLabelText('A new requirement'), { key: 'Enter', ctrlKey: true, shiftKey: true })
    await waitFor(() =>
      expect(page.bodiesOf('beginRequirement')).toMatchObject([
        { prefix: 'SAF', title: 'The hinge holds 40 kg', text: 'The hinge holds 40 kg. Always.', after: 'SAF-2' },
      ]),
    )
    await page.findByRole('form', { name: 'New behind SAF-9' })
  })

  test('make two of one at the cursor, and one of two; what was refused stays written', async () => {
    const page = shown({
      splitRequirement: () => ({ refused: 'changed-meanwhile', detail: 'SAF-2 is at revision 2 by now.' }),
      joinRequirement: () => detail,
    })
    await page.press('SAF-2', { key: 'e' }, () => page.getByLabelText('Its text'))
    const area = page.getByLabelText('Its text') as HTMLTextAreaElement
    area.setSelectionRange(15, 15)
    fireEvent.keyDown(area, { key: 'Enter', altKey: true })
    await page.findByText('SAF-2 is at revision 2 by now.')
    expect(page.bodiesOf('splitRequirement')).toEqual([{ text: 'The door locks.', rest: 'It tells why.', revision: 1 }])
    expect(area.value).toBe('The door locks. It tells why.')
    fireEvent.keyDown(area, { key: 'Escape' })
    await page.press('SAF-3', { key: 'e' }, () => page.getByLabelText('Its text'))
    await page.user.click(page.getByRole('button', { name: 'join to SAF-2' }))
    await waitFor(() => expect(page.bodiesOf('joinRequirement')).toEqual([{ to: 'SAF-2', revision: 1, toRevision: 1 }]))
  })

  test('are of no use to a reader, who walks by the arrows alone', async () => {
    const page = shown({ readMe: () => aMe({ person: { personId: 'wren', name: 'Wren Abara', initials: 'WA', role: 'reader' } }) })
    await page.findByText('ready')
    page.sentence('SAF-2').focus()
    fireEvent.keyDown(page.sentence('SAF-2'), { key: 'e' })
    fireEvent.keyDown(page.sentence('SAF-2'), { key: 'ArrowDown' })
    await waitFor(() => expect(document.activeElement).toBe(page.sentence('SAF-3')))
    expect(page.queryByLabelText('Its text')).toBeNull()
  })
})
