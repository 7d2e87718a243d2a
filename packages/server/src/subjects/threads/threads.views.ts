import { firstLine } from '@dystracer/core/text/first-line'
import { isDefectType, type ItemTypeDefinition } from '@dystracer/core/setup/item-type'
import { readSetup } from '#subjects/setup/index'
import { formatNodeRef, parseNodeRef, splitRepositoryId, type NodeRef } from '@dystracer/core/basics/node-ref'
import { Problem } from '@dystracer/core/basics/problem'
import type { ThreadAnswer } from '@dystracer/core/threads/wire'
import { findGaps } from '@dystracer/core/threads/find-gaps'
import { COLUMN_BY_KIND, type NodeTone, type Thread, type ThreadEdge, type ThreadNode } from '@dystracer/core/threads/thread'
import { sql } from '#platform/db/statements'
import type { JournalEntry } from '@dystracer/core/contract/events'
import { listEntriesOfSubject } from '#platform/journal/journal.queries'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { commitsOfPullRequest, getCommit } from '#subjects/code/index'
import { toHistory } from '#subjects/items/index'
import { readLadderInput } from '#subjects/ladder/index'
import {
  currentKey,
  getItem,
  itemsTiedTo,
  listAssertions,
  listItemsByKeys,
  maySee,
  maySeeEntry,
  titleOfNode,
} from '#subjects/records/index'
import { itemsOfRelease } from '#subjects/releases/index'
import {
  GET_BUILD_BY_REPOSITORY_AND_NUMBER,
  GET_PULL_REQUEST_BY_REPOSITORY_AND_NUMBER,
  HAS_REQUIREMENT_BY_KEY,
  LIST_DEPLOYMENT_BY_SERVICE,
  LIST_ITEM_BY_ID,
  LIST_REPOSITORY_BY_KEY,
} from './threads.queries.js'

const ITEMS_MAX = 40
const COMMITS_SHOWN_MAX = 3
const HISTORY_MAX = 60

/** The thread of anything: the items that hang on it and, from each, everything from its requirement to what runs. Throws `not-found`. */
export function readThread(ctx: ServiceContext, who: Who, text: string): ThreadAnswer {
  const start = toRef(ctx, who, text)
  const builder = new ThreadBuilder(ctx)
  builder.addNode(start)
  const all = seedItems(ctx, start)
  const keys = all.filter((key) => maySee(ctx.db, who, key)).slice(0, ITEMS_MAX)
  const hidden = all.filter((key) => !maySee(ctx.db, who, key)).length
  for (const key of keys) builder.addItem(key)
  if (hidden > 0) builder.addHidden(formatNodeRef(start), hidden)
  const thread = builder.finish(formatNodeRef(start), new Map(listItemsByKeys(ctx.db, keys).map((item) => [item.key, item.stage])))
  return { ...thread, history: readThreadHistory(ctx, who, start, keys) }
}

/** `EMB-1`, `SAF-3`, `F-2`, a hash, or `kind:id`. */
function toRef(ctx: ServiceContext, who: Who, text: string): NodeRef {
  const known = parseNodeRef(text)
  const key = text.toUpperCase()
  const ref: NodeRef | null =
    known ??
    (/^F-\d+$/.test(key)
      ? { kind: 'fault', id: key }
      : getItem(ctx.db, currentKey(ctx.db, key))
        ? { kind: 'item', id: key }
        : sql(ctx.db, HAS_REQUIREMENT_BY_KEY).get({ key })
          ? { kind: 'requirement', id: key }
          : null)
  if (!ref) throw new Problem('not-found', { detail: `Nothing is called ${text}.` })
  if (ref.kind === 'item') ref.id = currentKey(ctx.db, ref.id)
  const isThere =
    ref.kind === 'item'
      ? getItem(ctx.db, ref.id) && maySee(ctx.db, who, ref.id)
      : ref.kind === 'requirement'
        ? sql(ctx.db, HAS_REQUIREMENT_BY_KEY).get({ key: ref.id })
        : true
  if (!isThere) throw new Problem('not-found', { detail: `There is no ${ref.kind} ${ref.id}.` })
  return ref
}

