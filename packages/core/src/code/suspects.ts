/** A frame of the failure in the repository's own code, innermost first. */
export interface OwnFrame {
  path: string
  line: number
  function: string | null
}
/** What is known of a failure when its cause is looked for. */
export interface FailureEvidence {
  frames: readonly OwnFrame[]
  /**
   * Code that leads to the failure, as the first bad commit has it, with how near it lies: 1 for the failing line itself, less for what
   * stands around it and for the bodies of what it calls.
   */
  code: readonly { text: string; nearness01: number }[]
  /** What the failure says. */
  message: string
  /** What else names it: the test, its suite. */
  names: readonly string[]
}
/** A commit that came between the last good and the first bad. */
export interface SuspectCommit {
  sha: string
  message: string
  /** How far it lies before the first bad one: 0 is the newest. */
  age: number
  files: readonly {
    path: string
    added: readonly string[]
    removed: readonly string[]
    /** Functions inside which it changes something. */
    within: readonly string[]
    ranges: readonly (readonly [from: number, to: number])[]
  }[]
  /** The frames (by their place) whose line it touched last. */
  blamed: readonly number[]
}
/** Why a commit may be suspected. */
export const SUSPECT_REASONS = [
  'wrote-the-line',
  'near-the-line',
  'same-file',
  'what-it-uses',
  'what-it-says',
  'named-alike',
  'settings',
] as const
/** One of them. */
export type SuspectReason = (typeof SUSPECT_REASONS)[number]
/** A commit with how strongly it is suspected, and why. Scores order; they are no likelihoods. */
export interface Suspect {
  sha: string
  score: number
  reasons: SuspectReason[]
}

const WORD = /[A-Za-z_$][\w$]{2,}/g
/** How names come to be: by a keyword, as a field of an object or of what a module gives away. */
const DEFINES = new RegExp(
  String.raw`(?:function\*?|class|const|let|var|def|func|fn|type|interface|struct|enum|static|public|` +
    String.raw`private)\s+([A-Za-z_$][\w$]*)|(?:^|[{,;]|exports\.|this\.|self\.)\s*['"]?([A-Za-z_$][\w$]*)['"]?\s*[:=](?!=)`,
  'g',
)
/** Words that every program is full of say nothing about a cause. */
const COMMON = new Set(
  (
    'const let var function return import export from require module default class new this self null undefined true false ' +
    'none async await throw catch try else elif for while switch case break def assert equal test expect describe should ' +
    'error typeerror string number object value data result name type len length get set the and with not cannot read ' +
    'properties property reading exports'
  ).split(' '),
)
const SETTINGS = new RegExp(
  String.raw`(?:^|\/)(?:package(?:-lock)?\.json|requirements[\w-]*\.txt|pyproject\.toml|go\.(?:mod|sum)|Cargo\.(?:toml|` +
    String.raw`lock)|pom\.xml|Gemfile(?:\.lock)?|composer\.(?:json|lock)|[\w.-]*config[\w.-]*|.*\.(?:ya?ml|toml|ini|env|` +
    `properties))$`,
  'i',
)
const TEST_FILE = /(?:^|[/._-])(?:tests?|specs?|__tests__)(?:[/._-]|$)/i
const NEAR_LINES = 2
/** Weights found on histories with planted faults (docs/decisions/013); none of them is subtle: order is what counts. */
const WEIGHT = { wrote: 6, near: 3, file: 0.8, uses: 1.2, says: 1.4, named: 0.5, settings: 0.4, size: 0.35, age: 0.15 } as const
const USES_MAX = 4
const SAYS_MAX = 3

/**
 * The commits between good and bad, likeliest first: by who wrote the failing line last, what was changed near it and in its file, who
 * defines what the line uses, what the message names, and what the test is called after; a small change is likelier than one that touches
 * everything. Tests' own files count little: they are where it shows. O(commits × lines of their changes).
 */
