import { unzipSync } from 'fflate'
import { XmlError } from '@dystracer/core/text/walk-xml'
import { declaredXmlEncoding, decodeText } from '@dystracer/core/text/decode-text'
import type { AttributeDefinition } from '@dystracer/core/requirements/attributes'
import { REQUIREMENT_FILE_MAX_BYTES, REQUIREMENT_PICTURE_MAX_BYTES } from '@dystracer/core/requirements/exchange-wire'
import type { ImportProblem } from '@dystracer/core/requirements/import-plan'
import { guessColumns, readTable, type ImportRow, type RequirementColumns } from '@dystracer/core/requirements/read-table'
import { NoReqifError, readReqif } from '@dystracer/core/requirements/reqif/read-reqif'
import { reconcile } from '@dystracer/core/requirements/reqif/reconcile'
import { readHeadedRows, undefused } from '#platform/csv'
import type { ReadDraft, ReadFile, ReadInput, ReadPicture } from './exchange.protocol.js'
import { mediaTypeOfPicture } from './pictures.js'

/** So many requirements are taken from one file. */
const ROWS_MAX = 10_000
const FILES_MAX = 2_000
const EMPTY: Omit<ReadFile, 'drafts'> = {
  columns: null,
  headings: [],
  definitions: [],
  relations: [],
  documents: [],
  pictures: [],
  problems: [],
}

/** Why a file was not taken as a whole, in words. */
export class UnreadableFile extends Error {}

/** Reads a file of requirements; nothing of it is stored. Throws UnreadableFile with the place. */
export function readRequirementFile({ format, bytes, known, columns }: ReadInput): ReadFile {
  const file =
    format === 'csv'
      ? readCsv(textOf(bytes), known, columns)
      : format === 'jsonl'
        ? readJsonl(textOf(bytes), known)
        : format === 'reqif'
          ? readXmlFile(bytes, known)
          : readArchive(bytes, known)
  if (file.drafts.length > ROWS_MAX)
    throw new UnreadableFile(`A file has at most ${ROWS_MAX} requirements; this one has ${file.drafts.length}`)
  return file
}

function textOf(bytes: Uint8Array, declared: string | null = null): string {
  const decoded = decodeText(bytes, declared)
  if (!decoded.ok) throw new UnreadableFile(`The file cannot be read: ${decoded.why}`)
  return decoded.text
}

function readCsv(text: string, known: readonly AttributeDefinition[], said: Partial<RequirementColumns>): ReadFile {
  const read = readHeadedRows(text)
  if (read.unclosedAt !== null) throw new UnreadableFile(`A quote that begins near line ${read.unclosedAt + 2} does not end`)
  const plain = (cells: Record<string, string>) =>
    Object.fromEntries(Object.entries(cells).map(([name, cell]) => [name, undefused(String(cell ?? ''))]))
  const rows: ImportRow[] = read.rows.map((cells, index) => ({ line: index + 2, cells: plain(cells) }))
  const headings = read.headings.filter((name) => name.trim() !== '')
  const unknown = Object.values(said).find((name) => name && !headings.includes(name))
  if (unknown) throw new UnreadableFile(`There is no column “${unknown}”; there are ${headings.join(', ')}`)
  const columns = guessColumns(headings, rows, said)
  if (columns.title === null && columns.text === null)
    return {
      ...EMPTY,
      columns,
      headings,
      drafts: [],
      problems: [{ line: 1, column: null, words: 'No column is called title or text; name one so' }],
    }
  const { drafts, definitions } = readTable({ headings, rows, columns, known })
  const problems = read.renamed.map(({ name, column }) => ({
    line: 1,
    column,
    words: `A column before it is called so as well; it is read as “${name}”`,
  }))
  return { ...EMPTY, columns, headings, drafts: drafts.map((draft) => ({ ...draft, origin: null })), definitions, problems }
}

