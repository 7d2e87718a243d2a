import { groupBy } from '#basics/group-by'
import { element, elementOf, elementsOf, localName, printXml, readXml, textOf, type XmlElement } from '#text/xml-tree'
import { isSameValue, type AttributeDefinition, type AttributeValue } from '../attributes.js'
import { type StandingRequirement, titleFrom } from '../import-plan.js'
import { markdownToXhtml } from '../rich-text.js'
import type { KeptDocument, Origin, Role } from './document.js'
import { OwnTypes, OWN, relationTypeOf } from './own-types.js'
import { readTypes, type ObjectType, type TypeAttribute, type Types } from './types.js'

/** A requirement on its way out. */
export interface WrittenRequirement extends Omit<StandingRequirement, 'object'> {
  changedAtMs: number
  origin: Origin | null
}
/** A relation on its way out; `id` is that of the file where it came from one. */
export interface WrittenRelation {
  id: string
  name: string
  from: string
  to: string
}
/** All that a file says. */
export interface ReqifInput {
  title: string
  project: string
  /** In document order. */
  requirements: readonly WrittenRequirement[]
  relations: readonly WrittenRelation[]
  definitions: readonly AttributeDefinition[]
  /** What came in before, newest first. */
  documents: readonly KeptDocument[]
  nowMs: number
}

const NAMESPACE = 'http://www.omg.org/spec/ReqIF/20110401/reqif.xsd'

/**
 * The requirements of a project as a ReqIF 1.2 file. What came from such a file leaves with the identifiers, types and values that it had:
 * a value that nobody changed leaves as it came, and so do relations, groups, tool extensions and further
 * places. What was begun here has types of its own, whose identifiers follow from the names, so that two
 * files of one state are the same. Linear in what is written.
 */
export function writeReqif(input: ReqifInput): string {
  const objects = new Map(input.requirements.map((one) => [one.key, one.origin?.object ?? `dystracer-${one.key}`]))
  const used = new Set(input.requirements.flatMap(({ origin }) => origin?.document ?? []))
  const documents = input.documents.filter(({ id }) => used.has(id))
  const kept = {
    datatypes: unique(documents.flatMap((one) => one.datatypes.map(readXml))).filter(isForeign),
    types: unique(documents.flatMap((one) => one.types.map(readXml))).filter(isForeign),
  }
  const types = readTypes(kept.datatypes, kept.types, Object.assign({}, ...documents.toReversed().map((one) => one.names)))
  const own = new OwnTypes(input.definitions)
  const writer = new ObjectWriter({ types, own, typeElements: kept.types })
  const specObjects = input.requirements
    .filter((one) => one.origin?.kind !== 'specification')
    .map((one) => writer.object(one, objects.get(one.key) as string))
  const relations = relationsOf(input, documents, objects)
  const specifications = specificationsOf(input, { documents, objects, writer })
  const content = element('REQ-IF-CONTENT', {}, [
    element('DATATYPES', {}, [...kept.datatypes, ...own.datatypes()]),
    element('SPEC-TYPES', {}, [...kept.types, ...own.types(relations.names)]),
    element('SPEC-OBJECTS', {}, specObjects),
    element('SPEC-RELATIONS', {}, relations.elements),
    element('SPECIFICATIONS', {}, specifications),
    element('SPEC-RELATION-GROUPS', {}, groupsOf(documents, relations.ids)),
  ])
  const extensions = documents.flatMap((one) => (one.extensions === null ? [] : elementsOf(readXml(one.extensions))))
  const root = element(documents[0]?.root.name ?? 'REQ-IF', rootAttributes(documents), [
    element('THE-HEADER', {}, [headerOf(input, documents)]),
    element('CORE-CONTENT', {}, [content]),
    ...(extensions.length > 0 ? [element('TOOL-EXTENSIONS', {}, extensions)] : []),
  ])
  return `<?xml version="1.0" encoding="UTF-8"?>\n${printXml(prefixed(root, prefixOf(documents)))}\n`
}