function seedItems(ctx: ServiceContext, start: NodeRef): string[] {
  if (start.kind === 'item') return [start.id]
  if (start.kind === 'release') return itemsOfRelease(ctx, start.id)
  if (start.kind === 'fault') {
    const own = sql(ctx.db, LIST_ITEM_BY_ID)
      .all<{ key: string }>({ id: start.id })
      .map((row) => row.key)
    return [...new Set([...own, ...itemsTiedTo(ctx.db, start)])]
  }
  const parts = splitRepositoryId(start.id)
  if (start.kind === 'build' && parts) {
    const build = sql(ctx.db, GET_BUILD_BY_REPOSITORY_AND_NUMBER).get<{
      sha: string
      branch: string
    }>({ repository: parts.repository, number: Number(parts.rest) })
    return build
      ? [
          ...new Set([
            ...itemsTiedTo(ctx.db, { kind: 'commit', id: `${parts.repository}/${build.sha}` }),
            ...itemsTiedTo(ctx.db, { kind: 'branch', id: `${parts.repository}/${build.branch}` }),
          ]),
        ]
      : []
  }
  if (start.kind === 'environment') return []
  return itemsTiedTo(ctx.db, start)
}

class ThreadBuilder {
  readonly #ctx: ServiceContext
  readonly #nodes = new Map<string, ThreadNode>()
  readonly #types = new Map<string, readonly ItemTypeDefinition[]>()
  readonly #edges = new Map<string, ThreadEdge>()

  constructor(ctx: ServiceContext) {
    this.#ctx = ctx
  }

