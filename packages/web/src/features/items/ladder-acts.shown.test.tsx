import { describe, expect, test } from '@jest/globals'
import type { Tread } from '@dystracer/core/ladder/ladder'
import { waitFor } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { aDetail } from '#shared/test/an-item'
import { show, type Answers } from '#shared/test/shown'
import { ClaimActs, UnaffectedActs } from './LadderActs'

const line = (code: 'fix-on-main' | 'fix-not-on-main' | 'repository-unaffected', repository: string): Tread['evidence'][number] => ({
  code,
  ref: null,
  atMs: null,
  by: null,
  facts: { repository, patches: 1, patchesOnMain: 0 },
})
const tread: Tread = {
  stage: 'merged',
  state: 'partial',
  evidence: [line('fix-on-main', 'kiln'), line('fix-not-on-main', 'planner'), line('repository-unaffected', 'glaze')],
}
const item = aDetail({ key: 'EMB-7' })
const lead = aMe()
const member = aMe({ person: { personId: 'rafe', name: 'Rafe Lindqvist', initials: 'RL', role: 'member' } })

describe('a repository that needs nothing of the fix', () => {
  const answers: Answers = { readMe: () => lead, declareUnaffected: () => item }

  test('is declared with a reason, and only where the fix is not whole', async () => {
    const { user, findByRole, queryByRole, getByRole, bodiesOf } = show(<UnaffectedActs item={item} tread={tread} />, { answers })
    await user.click(await findByRole('button', { name: 'planner needs nothing of it…' }))
    expect(queryByRole('button', { name: /kiln needs/ })).toBeNull()
    await user.click(getByRole('button', { name: 'It needs nothing' }))
    expect(bodiesOf('declareUnaffected')).toEqual([])
    await user.type(getByRole('textbox', { name: /^Why/ }), 'It has no relay')
    await user.click(getByRole('button', { name: 'It needs nothing' }))
    await waitFor(() => expect(queryByRole('dialog')).toBeNull())
    expect(bodiesOf('declareUnaffected')).toEqual([{ repository: 'planner', words: 'It has no relay' }])
  })

  test('is taken back by a click', async () => {
    const { user, findByRole, bodiesOf } = show(<UnaffectedActs item={item} tread={tread} />, { answers })
    await user.click(await findByRole('button', { name: 'glaze needs it after all' }))
    expect(bodiesOf('declareUnaffected')).toEqual([{ repository: 'glaze', words: null }])
  })

  test('is nothing that a member declares, nor something of another stage', async () => {
    const { findByText, queryByRole } = show(
      <>
        <p>here</p>
        <UnaffectedActs item={item} tread={tread} />
      </>,
      { answers: { readMe: () => member } },
    )
    await findByText('here')
    expect(queryByRole('button')).toBeNull()
    const other = show(<UnaffectedActs item={item} tread={{ ...tread, stage: 'released' }} />, { answers })
    expect(other.queryByRole('button')).toBeNull()
  })
})

describe('a claim', () => {
  const claimed = (by: string) =>
    aDetail({
      key: 'EMB-7',
      ladder: {
        ...item.ladder,
        treads: item.ladder.treads.map((each) =>
          each.stage === 'merged'
            ? { ...each, state: 'claimed', evidence: [{ code: 'claimed-by', ref: null, atMs: 1, by, facts: {} }] }
            : each,
        ),
      },
    })

  test('is stood for by a lead, with a reason', async () => {
    const answers: Answers = { readMe: () => lead, acceptClaim: () => item }
    const { user, findByRole, getByRole, queryByRole, bodiesOf } = show(<ClaimActs item={claimed('person:rafe')} stage="merged" />, {
      answers,
    })
    await user.click(await findByRole('button', { name: 'accept it… merged' }))
    await user.type(getByRole('textbox', { name: /^Why/ }), '  I hold it in my hands ')
    await user.click(getByRole('dialog').querySelector('button[type=submit]') as HTMLButtonElement)
    await waitFor(() => expect(queryByRole('dialog')).toBeNull())
    expect(bodiesOf('acceptClaim')).toEqual([{ stage: 'merged', words: 'I hold it in my hands' }])
  })

  test('is taken back by whoever made it, and by no other member', async () => {
    const answers: Answers = { readMe: () => member, takeBackClaim: () => item }
    const own = show(<ClaimActs item={claimed('person:rafe')} stage="merged" />, { answers })
    await own.user.click(await own.findByRole('button', { name: 'take it back: merged' }))
    expect(own.bodiesOf('takeBackClaim')).toEqual([{ stage: 'merged' }])
    expect(own.queryByRole('button', { name: /accept it/ })).toBeNull()
    own.unmount()
    const others = show(<ClaimActs item={claimed('person:ines')} stage="merged" />, { answers })
    await waitFor(() => expect(others.asked.some(({ name }) => name === 'readMe')).toBe(true))
    expect(others.queryByRole('button')).toBeNull()
  })
})