function readJsonl(text: string, known: readonly AttributeDefinition[]): ReadFile {
  const problems: ImportProblem[] = []
  const names = new Set(known.map(({ name }) => name))
  const fresh = new Map<string, AttributeDefinition>()
  const drafts = text.split('\n').flatMap((line, at): ReadDraft[] => {
    if (line.trim() === '') return []
    const row = parseLine(line)
    if (row === null) {
      problems.push({ line: at + 1, column: null, words: 'The line is no JSON object' })
      return []
    }
    const word = (name: string) => (typeof row[name] === 'string' ? row[name] : '')
    const attributes = Object.fromEntries(
      Object.entries(isObject(row.attributes) ? row.attributes : {}).map(([name, value]) => [
        name,
        Array.isArray(value) ? value.map(String) : String(value),
      ]),
    )
    for (const [name, value] of Object.entries(attributes))
      if (!names.has(name))
        fresh.set(name, {
          name,
          kind: Array.isArray(value) ? 'choice' : 'line',
          choices: Array.isArray(value) ? value : [],
          isMany: Array.isArray(value),
        })
    const relations = (Array.isArray(row.relations) ? row.relations : []).flatMap((one: unknown) =>
      isObject(one) && typeof one.to === 'string' && typeof one.name === 'string' ? [{ name: one.name, to: one.to }] : [],
    )
    return [
      {
        line: at + 1,
        id: word('key') || word('id'),
        ownKey: '',
        title: word('title'),
        text: word('text'),
        parent: row.parent === undefined ? undefined : word('parent') || null,
        isHeading: row.isHeading === true,
        attributes,
        relations,
        origin: null,
      },
    ]
  })
  return { ...EMPTY, drafts, definitions: [...fresh.values()], problems }
}

function isObject(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value)
}

function parseLine(line: string): Record<string, unknown> | null {
  try {
    const value: unknown = JSON.parse(line)
    return isObject(value) ? value : null
  } catch (error) {
    if (error instanceof SyntaxError) return null
    throw error
  }
}

function readXmlFile(bytes: Uint8Array, known: readonly AttributeDefinition[], name = ''): ReadFile {
  try {
    const { content, definitions } = reconcile(readReqif(textOf(bytes, declaredXmlEncoding(bytes))), known)
    const { drafts, relations, document, problems } = content
    return { ...EMPTY, drafts, definitions, relations, documents: [document], problems }
  } catch (error) {
    const place = name && `${name}: `
    if (error instanceof XmlError) throw new UnreadableFile(`${place}${error.message}`, { cause: error })
    if (error instanceof NoReqifError) throw new UnreadableFile(`${place}${error.message}. It is no file of requirements`, { cause: error })
    throw error
  }
}

/** An archive of exchange files and the pictures that they show. Sizes are looked at before anything is unfolded. */
function readArchive(bytes: Uint8Array, known: readonly AttributeDefinition[]): ReadFile {
  let left = REQUIREMENT_FILE_MAX_BYTES * 2
  const problems: ImportProblem[] = []
  let files: Record<string, Uint8Array>
  let count = 0
  try {
    files = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        if (name.endsWith('/')) return false
        count++
        left -= originalSize
        if (count > FILES_MAX || left < 0) throw new UnreadableFile('The archive unfolds to more than is taken')
        const isFile = /\.reqif$/i.test(name) || originalSize <= REQUIREMENT_PICTURE_MAX_BYTES
        if (!isFile)
          problems.push({ line: 0, column: name, words: `${name} has more than ${REQUIREMENT_PICTURE_MAX_BYTES >> 20} MB and is left out` })
        return isFile
      },
    })
  } catch (error) {
    if (error instanceof UnreadableFile) throw error
    throw new UnreadableFile('The file is no archive, or a broken one', { cause: error })
  }
  const read = Object.entries(files).filter(([name]) => /\.reqif$/i.test(name))
  if (read.length === 0) throw new UnreadableFile('The archive holds no file that ends in .reqif')
  let definitions = known
  const parts = read.map(([name, content]) => {
    const part = readXmlFile(content, definitions, name)
    definitions = [...definitions.filter((one) => !part.definitions.some((other) => other.name === one.name)), ...part.definitions]
    return part
  })
  const pictures = Object.entries(files).flatMap(([path, content]): ReadPicture[] => {
    if (/\.reqif$/i.test(path)) return []
    const mediaType = mediaTypeOfPicture(path, content)
    if (mediaType === null) problems.push({ line: 0, column: path, words: `${path} is no picture and is left out` })
    return mediaType === null ? [] : [{ path, mediaType, bytes: content }]
  })
  const changed = definitions.filter((one) => JSON.stringify(known.find((other) => other.name === one.name)) !== JSON.stringify(one))
  return {
    ...EMPTY,
    drafts: parts.flatMap((part) => part.drafts),
    definitions: changed,
    relations: parts.flatMap((part) => part.relations),
    documents: parts.flatMap((part) => part.documents),
    pictures,
    problems: [...parts.flatMap((part) => part.problems), ...problems],
  }
}
