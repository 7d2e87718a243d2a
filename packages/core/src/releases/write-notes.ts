/** For whom the notes of a release are written. */
export const NOTE_READERS = ['users', 'operators', 'auditors'] as const
/** One of them. */
export type NoteReader = (typeof NOTE_READERS)[number]

/** An item of a release, as far as notes say it. */
export interface NotedItem {
  key: string
  type: string
  title: string
  requirements: readonly string[]
}
/** What notes are written from. Nothing in it is confidential: the caller leaves that out. */
export interface NoteEvidence {
  service: string
  release: string
  against: string | null
  items: readonly NotedItem[]
  /** What the release before had mended, and this one has not. */
  lost: readonly NotedItem[]
  known: readonly NotedItem[]
  schema: readonly string[]
  settings: readonly string[]
  dependencies: readonly { name: string; from: string | null; to: string | null }[]
  commits: number
  commitsForNothing: number
  authors: readonly string[]
  /** Texts that people wrote: by the item's key, or `` for the words at the beginning. */
  written: ReadonlyMap<string, string>
}
/** One line of notes; `key` is null where it is about no item. */
export interface NoteLine {
  key: string | null
  text: string
  /** Whether a person wrote it: it stays when what the release holds grows. */
  isWritten: boolean
}
/** The notes of a release for one kind of reader. */
export interface Notes {
  reader: NoteReader
  intro: string
  groups: { title: string; lines: NoteLine[] }[]
}

/**
 * The notes of a release, from evidence: users read what is new and mended in the words of people (else the
 * item's title), operators also what changes around the program, auditors each item with what asked for it,
 * and who made it. What people wrote takes the place of what is said by itself, line by line.
 */
export function writeNotes(evidence: NoteEvidence, reader: NoteReader): Notes {
  const isDefect = ({ type }: NotedItem) => type === 'defect'
  const line = (item: NotedItem): NoteLine => {
    const written = evidence.written.get(item.key)
    const asked = reader === 'auditors' && item.requirements.length > 0 ? `, asked for by ${item.requirements.join(', ')}` : ''
    const named = reader === 'users' ? item.title : `${item.key} ${item.title}${asked}`
    return { key: item.key, text: written ?? named, isWritten: written !== undefined }
  }
  const plain = (text: string): NoteLine => ({ key: null, text, isWritten: false })
  const groups = [
    { title: 'New and changed', lines: evidence.items.filter((item) => !isDefect(item)).map(line) },
    { title: 'Fixed', lines: evidence.items.filter(isDefect).map(line) },
    { title: 'No longer in', lines: evidence.lost.map(line) },
  ]
  if (reader !== 'users')
    groups.push(
      { title: 'Database and schema', lines: evidence.schema.map(plain) },
      { title: 'Settings', lines: evidence.settings.map(plain) },
      { title: 'Dependencies', lines: evidence.dependencies.map((each) => plain(dependencyWords(each))) },
    )
  if (reader === 'auditors')
    groups.push({
      title: 'Changes',
      lines: [
        plain(
          `${evidence.commits} ${evidence.commits === 1 ? 'change' : 'changes'} against ` +
            `${evidence.against ?? 'nothing'}, ${evidence.commitsForNothing} of them for no item`,
        ),
        plain(`by ${evidence.authors.join(', ') || 'nobody'}`),
      ],
    })
  groups.push({ title: 'Known problems', lines: evidence.known.map(line) })
  return { reader, intro: evidence.written.get('') ?? '', groups: groups.filter(({ lines }) => lines.length > 0) }
}

function dependencyWords({ name, from, to }: NoteEvidence['dependencies'][number]): string {
  if (from === null) return `${name} ${to} is new`
  return to === null ? `${name} ${from} is gone` : `${name} ${from} is now ${to}`
}

/** Notes as Markdown (CommonMark). What stands in titles is text: characters of markup are escaped; what people wrote is Markdown. */
export function notesAsMarkdown({ service, release }: Pick<NoteEvidence, 'service' | 'release'>, { intro, groups }: Notes): string {
  const parts = [`# ${asText(service)} ${asText(release)}`]
  if (intro.trim() !== '') parts.push(intro.trim())
  for (const { title, lines } of groups)
    parts.push(
      `## ${title}`,
      lines.map(({ text, isWritten }) => `- ${isWritten ? text.trim().replace(/\n/g, '\n  ') : asText(text)}`).join('\n'),
    )
  if (groups.length === 0) parts.push('Nothing that concerns you has changed.')
  return `${parts.join('\n\n')}\n`
}

function asText(text: string): string {
  return text.replace(/\s+/g, ' ').replace(/[\\`*_{}[\]<>()#+!|~&]/g, '\\$&')
}