/** Where the file's own vocabulary has a prefix, what is made here has it, too. */
function prefixOf(documents: readonly KeptDocument[]): string {
  const name = documents[0]?.root.name ?? 'REQ-IF'
  return name.includes(':') ? name.slice(0, name.indexOf(':') + 1) : ''
}

function prefixed(one: XmlElement, prefix: string): XmlElement {
  if (prefix === '') return one
  const isOurs = /^[A-Z][A-Z-]*$/.test(one.name)
  return {
    ...one,
    name: isOurs ? `${prefix}${one.name}` : one.name,
    children: one.children.map((child) => (typeof child === 'string' ? child : prefixed(child, prefix))),
  }
}

function rootAttributes(documents: readonly KeptDocument[]): Record<string, string> {
  const all = Object.assign({}, ...documents.toReversed().map(({ root }) => root.attributes)) as Record<string, string>
  return documents.length === 0 ? { xmlns: NAMESPACE } : all
}

function headerOf({ title, project, nowMs }: ReqifInput, documents: readonly KeptDocument[]): XmlElement {
  const before = documents[0]?.header ? readXml(documents[0].header) : null
  const facts: [string, string][] = [
    ['COMMENT', textOf(before ? elementOf(before, 'COMMENT') : undefined)],
    ['CREATION-TIME', new Date(nowMs).toISOString()],
    ['REPOSITORY-ID', textOf(before ? elementOf(before, 'REPOSITORY-ID') : undefined)],
    ['REQ-IF-TOOL-ID', 'Dystracer'],
    ['REQ-IF-VERSION', '1.0'],
    ['SOURCE-TOOL-ID', 'Dystracer'],
    ['TITLE', textOf(before ? elementOf(before, 'TITLE') : undefined) || title],
  ]
  return element(
    'REQ-IF-HEADER',
    before?.attributes ?? { IDENTIFIER: `dystracer-${project}` },
    facts.filter(([, words]) => words !== '').map(([name, words]) => element(name, {}, [words])),
  )
}

function unique(all: readonly XmlElement[]): XmlElement[] {
  return [...new Map(all.toReversed().map((one) => [one.attributes.IDENTIFIER ?? '', one])).values()].toReversed()
}

/** What an earlier file of ours brought is made anew: by then there may be further attributes. */
function isForeign(one: XmlElement): boolean {
  return !(one.attributes.IDENTIFIER ?? '').startsWith(OWN)
}

class ObjectWriter {
  constructor(private readonly context: { types: Types; own: OwnTypes; typeElements: readonly XmlElement[] }) {}

  /** A requirement as an object of its type. */
  object(one: WrittenRequirement, id: string): XmlElement {
    const { origin, changedAtMs } = one
    const attributes = origin?.attributes ?? {}
    return element('SPEC-OBJECT', { ...attributes, IDENTIFIER: id, 'LAST-CHANGE': attributes['LAST-CHANGE'] ?? isoOf(changedAtMs) }, [
      ...(origin?.extras.map(readXml) ?? []),
      ...this.typeAndValues(one),
    ])
  }

  /** The type and the values: those of the file where nothing was changed since, others made of what it says now. */
  typeAndValues(one: WrittenRequirement): XmlElement[] {
    const { origin } = one
    const foreign = origin && !origin.type.startsWith(OWN) ? this.context.types.types.get(origin.type) : undefined
    // A type that is not in the file that it came from leaves as it came.
    if (origin && !foreign && !origin.type.startsWith(OWN))
      return [
        typeOf(origin.kind === 'object' ? 'SPEC-OBJECT-TYPE-REF' : 'SPECIFICATION-TYPE-REF', origin.type),
        ...valuesOf(origin.values.map(({ xml }) => readXml(xml))),
      ]
    const type = foreign ?? this.context.own.type
    const values = foreign ? this.foreignValues(one, foreign) : this.ownValues(one, type)
    return [typeOf(origin?.kind === 'specification' ? 'SPECIFICATION-TYPE-REF' : 'SPEC-OBJECT-TYPE-REF', type.id), ...valuesOf(values)]
  }

