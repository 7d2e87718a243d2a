import type { Exploration, ExplorationDetail, ExplorationNote } from '@dystracer/core/exploring/wire'
import { Problem } from '@dystracer/core/basics/problem'
import type { Who } from '@dystracer/core/people/who'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { isShown } from '#subjects/cases/index'
import { maySee } from '#subjects/records/index'
import { GET_EXPLORATION, LIST_EXPLORATION, LIST_EXPLORATION_NOTE } from './exploring.queries.js'

/** An exploration as its table holds it. */
export interface ExplorationRow {
  exploration_id: string
  question: string
  text: string
  points: string
  about: string
  release: string | null
  box_minutes: number | null
  by: string
  at_ms: number
  done_points: string
  spent_ms: number
  running_since_ms: number | null
  ended_by: string | null
  ended_at_ms: number | null
  ended_words: string | null
}

/** An exploration. Throws `not-found`. */
export function requireExploration(ctx: Pick<ServiceContext, 'db'>, project: string, explorationId: string): ExplorationRow {
  const row = sql(ctx.db, GET_EXPLORATION).get<ExplorationRow>({ project, explorationId })
  if (!row) throw new Problem('not-found', { detail: 'There is no such exploration.' })
  return row
}

function pointsOf(row: ExplorationRow): ExplorationDetail['points'] {
  const done = new Set(JSON.parse(row.done_points) as string[])
  return (JSON.parse(row.points) as string[]).map((point) => ({ point, isDone: done.has(point) }))
}

function toExploration(row: ExplorationRow): Omit<Exploration, 'points' | 'notes'> {
  return {
    explorationId: row.exploration_id,
    question: row.question,
    release: row.release,
    boxMinutes: row.box_minutes,
    spentMs: row.spent_ms,
    runningSinceMs: row.running_since_ms,
    by: row.by,
    atMs: row.at_ms,
    ended: row.ended_at_ms === null ? null : { by: row.ended_by ?? '', atMs: row.ended_at_ms, words: row.ended_words ?? '' },
  }
}

/** The explorations of a project: those that go on first, then the newest. */
export function listExplorations(ctx: ServiceContext, project: string): Exploration[] {
  return sql(ctx.db, LIST_EXPLORATION)
    .all<ExplorationRow & { notes: number; trouble: number }>({ project })
    .map(({ notes, trouble, ...row }) => {
      const points = pointsOf(row)
      return {
        ...toExploration(row),
        points: { done: points.filter(({ isDone }) => isDone).length, all: points.length },
        notes: { all: notes, trouble },
      }
    })
}

/** An exploration whole; keys that the asker may not see are left out. Throws `not-found`. */
export function readExploration(ctx: ServiceContext, who: Who, project: string, explorationId: string): ExplorationDetail {
  const row = requireExploration(ctx, project, explorationId)
  return {
    ...toExploration(row),
    project,
    text: row.text,
    about: (JSON.parse(row.about) as string[]).filter((key) => isShown(ctx, who, key)),
    points: pointsOf(row),
    notes: sql(ctx.db, LIST_EXPLORATION_NOTE)
      .all<ExplorationNote>({ project, explorationId })
      .map((note) => ({ ...note, item: note.item !== null && maySee(ctx.db, who, note.item) ? note.item : null })),
  }
}

const SORT_WORDS: Record<ExplorationNote['sort'], string> = { seen: 'Seen', question: 'Question', idea: 'Idea', trouble: 'Trouble' }

/** An exploration as Markdown, for whoever was not there. Throws `not-found`. */
export function explorationAsMarkdown(ctx: ServiceContext, who: Who, project: string, explorationId: string): string {
  const { question, text, about, release, spentMs, boxMinutes, points, notes, ended } = readExploration(ctx, who, project, explorationId)
  const minutes = Math.round(spentMs / 60_000)
  return `${[
    `# ${question}`,
    [
      release === null ? '' : `Of ${release}. `,
      `${minutes} min spent`,
      boxMinutes === null ? '.' : ` of ${boxMinutes}.`,
      about.length === 0 ? '' : ` About ${about.join(', ')}.`,
    ].join(''),
    text.trim(),
    points.map(({ point, isDone }) => `- [${isDone ? 'x' : ' '}] ${point}`).join('\n'),
    ended === null ? '' : `## What came of it\n\n${ended.words || 'Nothing was said.'}`,
    notes.length === 0 ? '' : '## Notes',
    ...notes.map(({ sort, words, item, atMs }) => {
      const at = new Date(atMs).toISOString().slice(0, 16).replace('T', ' ')
      return `**${SORT_WORDS[sort]}**${item === null ? '' : `, logged as ${item}`} (${at} UTC)\n\n${words}`
    }),
  ]
    .filter((part) => part !== '')
    .join('\n\n')}\n`
}
