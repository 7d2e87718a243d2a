import { describe, expect, test } from '@jest/globals'
import { fireEvent } from '@testing-library/react'
import { parseDiff, type FileData } from 'react-diff-view'
import { show } from '#shared/test/shown'
import { DiffFile } from './DiffFile'

const [OLD, NEW, NONE] = ['a'.repeat(40), 'b'.repeat(40), '0'.repeat(40)]
const address = (blob: string) => `/api/v1/repositories/kiln/pictures/${blob}`
const binary = (name: string, before = OLD, after = NEW) =>
  fileOf(
    `diff --git a/${name} b/${name}\n${
      before === NONE ? 'new file mode 100644\n' : ''
    }index ${before}..${after}${before === NONE ? '' : ' 100644'}\nBinary files a/${name} and b/${name} differ\n`,
  )
const fileOf = (diff: string) => parseDiff(diff)[0] as FileData
const shown = (file: FileData) => show(<DiffFile file={file} repository="kiln" />)

describe('a picture that a change touched', () => {
  test('is shown before and after, over each other as far as one likes, or as what differs', async () => {
    const { user, getByRole, getByAltText, queryByAltText, getByLabelText } = shown(binary('docs/panel.png'))
    expect(getByAltText('docs/panel.png, before').getAttribute('src')).toBe(address(OLD))
    expect(getByAltText('docs/panel.png, after').getAttribute('src')).toBe(address(NEW))
    await user.click(getByRole('button', { name: 'over each other' }))
    const slider = getByLabelText('How much of the later one')
    fireEvent.change(slider, { target: { value: '80' } })
    expect(getByAltText('docs/panel.png, after').style.opacity).toBe('0.8')
    expect(slider.getAttribute('aria-valuetext')).toBe('80 % of the later one')
    await user.click(getByRole('button', { name: 'difference' }))
    expect(getByAltText('docs/panel.png, what differs after').style.mixBlendMode).toBe('difference')
    expect(getByRole('button', { name: 'difference' }).getAttribute('aria-pressed')).toBe('true')
    expect(queryByAltText('docs/panel.png, after')).toBeNull()
  })

  test('that is new stands alone; one that cannot be had is said to', () => {
    const { getByAltText, queryByRole, getByText } = shown(binary('new.png', NONE))
    const picture = getByAltText('new.png, new')
    expect(picture.getAttribute('src')).toBe(address(NEW))
    expect(queryByRole('toolbar')).toBeNull()
    fireEvent.error(picture)
    expect(getByText(/It cannot be shown/)).toBeTruthy()
  })

  test('says how large it is', () => {
    const { getByAltText, getByText } = shown(binary('docs/panel.png'))
    const picture = getByAltText('docs/panel.png, after')
    Object.defineProperties(picture, { naturalWidth: { value: 640 }, naturalHeight: { value: 480 } })
    fireEvent.load(picture)
    expect(getByText('640 × 480')).toBeTruthy()
  })

  test('of lines is a picture first, and its text when asked for', async () => {
    const diff =
      `diff --git a/icon.svg b/icon.svg\nindex ${OLD}..${NEW} 100644\n--- a/icon.svg\n+++ b/icon.svg\n` +
      `@@ -1,1 +1,1 @@\n-<svg width="1"/>\n+<svg width="2"/>\n`
    const { user, getByRole, getByAltText, findByText, container } = shown(fileOf(diff))
    expect(getByAltText('icon.svg, after')).toBeTruthy()
    await user.click(getByRole('button', { name: 'as text' }))
    expect(container.textContent).toContain('<svg width="2"/>')
    await user.click(getByRole('button', { name: 'as a picture' }))
    await findByText('before')
  })

  test('of lines that somebody remarked on is its text first', () => {
    const diff =
      `diff --git a/icon.svg b/icon.svg\nindex ${OLD}..${NEW} 100644\n--- a/icon.svg\n+++ b/icon.svg\n` +
      `@@ -1,1 +1,1 @@\n-<svg width="1"/>\n+<svg width="2"/>\n`
    const remarks = { I1: <p>Why wider?</p> }
    const { getByText, queryByRole } = show(<DiffFile file={fileOf(diff)} repository="kiln" widgets={remarks} />)
    expect(getByText('Why wider?')).toBeTruthy()
    expect(queryByRole('img')).toBeNull()
  })
})

test('what is no text and no picture is said to be neither', () => {
  const { getByText, queryByRole } = shown(binary('firmware.bin'))
  expect(getByText('It is no text; its content changed.')).toBeTruthy()
  expect(queryByRole('img')).toBeNull()
})