  private ownValues(one: WrittenRequirement, type: ObjectType): XmlElement[] {
    // An identity that came along with an earlier file of ours keeps the markup that it had.
    const before = new Map(one.origin?.values.map((kept) => [kept.definition, kept]))
    return type.attributes.flatMap((attribute) => {
      const now = wantedValue(one, attribute.role, attribute.attribute)
      const kept = before.get(attribute.id)
      if (kept && attribute.form === 'XHTML' && isSameValue(kept.value, now)) return [readXml(kept.xml)]
      return now.length === 0 ? [] : [this.value(attribute, now)]
    })
  }

  private foreignValues(one: WrittenRequirement, type: ObjectType): XmlElement[] {
    const origin = one.origin as Origin
    const byId = new Map(type.attributes.map((attribute) => [attribute.id, attribute]))
    const titleRole = titleRoleOf(one, origin, byId)
    const left = new Map(leavingValues(one, titleRole).map((value) => [slotOf(value.role, value.name), value]))
    const values: XmlElement[] = []
    for (const kept of origin.values) {
      const attribute = byId.get(kept.definition)
      const slot = attribute && slotOf(attribute.role, attribute.attribute)
      const isAttribute = attribute?.role === 'attribute'
      const wanted = slot === undefined ? undefined : (left.get(slot)?.value ?? (isAttribute ? '' : undefined))
      if (slot !== undefined) left.delete(slot)
      // Its own key, and what has no place here, leave as they came.
      if (!attribute || wanted === undefined || isSameValue(kept.value, wanted) || isSameLine(kept.value, wanted))
        values.push(readXml(kept.xml))
      else if (wanted.length > 0) values.push(this.value(attribute, wanted))
    }
    for (const { role, name, value } of left.values()) {
      if (value.length === 0) continue
      const attribute =
        type.attributes.find((candidate) => candidate.role === role && (role !== 'attribute' || candidate.attribute === name)) ??
        this.extend(type, role, name)
      if (attribute) values.push(this.value(attribute, value))
    }
    return values
  }

  /** Adds an attribute to a type of the file, for a value that it has no place for. */
  private extend(type: ObjectType, role: Role, name: string): TypeAttribute | undefined {
    const holder = this.context.typeElements.find((one) => one.attributes.IDENTIFIER === type.id)
    const made = this.context.own.attributeFor(type.id, role, name)
    if (!holder || !made) return undefined
    let list = elementOf(holder, 'SPEC-ATTRIBUTES')
    if (!list) {
      list = element('SPEC-ATTRIBUTES')
      holder.children.push(list)
    }
    list.children.push(this.context.own.definition(made))
    type.attributes.push(made)
    return made
  }

  private value({ id, form, datatype }: TypeAttribute, value: AttributeValue): XmlElement {
    const definition = element('DEFINITION', {}, [element(`ATTRIBUTE-DEFINITION-${form}-REF`, {}, [id])])
    if (form === 'XHTML')
      return element('ATTRIBUTE-VALUE-XHTML', {}, [definition, element('THE-VALUE', {}, [markdownToXhtml(String(value))])])
    if (form !== 'ENUMERATION') return element(`ATTRIBUTE-VALUE-${form}`, { 'THE-VALUE': String(value) }, [definition])
    const words = this.context.own.wordsOf(datatype) ?? this.context.types.words.get(datatype) ?? new Map<string, string>()
    const idOf = new Map([...words].map(([wordId, word]) => [word, wordId]))
    const refs = (Array.isArray(value) ? value : [value]).flatMap((word) => idOf.get(word) ?? [])
    return element('ATTRIBUTE-VALUE-ENUMERATION', {}, [
      definition,
      element(
        'VALUES',
        {},
        refs.map((ref) => element('ENUM-VALUE-REF', {}, [ref])),
      ),
    ])
  }
}

