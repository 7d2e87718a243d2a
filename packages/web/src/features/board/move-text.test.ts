import { describe, expect, test } from '@jest/globals'
import { boardMove } from '@dystracer/core/board/board'
import { STAGES } from '@dystracer/core/ladder/ladder'
import { anItem } from '#shared/test/an-item'
import { moveText, refusalText } from './move-text'

describe('a move on the board', () => {
  test.each([
    ['owner', 'mara', 'EMB-1 stands under “there” now'],
    ['labels', 'night', 'EMB-1 stands under “there” now'],
    ['stage', 'accepted', 'EMB-1 is accepted'],
    ['stage', 'merged', 'EMB-1: merged is claimed, until evidence shows it'],
    ['stage', 'verified', 'EMB-1 is verified'],
  ] as const)('of %s to %j is told as %j', (field, value, told) => {
    const item = anItem({ ownerId: 'tam' })
    expect(moveText(item, 'there', boardMove(item, field, value, []))).toBe(told)
  })

  test('that is refused says what is missing, or why no hand does it', () => {
    const needs = boardMove(anItem(), 'stage', 'accepted', [{ stage: 'accepted', needs: ['owner', 'milestone'] }])
    expect(needs.kind === 'refused' && refusalText(anItem(), needs)).toBe('EMB-1 needs an owner and a milestone first')
    const merged = anItem({ stage: 'merged', stair: 'pppppww' })
    const back = boardMove(merged, 'stage', 'accepted', [])
    expect(back.kind === 'refused' && refusalText(merged, back)).toBe('EMB-1 has come further by evidence: no hand takes that back')
    const rejected = anItem({ disposition: 'deferred' })
    const again = boardMove(rejected, 'stage', 'accepted', [])
    expect(again.kind === 'refused' && refusalText(rejected, again)).toBe('EMB-1 is rejected: open it again first')
  })

  test('from any stage to any other is told or refused in words', () => {
    for (const from of STAGES)
      for (const to of STAGES) {
        const item = anItem({ stage: from })
        const move = boardMove(item, 'stage', to, [])
        const words = move.kind === 'refused' ? refusalText(item, move) : move.kind === 'none' ? '' : moveText(item, to, move)
        expect(words).not.toContain('undefined')
        expect(words === '').toBe(from === to)
      }
  })
})
