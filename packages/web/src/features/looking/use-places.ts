import { BOARD_FIELDS, type BoardField } from '@dystracer/core/board/board'
import { ITEM_COLUMNS_SHOWN, type ItemColumn } from '@dystracer/core/looking/look'
import { GROUP_FIELDS, type GroupField } from '@dystracer/core/looking/orders'
import { ownFieldAt, type OwnField, type OwnPlace } from '@dystracer/core/setup/own-field'
import { usePeople } from '#features/people/index'
import { groupName } from './group-name'

const CAN_BE_COLUMNS: readonly OwnField['kind'][] = ['one-of', 'several-of', 'person']
const NONE: readonly OwnField[] = []

/**
 * What items can be told apart by in the project that one works in, as columns of a list, groups, and columns and lanes of a board: the
 * fields that every item has and the project's own, with their names and values.
 */
export function usePlaces() {
  const { me, nameOf } = usePeople()
  const ownFields: readonly OwnField[] = me?.setup.ownFields ?? NONE
  const at = (fields: readonly OwnField[]): OwnPlace[] => fields.map((field): OwnPlace => `own.${field.fieldId}`)
  const ownField = (place: string) => ownFields.find((field) => field.fieldId === ownFieldAt(place))
  const nameOfField = (place: string) => ownField(place)?.name ?? ownFieldAt(place) ?? place
  const choices = <Place extends string>(places: readonly Place[]) => places.map((value) => ({ value, label: nameOfField(value) }))
  return {
    ownFields,
    ownField,
    nameOfField,
    /** What a group, a column or a lane is called. */
    nameOfValue: (place: string, value: string) => groupName(place, value, nameOf, ownField(place)),
    /** All values that a field has in the project, also those that no item bears. */
    knownValues: (place: BoardField): readonly string[] => {
      const own = ownField(place)
      if (own && own.kind !== 'person') return own.choices
      if (!me) return []
      switch (own ? 'owner' : place) {
        case 'owner':
          return me.people.filter((person) => person.role !== null && person.role !== 'reader').map((person) => person.personId)
        case 'component':
          return me.components
        case 'milestone':
          return me.milestones
        case 'type':
          return me.setup.types.map((type) => type.type)
        case 'labels':
          return me.setup.labels.map((entry) => entry.label)
        default:
          return []
      }
    },
    columns: choices<ItemColumn>([...ITEM_COLUMNS_SHOWN, ...at(ownFields)]),
    groups: choices<GroupField>([...GROUP_FIELDS, ...at(ownFields)]),
    axes: choices<BoardField>([...BOARD_FIELDS, ...at(ownFields.filter((field) => CAN_BE_COLUMNS.includes(field.kind)))]),
  }
}