function wantedValue(one: WrittenRequirement, role: Role, attribute: string): AttributeValue {
  if (role === 'text') return one.text
  if (role === 'key') return one.key
  if (role === 'title') return one.isHeading ? '' : one.title
  if (role === 'chapter') return one.isHeading ? one.title : ''
  return one.attributes[attribute] ?? ''
}

function slotOf(role: Role, name: string): string {
  return role === 'attribute' ? `attribute ${name}` : role
}

/** Titles are read as one line; broken otherwise they are the same. */
function isSameLine(one: AttributeValue, other: AttributeValue): boolean {
  return typeof one === 'string' && typeof other === 'string' && one.replace(/\s+/g, ' ').trim() === other
}

/** Where its title goes: where it was read from; null where it only followed from the text, and still does. */
function titleRoleOf(one: WrittenRequirement, origin: Origin, byId: ReadonlyMap<string, TypeAttribute>): Role | null {
  const said = (role: Role) => origin.values.some((kept) => byId.get(kept.definition)?.role === role && String(kept.value).trim() !== '')
  if (said('chapter')) return 'chapter'
  if (said('title')) return 'title'
  const key = origin.values.find((kept) => byId.get(kept.definition)?.role === 'key')?.value
  const follows = [titleFrom(one.text), origin.attributes['LONG-NAME'] ?? '', key ?? '', origin.object]
  if (follows.some((words) => words === one.title || isSameLine(words, one.title))) return null
  return one.isHeading ? 'chapter' : 'title'
}

function leavingValues(one: WrittenRequirement, titleRole: Role | null): { role: Role; name: string; value: AttributeValue }[] {
  return [
    ...(titleRole === null ? [] : [{ role: titleRole, name: '', value: one.title }]),
    { role: 'text', name: '', value: one.text },
    ...Object.entries(one.attributes).map(([name, value]) => ({ role: 'attribute' as const, name, value })),
  ]
}

function typeOf(ref: string, id: string): XmlElement {
  return element('TYPE', {}, id === '' ? [] : [element(ref, {}, [id])])
}

function valuesOf(values: XmlElement[]): XmlElement[] {
  return values.length === 0 ? [] : [element('VALUES', {}, values)]
}

function isoOf(atMs: number): string {
  return new Date(atMs).toISOString()
}

function relationsOf(
  input: ReqifInput,
  documents: readonly KeptDocument[],
  objects: ReadonlyMap<string, string>,
): { elements: XmlElement[]; ids: Set<string>; names: Set<string> } {
  const standing = new Set(input.relations.map(({ id }) => id))
  const present = new Set(objects.values())
  const kept = unique(documents.flatMap((one) => one.relations.map(({ xml }) => readXml(xml)))).filter((relation) => {
    const ends = ['SOURCE', 'TARGET'].map((end) => textOf(elementOf(relation, end)).trim())
    // One whose ends are both here was shown, and goes when somebody took it back; another was never ours to take.
    return !ends.every((end) => present.has(end)) || standing.has(relation.attributes.IDENTIFIER ?? '')
  })
  const keptIds = new Set(kept.map((one) => one.attributes.IDENTIFIER ?? ''))
  const made = input.relations.filter(({ id }) => !keptIds.has(id))
  const ref = (name: string, key: string) => element(name, {}, [element('SPEC-OBJECT-REF', {}, [objects.get(key) ?? ''])])
  const elements = made
    .filter(({ from, to }) => objects.has(from) && objects.has(to))
    .map(({ id, name, from, to }) =>
      element('SPEC-RELATION', { IDENTIFIER: id, 'LAST-CHANGE': isoOf(0) }, [
        ref('TARGET', to),
        ref('SOURCE', from),
        element('TYPE', {}, [element('SPEC-RELATION-TYPE-REF', {}, [relationTypeOf(name)])]),
      ]),
    )
  return {
    elements: [...kept, ...elements],
    ids: new Set([...keptIds, ...made.map(({ id }) => id)]),
    names: new Set(made.map(({ name }) => name)),
  }
}