export function rankSuspects(evidence: FailureEvidence, commits: readonly SuspectCommit[]): Suspect[] {
  const used = nearnessOf(evidence.code)
  // The frames below a message name files and folders, which say where and not what.
  const said = wordsOf(evidence.message.split(/\n\s*(?:at |File "|from |#\d)/, 1)[0] ?? '')
  const named = wordsOf(evidence.names.join(' ').replace(/([a-z])([A-Z])/g, '$1 $2'))
  // A word that many of the commits change tells none of them from the others.
  const spread = new Map<string, number>()
  for (const { files } of commits)
    for (const word of wordsOf(files.flatMap(({ added, removed }) => [...added, ...removed]).join('\n')))
      spread.set(word, (spread.get(word) ?? 0) + 1)
  for (const [word, nearness] of used) used.set(word, nearness / Math.sqrt(spread.get(word) ?? 1))
  return commits
    .map((commit) => suspect(evidence, commit, { used, said, named }))
    .sort((a, b) => b.score - a.score || (a.sha < b.sha ? -1 : 1))
}

interface Words {
  used: ReadonlyMap<string, number>
  said: ReadonlySet<string>
  named: ReadonlySet<string>
}

function suspect({ frames }: FailureEvidence, commit: SuspectCommit, { used, said, named }: Words): Suspect {
  const reasons = new Set<SuspectReason>()
  let score = 0
  const add = (reason: SuspectReason, weight: number) => {
    if (weight <= 0) return
    reasons.add(reason)
    score += weight
  }
  // An outer frame only led there.
  const depth = (at: number) => 1 / (1 + at)
  const careOf = (file: SuspectCommit['files'][number]) =>
    // A test shows a cause and seldom is one; what changes comments alone is none, and words in quotes seldom are.
    (TEST_FILE.test(file.path) ? 0.15 : 1) * (isProse(file) ? 0.1 : isTextOnly(file) ? 0.4 : 1)
  for (const at of commit.blamed) {
    const file = commit.files.find(({ path }) => path === frames[at]?.path)
    add('wrote-the-line', WEIGHT.wrote * depth(at) * (file ? careOf(file) : 1))
  }
  let lines = 0
  for (const file of commit.files) {
    const care = careOf(file)
    lines += file.added.length + file.removed.length
    const at = frames.findIndex(({ path }) => path === file.path)
    if (at >= 0) {
      add('same-file', WEIGHT.file * depth(at) * care)
      const { line, function: inside } = frames[at] as OwnFrame
      if (isIn(inside, file.within) || file.ranges.some(([from, to]) => line >= from - NEAR_LINES && line <= to + NEAR_LINES))
        add('near-the-line', WEIGHT.near * depth(at) * care)
    }
    const changed = wordsOf([...file.added, ...file.removed].join('\n'))
    const made = definedIn(file.added)
    const defined = new Set([...made, ...file.within.map((name) => name.toLowerCase())])
    // What is defined no more is what a renamed thing looks like from where it was used.
    const gone = [...definedIn(file.removed)].filter((word) => !made.has(word))
    const uses = nearest(used, changed, USES_MAX) * 0.25 + nearest(used, defined, USES_MAX) + nearest(used, new Set(gone), USES_MAX) * 1.5
    add('what-it-uses', WEIGHT.uses * Math.min(uses, USES_MAX) * care)
    add('what-it-says', WEIGHT.says * Math.min(countIn(said, changed), SAYS_MAX) * care)
    add('named-alike', WEIGHT.named * Math.min(countIn(named, wordsOf(file.path.replace(/[/._-]/g, ' '))), 3) * care)
    if (SETTINGS.test(file.path)) add('settings', WEIGHT.settings)
  }
  const careOfAll = Math.max(0.1, ...commit.files.map(careOf))
  add('named-alike', WEIGHT.named * 0.6 * careOfAll * Math.min(countIn(new Set([...named, ...said]), wordsOf(commit.message)), 3))
  // Much changed says little about each line; a newer commit is a little likelier, since the older ones were run more often.
  score = score / (1 + WEIGHT.size * Math.log10(1 + lines)) + WEIGHT.age / (1 + commit.age)
  return { sha: commit.sha, score, reasons: [...reasons] }
}

function wordsOf(text: string): Set<string> {
  return new Set([...text.matchAll(WORD)].map(([word]) => word.toLowerCase()).filter((word) => !COMMON.has(word)))
}

/** How near each word of the code lies to the failure. */
function nearnessOf(code: FailureEvidence['code']): Map<string, number> {
  const nearness = new Map<string, number>()
  for (const { text, nearness01 } of code)
    for (const word of wordsOf(text)) nearness.set(word, Math.max(nearness.get(word) ?? 0, nearness01))
  return nearness
}

/** The sum of the nearest so many words that are among the wanted. */
function nearest(nearness: ReadonlyMap<string, number>, wanted: ReadonlySet<string>, count: number): number {
  const found = [...wanted].flatMap((word) => nearness.get(word) ?? [])
  return found
    .sort((a, b) => b - a)
    .slice(0, count)
    .reduce((sum, one) => sum + one, 0)
}

/** `fire` of `async fire`, `Object.fire`, `new Kiln.fire`. */
function isIn(inside: string | null, names: readonly string[]): boolean {
  return inside !== null && names.includes(inside.split(/[.\s:#]+/).at(-1) ?? '')
}

/** Whether only the texts in quotes differ. */
function isTextOnly({ added, removed }: { added: readonly string[]; removed: readonly string[] }): boolean {
  const bare = (lines: readonly string[]) => lines.map((line) => line.replace(/'[^']*'|"[^"]*"|`[^`]*`/g, '""')).join('\n')
  return added.length > 0 && bare(added) === bare(removed)
}

const COMMENT = /^(?:\/\/|#(?!include|define)|\*|\/\*|--\s|<!--|"{3}|'{3})/
function isProse({ path, added, removed }: { path: string; added: readonly string[]; removed: readonly string[] }): boolean {
  if (/\.(?:md|txt|rst|adoc)$/i.test(path)) return true
  const lines = [...added, ...removed].map((line) => line.trim()).filter(Boolean)
  return lines.length > 0 && lines.every((line) => COMMENT.test(line))
}

/** The names that changed lines define: functions, classes, constants, fields of an object. */
function definedIn(lines: readonly string[]): Set<string> {
  const defined = new Set<string>()
  for (const line of lines)
    for (const [, named, field] of line.matchAll(DEFINES)) {
      const name = named ?? field
      if (name) defined.add(name.toLowerCase())
    }
  return defined
}

function countIn(wanted: ReadonlySet<string>, words: ReadonlySet<string>): number {
  let count = 0
  for (const word of wanted) if (words.has(word)) count++
  return count
}
