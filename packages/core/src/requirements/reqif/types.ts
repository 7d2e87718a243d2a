import { elementOf, elementsOf, localName, textOf, type XmlElement } from '#text/xml-tree'
import type { AttributeDefinition, AttributeKind } from '../attributes.js'
import { rolesOf, type Role } from './document.js'

/** An attribute of a type of objects. */
export interface TypeAttribute {
  id: string
  name: string
  /** Which attribute of a requirement it is; two types may give one name to two kinds. */
  attribute: string
  role: Role
  /** As the file calls it: STRING, XHTML, ENUMERATION … */
  form: string
  kind: AttributeKind
  isMany: boolean
  datatype: string
}
/** A type of objects or of specifications. */
export interface ObjectType {
  id: string
  name: string
  attributes: TypeAttribute[]
}
/** The types of a file and what its choices are called. */
export interface Types {
  types: Map<string, ObjectType>
  /** The words of a choice by datatype: identifier to word, in order. */
  words: Map<string, Map<string, string>>
  /** What the attributes of requirements are, over all types. */
  definitions: AttributeDefinition[]
}

const KINDS: Readonly<Record<string, AttributeKind>> = {
  STRING: 'line',
  XHTML: 'prose',
  INTEGER: 'number',
  REAL: 'number',
  DATE: 'date',
  BOOLEAN: 'yes-no',
  ENUMERATION: 'choice',
}

/**
 * Reads the types of an exchange file from its elements `DATATYPE-DEFINITION-…` and `SPEC-…-TYPE`; `names` says what an attribute is called
 * here, by the identifier of its definition.
 */
export function readTypes(
  datatypes: readonly XmlElement[],
  specTypes: readonly XmlElement[],
  names: Readonly<Record<string, string>> = {},
): Types {
  const words = new Map(
    datatypes
      .filter((datatype) => localName(datatype) === 'DATATYPE-DEFINITION-ENUMERATION')
      .map((datatype) => [datatype.attributes.IDENTIFIER ?? '', wordsOf(datatype)]),
  )
  const byName = new Map<string, AttributeDefinition>()
  const types = new Map<string, ObjectType>()
  for (const type of specTypes) {
    if (!['SPEC-OBJECT-TYPE', 'SPECIFICATION-TYPE'].includes(localName(type))) continue
    const id = type.attributes.IDENTIFIER ?? ''
    const name = type.attributes['LONG-NAME'] ?? ''
    const plain = elementsOf(elementOf(type, 'SPEC-ATTRIBUTES') ?? type).filter((one) => localName(one).startsWith('ATTRIBUTE-DEFINITION-'))
    const roles = rolesOf(plain.map(nameOf))
    const taken = new Set<string>()
    types.set(id, {
      id,
      name,
      attributes: plain.map((one, at) => {
        const form = localName(one).slice('ATTRIBUTE-DEFINITION-'.length)
        const datatype = textOf(elementsOf(elementOf(one, 'TYPE') ?? one)[0]).trim()
        const kind = KINDS[form] ?? 'line'
        const isMany = one.attributes['MULTI-VALUED'] === 'true'
        const role = roles[at] ?? 'attribute'
        const id = one.attributes.IDENTIFIER ?? ''
        const own = { name: names[id] ?? freeOf(nameOf(one), taken), kind, isMany, choices: [...(words.get(datatype)?.values() ?? [])] }
        return {
          id,
          name: nameOf(one),
          attribute: role === 'attribute' ? take(taken, define(byName, own, name)) : own.name,
          role,
          form,
          kind,
          isMany,
          datatype,
        }
      }),
    })
  }
  return { types, words, definitions: [...byName.values()] }
}

/** Two attributes of one type may have one name: the second is told apart by a number. */
function freeOf(name: string, taken: ReadonlySet<string>): string {
  let free = name
  for (let number = 2; taken.has(free); number++) free = `${name.slice(0, 90)} (${number})`
  return free
}

function take(taken: Set<string>, name: string): string {
  taken.add(name)
  return name
}

function nameOf(definition: XmlElement): string {
  return (definition.attributes['LONG-NAME'] || definition.attributes.IDENTIFIER || 'unnamed').trim().slice(0, 100)
}

/** The words of a choice; two of one name are told apart by their identifiers. */
function wordsOf(datatype: XmlElement): Map<string, string> {
  const words = new Map<string, string>()
  const taken = new Set<string>()
  for (const value of elementsOf(elementOf(datatype, 'SPECIFIED-VALUES') ?? datatype, 'ENUM-VALUE')) {
    const id = value.attributes.IDENTIFIER ?? ''
    const word = (value.attributes['LONG-NAME'] || id).trim().slice(0, 150)
    words.set(id, taken.has(word) ? `${word} (${id})`.slice(0, 200) : word)
    taken.add(word)
  }
  return words
}

/** Takes an attribute up among those of requirements: one name of one kind is one attribute, with the choices of all. Gives its name. */
function define(byName: Map<string, AttributeDefinition>, own: AttributeDefinition, type: string): string {
  const known = byName.get(own.name)
  if (known && known.kind !== own.kind) {
    const name = `${own.name} (${type || own.kind})`.slice(0, 100)
    return byName.get(name)?.kind === own.kind || !byName.has(name) ? define(byName, { ...own, name }, own.kind) : name
  }
  byName.set(own.name, {
    ...own,
    choices: [...new Set([...(known?.choices ?? []), ...own.choices])],
    isMany: own.isMany || (known?.isMany ?? false),
  })
  return own.name
}
