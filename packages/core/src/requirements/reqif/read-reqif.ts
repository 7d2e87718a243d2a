import { elementOf, elementsOf, localName, printXml, readXml, textOf, type XmlElement } from '#text/xml-tree'
import type { AttributeDefinition, Attributes, AttributeValue } from '../attributes.js'
import type { ImportProblem, RequirementDraft } from '../import-plan.js'
import { xhtmlToMarkdown } from '../rich-text.js'
import type { KeptDocument, KeptValue, Origin } from './document.js'
import { type ObjectType, readTypes, type TypeAttribute, type Types } from './types.js'

/** A requirement of an exchange file, with where it came from. */
export interface ReqifDraft extends RequirementDraft {
  origin: Origin
}
/** A relation between two objects of a file: what its type is called, from which to which. */
export interface ReqifRelation {
  id: string
  name: string
  from: string
  to: string
}
/** What an exchange file says. */
export interface ReqifContent {
  document: KeptDocument
  /** In the order of the hierarchy. */
  drafts: ReqifDraft[]
  definitions: AttributeDefinition[]
  relations: ReqifRelation[]
  problems: ImportProblem[]
}

/** A file that is XML and no exchange file of requirements. */
export class NoReqifError extends Error {}

interface ReadObject {
  element: XmlElement
  title: string
  text: string
  foreignId: string
  isChapter: boolean
  attributes: Attributes
  values: KeptValue[]
  typeId: string
}

/**
 * Reads a file in the Requirements Interchange Format (OMG ReqIF 1.2, formal/16-07-01). Objects become requirements in the order of the
 * hierarchy; each specification is a heading above its own where there are several, and none where there is one. Marked-up text becomes
 * Markdown, values of attributes become attributes; everything else is kept as it is, so that it leaves again unchanged. Linear in the
 * file. Throws XmlError for what is not well-formed or defines entities, NoReqifError for another vocabulary.
 */
export function readReqif(xml: string): ReqifContent {
  const root = readXml(xml.replace(/^\uFEFF/, ''))
  const core = elementOf(root, 'CORE-CONTENT')
  const content = core && elementOf(core, 'REQ-IF-CONTENT')
  if (localName(root) !== 'REQ-IF' || !content) throw new NoReqifError('It holds no REQ-IF with CORE-CONTENT')
  const part = (name: string) => elementsOf(elementOf(content, name) ?? { ...content, children: [] })
  const header = elementOf(elementOf(root, 'THE-HEADER'), 'REQ-IF-HEADER')
  const types = readTypes(part('DATATYPES'), part('SPEC-TYPES'))
  const problems: ImportProblem[] = []
  const specifications = part('SPECIFICATIONS').filter((one) => localName(one) === 'SPECIFICATION')
  const document: KeptDocument = {
    id: header?.attributes.IDENTIFIER ?? specifications[0]?.attributes.IDENTIFIER ?? 'document',
    title: textOf(elementOf(header, 'TITLE')).trim(),
    root: { name: root.name, attributes: root.attributes },
    header: header ? printXml(header) : null,
    datatypes: part('DATATYPES').map(printXml),
    types: part('SPEC-TYPES').map(printXml),
    relations: part('SPEC-RELATIONS').map((one) => ({ id: one.attributes.IDENTIFIER ?? '', xml: printXml(one) })),
    groups: part('SPEC-RELATION-GROUPS').map(printXml),
    extensions: printed(elementOf(root, 'TOOL-EXTENSIONS')),
    specification: null,
    names: Object.fromEntries(
      [...types.types.values()].flatMap(({ attributes }) =>
        attributes.flatMap(({ id, role, attribute }) => (role === 'attribute' ? [[id, attribute]] : [])),
      ),
    ),
    furtherPlaces: [],
  }
  const objects = new Map<string, ReadObject>()
  for (const one of part('SPEC-OBJECTS')) {
    const id = one.attributes.IDENTIFIER ?? ''
    if (id === '' || objects.has(id))
      problems.push(problemAt(one, id === '' ? 'An object has no identifier' : `The object ${id} stands in the file twice`))
    else objects.set(id, readObject(one, types, problems))
  }
  const drafts = draftsOf({ specifications, objects, types, document, problems })
  return {
    document,
    drafts,
    definitions: types.definitions,
    relations: relationsOf(part('SPEC-RELATIONS'), part('SPEC-TYPES'), objects, problems),
    problems,
  }
}

function printed(one: XmlElement | undefined): string | null {
  return one ? printXml(one) : null
}

function problemAt(element: XmlElement, words: string, column: string | null = null): ImportProblem {
  return { line: element.line, column, words }
}