/** Groups as they were, without the relations that are gone. */
function groupsOf(documents: readonly KeptDocument[], relationIds: ReadonlySet<string>): XmlElement[] {
  const clean = (one: XmlElement): XmlElement => ({
    ...one,
    children: one.children.flatMap((child): (XmlElement | string)[] => {
      if (typeof child === 'string') return [child]
      if (localName(child) === 'SPEC-RELATION-REF' && !relationIds.has(textOf(child).trim())) return []
      return [clean(child)]
    }),
  })
  return unique(documents.flatMap((one) => one.groups.map(readXml))).map(clean)
}

function specificationsOf(
  input: ReqifInput,
  { documents, objects, writer }: { documents: readonly KeptDocument[]; objects: ReadonlyMap<string, string>; writer: ObjectWriter },
): XmlElement[] {
  const keys = new Set(objects.keys())
  const below = groupBy(input.requirements, ({ parent }) => (parent !== null && keys.has(parent) ? parent : null))
  const further = groupBy(
    documents.flatMap((one) => one.furtherPlaces.map((place) => ({ ...place, hierarchy: readXml(place.xml) }))),
    (place) => place.below,
  )
  const hierarchy = (one: WrittenRequirement): XmlElement => {
    const object = objects.get(one.key) as string
    const place = one.origin?.place
    const inside = childrenOf(one.key, object)
    return element('SPEC-HIERARCHY', place?.attributes ?? { IDENTIFIER: `${OWN}place-${one.key}`, 'LAST-CHANGE': isoOf(one.changedAtMs) }, [
      ...(place?.extras.map(readXml) ?? []),
      element('OBJECT', {}, [element('SPEC-OBJECT-REF', {}, [object])]),
      ...(inside.length > 0 ? [element('CHILDREN', {}, inside)] : []),
    ])
  }
  const childrenOf = (key: string | null, id: string): XmlElement[] => {
    const inside = (below.get(key) ?? []).filter((one) => one.origin?.kind !== 'specification' && !isLoose(one)).map(hierarchy)
    for (const place of further.get(id) ?? []) inside.splice(place.at, 0, place.hierarchy)
    return inside
  }
  const own = (below.get(null) ?? []).filter((one) => one.origin?.kind === 'specification')
  const made = own.map((one) =>
    element('SPECIFICATION', { ...one.origin?.attributes, 'LONG-NAME': one.title }, [
      ...(one.origin?.extras.map(readXml) ?? []),
      ...writer.typeAndValues(one),
      element('CHILDREN', {}, childrenOf(one.key, one.origin?.object ?? '')),
    ]),
  )
  const single = documents.map((one) => one.specification).find((one) => one !== null)
  const frame = single
    ? readXml(single)
    : element(
        'SPECIFICATION',
        { IDENTIFIER: `${OWN}document-${input.project}`, 'LAST-CHANGE': isoOf(input.nowMs), 'LONG-NAME': input.title },
        [typeOf('SPECIFICATION-TYPE-REF', `${OWN}document`)],
      )
  const top = childrenOf(null, frame.attributes.IDENTIFIER ?? '')
  if (top.length > 0 || made.length === 0) made.unshift({ ...frame, children: [...frame.children, element('CHILDREN', {}, top)] })
  return made
}

/** Whether it stood in no specification, and still stands on the first level. */
function isLoose({ origin, parent }: WrittenRequirement): boolean {
  return origin !== null && origin.kind === 'object' && origin.place === null && parent === null
}
