import { element, type XmlElement } from '#text/xml-tree'
import type { AttributeDefinition, AttributeKind } from '../attributes.js'
import type { Role } from './document.js'
import type { ObjectType, TypeAttribute } from './types.js'

/** Begins every identifier that is made here. */
export const OWN = 'dystracer-'

const EPOCH = new Date(0).toISOString()
const FORMS: Readonly<Record<AttributeKind, string>> = {
  line: 'STRING',
  prose: 'XHTML',
  number: 'REAL',
  date: 'DATE',
  'yes-no': 'BOOLEAN',
  choice: 'ENUMERATION',
}
const FIXED: readonly { role: Role; name: string; kind: AttributeKind }[] = [
  { role: 'key', name: 'ReqIF.ForeignID', kind: 'line' },
  { role: 'chapter', name: 'ReqIF.ChapterName', kind: 'line' },
  { role: 'title', name: 'ReqIF.Name', kind: 'line' },
  { role: 'text', name: 'ReqIF.Text', kind: 'prose' },
]

/** The types of what was begun here. Identifiers follow from names, so that a file of the same state is the same file. */
export class OwnTypes {
  /** Headings are of this type, too: they say their chapter. */
  readonly type: ObjectType

  constructor(private readonly attributes: readonly AttributeDefinition[]) {
    const id = `${OWN}requirement`
    this.type = {
      id,
      name: 'Requirement',
      attributes: [
        ...FIXED.map(({ role, name, kind }) => made(id, { role, name, kind })),
        ...attributes.map((one) => made(id, { role: 'attribute', ...one })),
      ],
    }
  }

  /** An attribute that a type of another file is to have beside its own; undefined for one that the project does not know. */
  attributeFor(typeId: string, role: Role, name: string): TypeAttribute | undefined {
    const fixed = FIXED.find((one) => one.role === role)
    const attribute = fixed ?? this.attributes.find((one) => one.name === name)
    return attribute && made(typeId, { ...attribute, role })
  }

  /** The words of a choice that was made here, identifier to word. */
  wordsOf(datatype: string): Map<string, string> | undefined {
    const attribute = this.attributes.find((one) => one.kind === 'choice' && datatype === datatypeOf(one))
    return attribute && new Map(attribute.choices.map((word) => [`${datatype}-${slug(word)}`, word]))
  }

  /** What an attribute is, as an element of its type. */
  definition({ id, name, form, datatype, isMany }: TypeAttribute): XmlElement {
    return element(
      `ATTRIBUTE-DEFINITION-${form}`,
      { IDENTIFIER: id, 'LAST-CHANGE': EPOCH, 'LONG-NAME': name, ...(form === 'ENUMERATION' && { 'MULTI-VALUED': String(isMany) }) },
      [element('TYPE', {}, [element(`DATATYPE-DEFINITION-${form}-REF`, {}, [datatype])])],
    )
  }

  datatypes(): XmlElement[] {
    const plain = (form: string, further: Record<string, string> = {}) =>
      element(`DATATYPE-DEFINITION-${form}`, {
        IDENTIFIER: `${OWN}type-${form}`,
        'LAST-CHANGE': EPOCH,
        'LONG-NAME': form.toLowerCase(),
        ...further,
      })
    return [
      plain('STRING', { 'MAX-LENGTH': '20000' }),
      plain('XHTML'),
      plain('REAL', { ACCURACY: '15', MAX: '1.0E300', MIN: '-1.0E300' }),
      plain('DATE'),
      plain('BOOLEAN'),
      ...this.attributes
        .filter(({ kind }) => kind === 'choice')
        .map((one) =>
          element('DATATYPE-DEFINITION-ENUMERATION', { IDENTIFIER: datatypeOf(one), 'LAST-CHANGE': EPOCH, 'LONG-NAME': one.name }, [
            element(
              'SPECIFIED-VALUES',
              {},
              one.choices.map((word, at) =>
                element('ENUM-VALUE', { IDENTIFIER: `${datatypeOf(one)}-${slug(word)}`, 'LAST-CHANGE': EPOCH, 'LONG-NAME': word }, [
                  element('PROPERTIES', {}, [element('EMBEDDED-VALUE', { KEY: String(at), 'OTHER-CONTENT': '' })]),
                ]),
              ),
            ),
          ]),
        ),
    ]
  }

  types(relationNames: Iterable<string>): XmlElement[] {
    const named = (tag: string, id: string, name: string, children: XmlElement[] = []) =>
      element(tag, { IDENTIFIER: id, 'LAST-CHANGE': EPOCH, 'LONG-NAME': name }, children)
    return [
      named('SPEC-OBJECT-TYPE', this.type.id, this.type.name, [
        element(
          'SPEC-ATTRIBUTES',
          {},
          this.type.attributes.map((one) => this.definition(one)),
        ),
      ]),
      named('SPECIFICATION-TYPE', `${OWN}document`, 'Document'),
      ...[...relationNames].map((name) => named('SPEC-RELATION-TYPE', relationTypeOf(name), name)),
    ]
  }
}

function made(
  typeId: string,
  { role, name, kind, isMany = false }: { role: Role; name: string; kind: AttributeKind; isMany?: boolean },
): TypeAttribute {
  const form = FORMS[kind]
  const id = `${typeId.startsWith(OWN) ? typeId : `${OWN}${typeId}`}-${slug(name)}`
  const datatype = kind === 'choice' ? datatypeOf({ name }) : `${OWN}type-${form}`
  return { id, name, attribute: name, role, form, kind, isMany, datatype }
}

/** The type of relations of one name. */
export function relationTypeOf(name: string): string {
  return `${OWN}relation-${slug(name)}`
}

function datatypeOf({ name }: { name: string }): string {
  return `${OWN}choice-${slug(name)}`
}

/** Letters and digits stay, everything else becomes its number: two names never give one identifier. */
function slug(name: string): string {
  return name.replace(/[^A-Za-z0-9]/g, (sign) => (sign === ' ' ? '_' : `.${(sign.codePointAt(0) ?? 0).toString(16)}.`))
}