function readObject(element: XmlElement, types: Types, problems: ImportProblem[]): ReadObject {
  const typeId = textOf(elementOf(element, 'TYPE')).trim()
  const type = types.types.get(typeId)
  if (!type && typeId !== '') problems.push(problemAt(element, `Its type ${typeId} is not in the file; its values are kept, and not shown`))
  const read: ReadObject = {
    element,
    title: '',
    text: '',
    foreignId: '',
    isChapter: false,
    attributes: emptyAttributes(type),
    values: [],
    typeId,
  }
  const byId = new Map(type?.attributes.map((one) => [one.id, one]))
  for (const value of elementsOf(elementOf(element, 'VALUES') ?? { ...element, children: [] })) {
    const definitionId = textOf(elementsOf(elementOf(value, 'DEFINITION') ?? value)[0]).trim()
    const definition = byId.get(definitionId)
    const said = definition ? readValue(value, definition, types) : ''
    read.values.push({ definition: definitionId, xml: printXml(value), value: said })
    if (!definition) {
      if (type)
        problems.push(
          problemAt(value, `A value names the attribute ${definitionId}, which its type does not have; it is kept, and not shown`),
        )
      continue
    }
    take(read, definition, said)
  }
  return read
}

/** What a type has and an object does not say is empty: a value that was taken away in the file is taken away here. */
function emptyAttributes(type: ObjectType | undefined): Attributes {
  return Object.fromEntries((type?.attributes ?? []).flatMap(({ role, attribute }) => (role === 'attribute' ? [[attribute, '']] : [])))
}

function take(read: ReadObject, { role, attribute }: TypeAttribute, value: AttributeValue): void {
  const words = String(value)
  if (role === 'attribute') {
    if (value.length > 0) read.attributes[attribute] = value
  } else if (role === 'key') read.foreignId = words.trim()
  else if (role === 'text') read.text = words
  else if (role === 'chapter') {
    if (words.trim() === '') return
    read.isChapter = true
    read.title = plainLine(words)
  } else if (read.title === '') read.title = plainLine(words)
}

function readValue(value: XmlElement, { form, datatype, role, isMany }: TypeAttribute, { words }: Types): AttributeValue {
  if (form === 'XHTML') {
    const marked = elementOf(value, 'THE-VALUE')
    if (!marked) return ''
    return role === 'title' || role === 'chapter' || role === 'key' ? plainLine(textOf(marked)) : xhtmlToMarkdown(marked)
  }
  if (form === 'ENUMERATION') {
    const said = elementsOf(elementOf(value, 'VALUES') ?? { ...value, children: [] }).map((one) => {
      const id = textOf(one).trim()
      return words.get(datatype)?.get(id) ?? id
    })
    return isMany ? said : (said[0] ?? '')
  }
  const plain = value.attributes['THE-VALUE'] ?? textOf(elementOf(value, 'THE-VALUE'))
  return form === 'BOOLEAN' ? String(/^(?:true|1)$/i.test(plain.trim())) : plain
}

function plainLine(text: string): string {
  return text.replace(/\s+/g, ' ').trim()
}

function draftsOf(input: {
  specifications: readonly XmlElement[]
  objects: ReadonlyMap<string, ReadObject>
  types: Types
  document: KeptDocument
  problems: ImportProblem[]
}): ReqifDraft[] {
  const { specifications, objects, types, document, problems } = input
  const drafts: ReqifDraft[] = []
  const placed = new Set<string>()
  const main = mainPlaces(specifications, objects)
  const place = (hierarchy: XmlElement, at: number, { parent, below }: { parent: string | null; below: string }) => {
    const ref = textOf(elementOf(hierarchy, 'OBJECT')).trim()
    const object = objects.get(ref)
    const children = placesIn(hierarchy)
    if (object && main.get(ref) === hierarchy) {
      placed.add(ref)
      const { attributes } = hierarchy
      const extras = elementsOf(hierarchy).filter((one) => !['OBJECT', 'CHILDREN'].includes(localName(one)))
      const own = { attributes, extras: extras.map(printXml) }
      drafts.push(draftOf({ object, id: ref, parent, hasChildren: children.length > 0, document, place: own }))
    } else {
      document.furtherPlaces.push({ below, at, xml: printXml(withoutChildren(hierarchy)) })
      const words = object
        ? `${ref} stands in the hierarchy more than once; one place is taken, this one is kept`
        : `The hierarchy names the object ${ref || '(none)'}, which is not in the file; the place is kept`
      problems.push(problemAt(hierarchy, words))
    }
    for (const [index, child] of children.entries()) place(child, index, object ? { parent: ref, below: ref } : { parent, below })
  }
  for (const specification of specifications) {
    const id = specification.attributes.IDENTIFIER ?? ''
    const heading = specificationDraft(specification, types, document, problems)
    if (specifications.length > 1) drafts.push(heading)
    else document.specification = printXml(withoutChildren(specification))
    for (const [at, child] of placesIn(specification).entries())
      place(child, at, { parent: specifications.length > 1 ? id : null, below: id })
  }
  for (const [id, object] of objects)
    if (!placed.has(id)) drafts.push(draftOf({ object, id, parent: null, hasChildren: false, document, place: null }))
  return drafts
}

