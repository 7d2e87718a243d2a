import { expect, test } from '@jest/globals'
import type { ScrubRule } from '@dystracer/core/faults/services-wire'
import { waitFor } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { show } from '#shared/test/shown'
import { ScrubRules } from './ScrubRules'

/** A server that keeps the rules that it is told. */
function aServer(isLead = true) {
  let rows: ScrubRule[] = [{ ruleId: '1', kind: 'attribute', pattern: 'studio.door_code', name: 'removed' }]
  return {
    readMe: () => (isLead ? aMe() : aMe({ person: { personId: 'wren', name: 'Wren Abara', initials: 'WA', role: 'reader' } })),
    listScrubRules: () => ({ rows }),
    addScrubRule: ({ body }: { body: Omit<ScrubRule, 'ruleId'> }) => {
      rows = [...rows, { ...body, ruleId: String(rows.length + 1) }]
      return { rows }
    },
    removeScrubRule: ({ params }: { params: Record<string, string> }) => {
      rows = rows.filter((rule) => rule.ruleId !== params.ruleId)
      return { rows }
    },
    tryScrub: ({ body }: { body: { text: string } }) => ({ text: body.text.replace(/MEMBER-\d+/, '[member number]') }),
  }
}

test('a lead takes more out, tries it on a text, and lets something stand again', async () => {
  const { user, findByRole, findByText, getByLabelText, getByRole, queryByText, bodiesOf } = show(<ScrubRules />, { answers: aServer() })
  const add = (await findByRole('button', { name: 'Take it out' })) as HTMLButtonElement
  expect(add.disabled).toBe(true)
  await findByText('studio.door_code')
  await user.type(getByLabelText('Pattern (RE2)'), 'MEMBER-\\d+')
  await user.type(getByLabelText('What stands there instead'), ' member number ')
  await user.click(add)
  await findByText('MEMBER-\\d+')
  expect(bodiesOf('addScrubRule')).toEqual([{ kind: 'text', pattern: 'MEMBER-\\d+', name: 'member number' }])
  await user.type(getByLabelText('Try a text'), 'MEMBER-7 fired{Enter}')
  await findByText('[member number] fired')
  await user.click(getByRole('button', { name: 'Remove the rule studio.door_code' }))
  await waitFor(() => expect(queryByText('studio.door_code')).toBeNull())
  await findByText('MEMBER-\\d+')
})

test('an attribute has no word that stands for it; a reader changes nothing, and may try', async () => {
  const lead = show(<ScrubRules />, { answers: aServer() })
  await lead.findByText('studio.door_code')
  await lead.user.selectOptions(lead.getByLabelText('Take out'), 'the attribute of this name')
  expect(lead.queryByLabelText('What stands there instead')).toBeNull()
  await lead.user.type(lead.getByLabelText('Name'), 'user.phone{Enter}')
  await lead.findByText('user.phone')
  expect(lead.bodiesOf('addScrubRule')).toEqual([{ kind: 'attribute', pattern: 'user.phone', name: 'removed' }])
  lead.unmount()
  const reader = show(<ScrubRules />, { answers: aServer(false) })
  await reader.findByText('studio.door_code')
  expect(reader.queryByRole('button', { name: 'Take it out' })).toBeNull()
  expect(reader.queryByRole('button', { name: /^Remove the rule/ })).toBeNull()
  reader.getByRole('button', { name: 'Try' })
})
