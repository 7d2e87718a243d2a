import { afterEach, describe, expect, test } from '@jest/globals'
import type { Answer } from '#shared/lib/api'
import { fireEvent, waitFor, within } from '@testing-library/react'
import { useState } from 'react'
import { toast, Toaster } from 'sonner'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { AttachmentList } from './AttachmentList'
import { FilePicker } from './FilePicker'

type Row = Answer<'listAttachments'>['rows'][number]
const aFile = (given: Partial<Row> = {}): Row => ({
  attachmentId: 'a1',
  name: 'firing.log',
  mediaType: 'text/plain',
  sizeBytes: 12_400,
  hasThumbnail: false,
  by: 'person:rafe',
  atMs: 1_770_000_000_000,
  ...given,
})
const files = (rows: Row[], answers: Answers = {}) =>
  show(
    <>
      <AttachmentList itemKey="EMB-7" />
      <Toaster />
    </>,
    { answers: { readMe: () => aMe(), listAttachments: () => ({ rows }), ...answers }, at: '/items/item~EMB-7' },
  )
const wren = aMe({ person: { personId: 'wren', name: 'Wren Abara', initials: 'WA', role: 'reader' } })
afterEach(() => void toast.dismiss())

/** A form into which files are chosen. */
function Picked() {
  const [chosen, setChosen] = useState<File[]>([])
  return <FilePicker files={chosen} onChange={setChosen} />
}

describe('the files of an item', () => {
  test('are taken along by name, and pictures are shown small', async () => {
    const { findByRole, container } = files([aFile(), aFile({ attachmentId: 'a2', name: 'panel.png', hasThumbnail: true })])
    const link = await findByRole('link', { name: 'firing.log' })
    expect(link.getAttribute('href')).toBe('/api/v1/items/EMB-7/attachments/a1/file')
    expect(link.getAttribute('download')).toBe('firing.log')
    expect(container.textContent).toContain('12 KB')
    await findByRole('button', { name: 'Show panel.png' })
    expect(container.querySelector('img')?.getAttribute('src')).toBe('/api/v1/items/EMB-7/attachments/a2/thumbnail')
  })

  test('are removed one by one; refused, it says why and the file stays', async () => {
    const { user, findByRole, findByText, asked } = files([aFile()], {
      removeAttachment: () => ({ refused: 'not-allowed', detail: 'Rafe attached it.' }),
    })
    await user.click(await findByRole('button', { name: 'Remove firing.log' }))
    await findByText(/Rafe attached it/)
    await findByRole('link', { name: 'firing.log' })
    expect(asked.find(({ name }) => name === 'removeAttachment')?.params).toEqual({ key: 'EMB-7', attachmentId: 'a1' })
  })

  test('are read by who may not write; where there are none, nothing is there', async () => {
    const first = files([aFile()], { readMe: () => wren })
    await first.findByRole('link', { name: 'firing.log' })
    await waitFor(() => expect(first.queryByRole('button')).toBeNull())
    first.unmount()
    const { container, asked } = files([], { readMe: () => wren })
    await waitFor(() => expect(asked.some(({ name }) => name === 'listAttachments')).toBe(true))
    await waitFor(() => expect(within(container).queryByRole('region', { name: 'Files' })).toBeNull())
  })
})

describe('files that are to go along', () => {
  const a = new File(['a'], 'a.txt')
  const b = new File(['b'], 'b.txt')

  test('are chosen, dropped beside those, and left out again', async () => {
    const { user, getByLabelText, getByRole, findByText, queryByText } = show(<Picked />)
    await user.upload(getByLabelText('Add files'), a)
    fireEvent.drop(getByRole('region', { name: 'Files to send along' }), { dataTransfer: { files: [b] } })
    await findByText('a.txt')
    await findByText('b.txt')
    await user.click(getByRole('button', { name: 'Leave a.txt out' }))
    expect(queryByText('a.txt')).toBeNull()
    await findByText('b.txt')
  })
})