  addNode(ref: NodeRef, parts: { title?: string; subtitle?: string; tone?: NodeTone } = {}): string {
    const id = formatNodeRef(ref)
    if (!this.#nodes.has(id)) {
      const { title, subtitle, tone } = this.#describe(ref)
      this.#nodes.set(id, {
        id,
        ref,
        column: COLUMN_BY_KIND[ref.kind],
        title: parts.title ?? title,
        subtitle: parts.subtitle ?? subtitle,
        tone: parts.tone ?? tone,
      })
    }
    return id
  }

  /** What the asker may not see is counted, not named (docs/rules.md#unseen). */
  addHidden(start: string, count: number): void {
    const id = 'hidden'
    this.#nodes.set(id, {
      id,
      ref: null,
      column: 'items',
      title: count === 1 ? '1 thing' : `${count} things`,
      subtitle: 'you may not see',
      tone: 'plain',
    })
    this.#edge(start, id, { kind: 'hidden', provenance: 'person' })
  }

  addItem(key: string): void {
    const db = this.#ctx.db
    const itemRef: NodeRef = { kind: 'item', id: key }
    const itemId = this.addNode(itemRef)
    for (const link of listAssertions(db, itemRef)) {
      if (link.from_kind !== 'item' || link.from_id !== key) continue
      const to: NodeRef = { kind: link.to_kind, id: link.to_id }
      if (to.kind === 'commit' || to.kind === 'branch' || to.kind === 'pull-request' || to.kind === 'item') continue
      this.#edge(to.kind === 'requirement' ? this.addNode(to) : itemId, to.kind === 'requirement' ? itemId : this.addNode(to), {
        kind: link.kind,
        provenance: link.provenance,
        statedBy: link.stated_by,
        atMs: link.at_ms,
        tone: link.kind === 'breaks' ? 'fault' : 'proof',
      })
    }
    this.#addCode(key, itemId)
  }

  /**
   * Commits (folded when there are many), the pull requests and builds that carried them, the releases that hold the fix and where those
   * run.
   */
  #addCode(key: string, itemId: string): void {
    const ctx = this.#ctx
    const input = readLadderInput(ctx, key)
    if (!input) return
    const links = listAssertions(ctx.db, { kind: 'item', id: key })
    const linkTo = (ref: NodeRef) => links.find((link) => link.to_kind === ref.kind && link.to_id === ref.id)
    const codeIds: string[] = []
    const shown = input.commits.length > COMMITS_SHOWN_MAX ? input.commits.slice(-1) : input.commits
    for (const commit of shown) {
      const ref: NodeRef = { kind: 'commit', id: `${commit.repository}/${commit.sha}` }
      const link = linkTo(ref)
      const folded = input.commits.length - shown.length
      const id = this.addNode(ref, folded > 0 ? { title: `${input.commits.length} commits`, subtitle: commit.subject } : {})
      codeIds.push(id)
      this.#edge(itemId, id, {
        kind: link?.kind ?? 'tied',
        provenance: link?.provenance ?? 'commit',
        statedBy: link?.stated_by ?? null,
        atMs: link?.at_ms ?? null,
      })
    }
    if (codeIds.length === 0) {
      for (const branch of input.branches.filter((entry) => !entry.isGone)) {
        const id = this.addNode({ kind: 'branch', id: `${branch.repository}/${branch.name}` })
        codeIds.push(id)
        this.#edge(itemId, id, { kind: 'tied', provenance: 'branch-name', atMs: branch.atMs })
      }
    }
    const reviewIds = this.#addReviews(input.pullRequests, itemId, codeIds)
    for (const release of input.containingReleases.slice(0, 1)) {
      const id = this.addNode({ kind: 'release', id: `${release.service}@${release.release}` })
      for (const from of reviewIds.length > 0 ? reviewIds : codeIds)
        this.#edge(from, id, { kind: 'contained in', provenance: 'git', atMs: release.atMs })
    }
    const names = new Set(input.containingReleases.map((release) => release.release))
    for (const release of input.containingReleases.slice(0, 1)) {
      const rows = sql(ctx.db, LIST_DEPLOYMENT_BY_SERVICE).all<{ environment: string; release: string; running_at_ms: number }>({
        service: release.service,
      })
      for (const row of rows.filter((entry) => names.has(entry.release))) {
        const id = this.addNode(
          { kind: 'environment', id: row.environment },
          { subtitle: `${release.service} ${row.release}`, tone: 'proof' },
        )
        this.#edge(formatNodeRef({ kind: 'release', id: `${release.service}@${release.release}` }), id, {
          kind: 'runs in',
          provenance: 'deployment',
          atMs: row.running_at_ms,
        })
      }
    }
  }

  #addReviews(
    pullRequests: NonNullable<ReturnType<typeof readLadderInput>>['pullRequests'],
    itemId: string,
    codeIds: readonly string[],
  ): string[] {
    return pullRequests
      .filter((pr) => pr.state !== 'closed')
      .map((pr) => {
        const ref: NodeRef = { kind: 'pull-request', id: `${pr.repository}/${pr.number}` }
        const build = pr.build ? ` · build ${pr.build.number} ${pr.build.state}` : ''
        const id = this.addNode(ref, {
          title: `Pull request ${pr.number}`,
          subtitle: `${pr.state}${build}`,
          tone: pr.build?.state === 'broke' && pr.state === 'open' ? 'fault' : 'proof',
        })
        const row = sql(this.#ctx.db, GET_PULL_REQUEST_BY_REPOSITORY_AND_NUMBER).get<{
          repository: string
          head_sha: string
          merge_sha: string | null
          base_sha: string | null
        }>({ repository: pr.repository, number: pr.number })
        const brought = new Set(row ? commitsOfPullRequest(this.#ctx, row).map((sha) => `commit:${pr.repository}/${sha}`) : [])
        const from = codeIds.filter((code) => brought.has(code) || code.startsWith('branch:'))
        for (const code of from.length > 0 ? from : [itemId])
          this.#edge(code, id, { kind: 'reviewed in', provenance: 'git', atMs: pr.atMs })
        return id
      })
  }

  #edge(from: string, to: string, parts: Partial<ThreadEdge> & Pick<ThreadEdge, 'kind' | 'provenance'>): void {
    const key = `${from}\n${to}`
    if (!this.#edges.has(key)) this.#edges.set(key, { from, to, statedBy: null, atMs: null, score01: null, tone: 'proof', ...parts })
  }

  #isDefect({ project, type }: { project: string; type: string }): boolean {
    const types = this.#types.get(project) ?? readSetup(this.#ctx.db, project).types
    this.#types.set(project, types)
    return isDefectType(types, type)
  }

  #describe(ref: NodeRef): { title: string; subtitle: string; tone: NodeTone } {
    const db = this.#ctx.db
    if (ref.kind === 'item') {
      const item = getItem(db, ref.id)
      const isBroken =
        item?.has_come_back === 1 ||
        (item !== undefined &&
          this.#isDefect(item) &&
          item.disposition === null &&
          !['merged', 'released', 'verified'].includes(item.stage))
      return { title: `${ref.id} ${item?.type ?? ''}`, subtitle: item?.title ?? '', tone: isBroken ? 'fault' : 'proof' }
    }
    if (ref.kind === 'commit') {
      const parts = splitRepositoryId(ref.id)
      const row = parts && getCommit(db, parts.repository, parts.rest)
      return { title: row?.sha.slice(0, 7) ?? ref.id, subtitle: firstLine(row?.message ?? ''), tone: 'proof' }
    }
    if (ref.kind === 'fault') return { title: ref.id, subtitle: titleOfNode(db, ref), tone: 'fault' }
    if (ref.kind === 'release')
      return { title: ref.id.slice(ref.id.lastIndexOf('@') + 1), subtitle: ref.id.slice(0, ref.id.lastIndexOf('@')), tone: 'proof' }
    return {
      title: ref.kind === 'requirement' ? ref.id : titleOfNode(db, ref),
      subtitle: ref.kind === 'requirement' ? titleOfNode(db, ref) : (splitRepositoryId(ref.id)?.repository ?? ''),
      tone: 'plain',
    }
  }

  /** Adds what is missing as drawn gaps. */
  finish(start: string, stageByItem: ReadonlyMap<string, string>): Thread {
    for (const node of [...this.#nodes.values()]) if (node.ref?.kind === 'requirement') this.#addTests(node.ref.id, node.id)
    const gaps = findGaps([...this.#nodes.values()], [...this.#edges.values()], stageByItem)
    for (const gap of gaps) {
      const { column, title } = GAP_DRAWN[gap.code]
      const id = `gap:${gap.code}:${gap.of}`
      this.#nodes.set(id, { id, ref: null, column, title, subtitle: gap.of.slice(gap.of.indexOf(':') + 1), tone: 'missing' })
      this.#edges.set(`${gap.of}\n${id}`, {
        from: gap.of,
        to: id,
        kind: 'missing',
        provenance: 'git',
        statedBy: null,
        atMs: null,
        score01: null,
        tone: 'missing',
      })
    }
    return { start, nodes: [...this.#nodes.values()], edges: [...this.#edges.values()], gaps }
  }

  #addTests(key: string, from: string): void {
    const rows = sql(this.#ctx.db, LIST_REPOSITORY_BY_KEY).all<{ repository: string; passed: number; failed: number }>({ key })
    for (const row of rows) {
      const id = this.addNode(
        { kind: 'test', id: `${row.repository}/${key}` },
        {
          title: `${row.passed + row.failed} tests prove ${key}`,
          subtitle: row.failed > 0 ? `${row.failed} failed` : 'all passed',
          tone: row.failed > 0 ? 'fault' : 'proof',
        },
      )
      this.#edge(from, id, { kind: 'verified by', provenance: 'report', tone: row.failed > 0 ? 'fault' : 'proof' })
    }
  }
}

const GAP_DRAWN: Record<Thread['gaps'][number]['code'], { column: ThreadNode['column']; title: string }> = {
  'requirement-without-item': { column: 'items', title: 'no item' },
  'item-without-code': { column: 'code', title: 'no commit' },
  'fix-without-release': { column: 'release', title: 'not released' },
  'requirement-without-test': { column: 'review', title: 'no test' },
}

function readThreadHistory(ctx: ServiceContext, who: Who, start: NodeRef, keys: readonly string[]): ThreadAnswer['history'] {
  const subjects = [...new Set([formatNodeRef(start), ...keys.slice(0, 12).map((key) => `item:${key}`)])]
  const bySeq = new Map<number, { entry: JournalEntry; subject: string }>()
  for (const subject of subjects)
    for (const entry of listEntriesOfSubject(ctx.db, subject, Number.MAX_SAFE_INTEGER, HISTORY_MAX))
      if (isWorthTelling(entry) && maySeeEntry(ctx.db, who, entry)) bySeq.set(entry.seq, { entry, subject })
  return [...bySeq.values()]
    .sort((a, b) => b.entry.atMs - a.entry.atMs || b.entry.seq - a.entry.seq)
    .slice(0, HISTORY_MAX)
    .map(({ entry, subject }) => {
      const { source: _source, ...row } = toHistory(entry)
      return { ...row, subject }
    })
}

/** A ladder that took in more evidence on the same stage says nothing that the evidence's own entry does not. */
function isWorthTelling(entry: JournalEntry): boolean {
  if (entry.kind !== 'ladder-moved') return true
  const body = entry.body as { from: string; ladder: { stage: string; hasComeBack: boolean } }
  return body.from !== body.ladder.stage || body.ladder.hasComeBack
}