function withoutChildren(one: XmlElement): XmlElement {
  return { ...one, children: elementsOf(one).filter((child) => localName(child) !== 'CHILDREN') }
}

function placesIn(one: XmlElement): XmlElement[] {
  const children = elementOf(one, 'CHILDREN')
  return children ? elementsOf(children, 'SPEC-HIERARCHY') : []
}

/** Where each object stands, should it stand in several places: the first that has others below it, else the first. */
function mainPlaces(specifications: readonly XmlElement[], objects: ReadonlyMap<string, ReadObject>): Map<string, XmlElement> {
  const main = new Map<string, XmlElement>()
  const walk = (hierarchy: XmlElement) => {
    const ref = textOf(elementOf(hierarchy, 'OBJECT')).trim()
    const children = placesIn(hierarchy)
    const before = main.get(ref)
    if (objects.has(ref) && (!before || (placesIn(before).length === 0 && children.length > 0))) main.set(ref, hierarchy)
    for (const child of children) walk(child)
  }
  for (const specification of specifications) for (const child of placesIn(specification)) walk(child)
  return main
}

function draftOf(input: {
  object: ReadObject
  id: string
  parent: string | null
  hasChildren: boolean
  document: KeptDocument
  place: Origin['place']
}): ReqifDraft {
  const { object, id, parent, document } = input
  const { element, values, typeId: type } = object
  return {
    line: element.line,
    id,
    ownKey: object.foreignId,
    title: object.title || plainLine(element.attributes['LONG-NAME'] ?? '') || (object.text.trim() === '' ? object.foreignId || id : ''),
    text: object.text,
    parent,
    // A chapter is one by its name, or because it gathers others and says nothing itself.
    isHeading: object.isChapter || (input.hasChildren && object.text.trim() === ''),
    attributes: object.attributes,
    origin: {
      document: document.id,
      object: id,
      kind: 'object',
      type,
      attributes: element.attributes,
      extras: elementsOf(element)
        .filter((one) => !['TYPE', 'VALUES'].includes(localName(one)))
        .map(printXml),
      values,
      place: input.place,
    },
  }
}

function specificationDraft(specification: XmlElement, types: Types, document: KeptDocument, problems: ImportProblem[]): ReqifDraft {
  const id = specification.attributes.IDENTIFIER ?? ''
  const object = readObject(specification, types, problems)
  const draft = draftOf({ object, id, parent: null, hasChildren: true, document, place: null })
  const title = plainLine(specification.attributes['LONG-NAME'] ?? '') || object.title || id
  return {
    ...draft,
    title,
    isHeading: true,
    origin: {
      ...draft.origin,
      kind: 'specification',
      extras: elementsOf(specification)
        .filter((one) => !['TYPE', 'VALUES', 'CHILDREN'].includes(localName(one)))
        .map(printXml),
    },
  }
}

function relationsOf(
  relations: readonly XmlElement[],
  specTypes: readonly XmlElement[],
  objects: ReadonlyMap<string, ReadObject>,
  problems: ImportProblem[],
): ReqifRelation[] {
  const names = new Map(specTypes.map((type) => [type.attributes.IDENTIFIER ?? '', type.attributes['LONG-NAME'] ?? '']))
  return relations.flatMap((one) => {
    const [from, to] = [textOf(elementOf(one, 'SOURCE')).trim(), textOf(elementOf(one, 'TARGET')).trim()]
    if (!objects.has(from) || !objects.has(to)) {
      problems.push(
        problemAt(
          one,
          `A relation joins ${from || '(none)'} and ${to || '(none)'}, and not both are in the file; it is kept, and not shown`,
        ),
      )
      return []
    }
    return [{ id: one.attributes.IDENTIFIER ?? '', name: plainLine(names.get(textOf(elementOf(one, 'TYPE')).trim()) ?? ''), from, to }]
  })
}
