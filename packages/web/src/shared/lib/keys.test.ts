import { describe, expect, test } from '@jest/globals'
import { actionOf, allowSingleKeys, footLineOf, KEY_PLACES, linesOf, type KeyPlace } from './keys'

const pressed = (key: string, more: object = {}) => ({ key, altKey: false, ctrlKey: false, metaKey: false, shiftKey: false, ...more })
const places = Object.keys(KEY_PLACES) as KeyPlace[]

describe('the keys', () => {
  test.each(places)('no chord does two things: %s', (place) => {
    const chords = linesOf(place).flatMap(([, line]) => line.chords)
    expect(new Set(chords).size).toBe(chords.length)
  })

  test('a place never takes a key that works everywhere', () => {
    const everywhere = new Set(linesOf('everywhere').flatMap(([, line]) => line.chords))
    for (const place of places.filter((name) => name !== 'everywhere'))
      for (const [, line] of linesOf(place)) for (const chord of line.chords) expect(everywhere.has(chord)).toBe(false)
  })

  test('a chord holds its modifiers; Shift is part of a letter', () => {
    expect(actionOf('triage', pressed('s'))).toBe('sameAs')
    expect(actionOf('triage', pressed('S', { shiftKey: true }))).toBe('sameAsFirst')
    expect(actionOf('items', pressed('ArrowDown', { shiftKey: true }))).toBe('extend')
    expect(actionOf('items', pressed('e', { ctrlKey: true }))).toBeNull()
    expect(actionOf('everywhere', pressed('z', { metaKey: true }))).toBe('undo')
    expect(actionOf('everywhere', pressed('?', { shiftKey: true }))).toBe('help')
  })

  test('are off, and out of the foot line, where single keys are switched off; keys with a name and chords are not', () => {
    allowSingleKeys(false)
    try {
      expect(actionOf('triage', pressed('1'))).toBeNull()
      expect(actionOf('everywhere', pressed('/'))).toBeNull()
      expect(actionOf('everywhere', pressed('k', { ctrlKey: true }))).toBe('find')
      expect(actionOf('items', pressed(' '))).toBe('choose')
      expect(actionOf('items', pressed('F2'))).toBe('edit')
      expect(footLineOf('triage')).not.toMatch(/1–5|same as|ask/)
    } finally {
      allowSingleKeys(true)
    }
    expect(footLineOf('triage')).toContain('1–5')
  })

  test('the foot line names the place’s keys once, and those of panes elsewhere', () => {
    expect(footLineOf('inbox')).toBe('↑↓ rows   ←→ panes   ↵ open   e read   l later   / find   ? keys')
    expect(footLineOf('outline')).not.toContain('panes')
    expect(footLineOf('releases')).toBe('↑↓ rows   ←→ panes   ↵ open   ⌫ close   / find   ? keys')
  })
})
