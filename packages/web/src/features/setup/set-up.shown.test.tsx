import { describe, expect, jest, test } from '@jest/globals'
import { ITEM_TYPES } from '@dystracer/core/setup/item-type'
import { aMe, aSetup } from '#shared/test/a-me'
import { show } from '#shared/test/shown'
import { Milestones } from './Milestones'
import { OwnFields } from './OwnFields'
import type { Part, Remove, Save } from './part'
import { Types } from './Types'

/** A part of the set-up, with what it saved; saving succeeds unless told otherwise. */
function aPart(given: Partial<Part['setup']> = {}, isSaved = true) {
  const save = jest.fn(async (..._what: Parameters<Save>) => isSaved)
  const remove: Remove = async () => {}
  const part: Part = { setup: aSetup(given), canEdit: true, save, remove }
  return { part, save }
}
const answers = { readMe: () => aMe() }

describe('own fields', () => {
  test('are added by name and kind, with an id made of the name; values only where the kind has some', async () => {
    const { part, save } = aPart()
    const { user, getByRole, getByLabelText, queryByLabelText } = show(<OwnFields {...part} />, { answers })
    const add = getByRole('button', { name: 'Add the field' }) as HTMLButtonElement
    expect(add.disabled).toBe(true)
    await user.type(getByLabelText('Name'), 'Tür Süd')
    expect(queryByLabelText('Values, with commas')).toBeNull()
    await user.selectOptions(getByLabelText('Kind'), 'one of')
    await user.type(getByLabelText('Values, with commas'), 'left, right,, ')
    await user.click(add)
    expect(save).toHaveBeenCalledWith(
      'defineOwnField',
      { fieldId: 'tur-sud', name: 'Tür Süd', kind: 'one-of', choices: ['left', 'right'], position: 0 },
      'The field Tür Süd is there',
    )
    expect((getByLabelText('Name') as HTMLInputElement).value).toBe('')
  })

  test('keep what was typed where they are refused', async () => {
    const { part } = aPart({}, false)
    const { user, getByRole, getByLabelText } = show(<OwnFields {...part} />, { answers })
    await user.type(getByLabelText('Name'), 'Door')
    await user.click(getByRole('button', { name: 'Add the field' }))
    expect((getByLabelText('Name') as HTMLInputElement).value).toBe('Door')
  })
})

describe('milestones', () => {
  test('are added by a name, without the spaces around it', async () => {
    const { part, save } = aPart()
    const { user, getByRole } = show(<Milestones {...part} />, { answers })
    await user.type(getByRole('textbox', { name: 'New milestone' }), '  4.3 {Enter}')
    expect(save).toHaveBeenCalledWith('setMilestone', { milestone: { name: '4.3' } }, 'The milestone 4.3 is there')
    expect((getByRole('button', { name: 'Add the milestone' }) as HTMLButtonElement).disabled).toBe(true)
  })
})

describe('types', () => {
  test('are added, and the new one is shown', async () => {
    const { part, save } = aPart()
    const { user, getByRole, getByLabelText } = show(<Types {...part} />, { answers })
    await user.type(getByLabelText('New type'), 'question')
    await user.click(getByRole('button', { name: 'Add' }))
    expect(save).toHaveBeenCalledWith('defineType', { type: 'question', position: part.setup.types.length }, 'The type question is there')
  })

  test('keep what of them was changed: use of fields, template, and whether they are about something broken', async () => {
    const { part, save } = aPart()
    const [type = ''] = ITEM_TYPES
    const { user, getByRole, getByLabelText } = show(<Types {...part} />, { answers })
    const form = getByRole('form', { name: `Type ${type}` })
    expect(form).toBeTruthy()
    await user.click(getByLabelText('is about something broken'))
    await user.type(getByLabelText('Template: what a new one begins with'), 'Steps:')
    await user.selectOptions(getByLabelText(new RegExp(`^severity of ${type}`, 'i')), 'required')
    await user.click(getByRole('button', { name: `Save ${type}` }))
    const [, saved] = save.mock.calls.at(-1) as unknown as [string, (typeof part.setup.types)[number]]
    const before = part.setup.types.find((each) => each.type === type)
    expect(saved.isDefect).toBe(!before?.isDefect)
    expect(saved.template.description).toBe(`${before?.template.description ?? ''}Steps:`)
    expect(Object.values(saved.fields)).toContain('required')
  })
})
