import { Problem } from '@dystracer/core/basics/problem'
import type { ServiceContext } from '#platform/context'
import { sql } from '#platform/db/statements'
import { escapeXml } from '#platform/escape-xml'
import { type BuildRow, mainBranchOf } from '#subjects/code/index'
import { isSignOf, signOf } from '#subjects/people/index'
import { LIST_ENDED_BUILD_OF_BRANCH } from './builds.queries.js'

/** The private link to the picture of a repository's main line. Who has it learns how that stands, and nothing else. */
export function badgeLink(ctx: Pick<ServiceContext, 'db' | 'config'>, repository: string): { address: string } {
  const claim = Buffer.from(repository).toString('base64url')
  return { address: `${ctx.config.publicUrl}/badges/${claim}.${signOf(ctx, 'badge', claim)}.svg` }
}

const STATES = {
  passed: { word: 'passes', colour: '#1d6f5f' },
  broke: { word: 'is broken', colour: '#b3361d' },
  none: { word: 'no build yet', colour: '#6b6a62' },
} as const
/** How wide a letter is at this size, on the whole; a picture cannot measure its own text. */
const LETTER_PX = 6.4
const PAD_PX = 8

/**
 * The picture that a link's name means. Throws `not-found` for a name that this installation did
 * not make, or a repository that is gone.
 */
export function readBadge(ctx: ServiceContext, name: string): string {
  const [, claim = '', sign = ''] = /^([\w-]{1,400})\.([\w-]{1,64})\.svg$/.exec(name) ?? []
  if (!isSignOf(ctx, 'badge', claim, sign)) throw new Problem('not-found', { detail: 'This link opens nothing. Make a new one.' })
  const repository = Buffer.from(claim, 'base64url').toString('utf8')
  const branch = mainBranchOf(ctx.db, repository)
  if (branch === null) throw new Problem('not-found', { detail: 'Its repository is read here no more.' })
  const [newest] = sql(ctx.db, LIST_ENDED_BUILD_OF_BRANCH).all<BuildRow>({ repository, branch })
  const { word, colour } = STATES[newest?.state === 'passed' ? 'passed' : newest?.state === 'broke' ? 'broke' : 'none']
  return drawBadge(`${repository} ${branch}`, word, colour)
}

function drawBadge(label: string, word: string, colour: string): string {
  const text = `${label} ${word}`
  const widthPx = Math.round(text.length * LETTER_PX + 2 * PAD_PX + 12)
  const title = escapeXml(text)
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${widthPx}" height="22" role="img" aria-label="${title}"><title>${title}</title>
  <rect width="${widthPx}" height="22" fill="#fffefb" stroke="#ded8ca"/><rect x="6" y="10" width="12" height="3" fill="${colour}"/>
  <text x="${PAD_PX + 16}" y="15" font-family="system-ui,sans-serif" font-size="12" ` +
    `fill="#1e2421">${escapeXml(label)} <tspan fill="${colour}" font-weight="bold">${word}</tspan></text>
</svg>
`
  )
}
