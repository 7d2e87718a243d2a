import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { addressOf } from '#people/operation'
import { holdsArchived, PERMISSIONS, roleAllows, ROLES, type Permission } from '#people/permissions'
import { mayAnywhere, mayIn, projectsWhere, roleIn, type Standing } from '#people/standing'
import { ApiProblem, createClient } from './client.js'
import { OPERATIONS } from './operations.js'

const declared = Object.entries(OPERATIONS)
/** The parameter that names the thing an operation is about. */
const NAMED_BY = {
  project: 'project',
  item: 'key',
  fault: 'fault',
  service: 'service',
  repository: 'repository',
  requirement: 'key',
  release: 'release',
  deployment: 'id',
  import: 'importId',
} as const

describe('the table of operations', () => {
  test('has each method and path once', () => {
    const places = declared.map(([, { method, path }]) => `${method} ${path.replace(/[:*]\w+/g, ':')}`)
    expect(places.filter((place, at) => places.indexOf(place) !== at)).toEqual([])
  })

  test.each(declared)('%s names in its path what it is about, and says so in a sentence', (_name, { about, path, summary }) => {
    if (about !== 'nothing') expect(path).toContain(`:${NAMED_BY[about]}`)
    expect(summary).toMatch(/^[A-Z].{3,}[^.]$/)
  })

  test.each(declared.filter(([, { method }]) => method !== 'get'))(
    '%s changes something, so that it takes a right or no account at all',
    (_name, { may, path }) => {
      // What is one's own (inbox, choices), what only looks, and what one sets for oneself alone takes no right in a project.
      const isOwn = /^\/(?:inbox|me)\b|\/(?:note|follow|pin|preview|try)$|\/views\//.test(path)
      if (!isOwn) expect(may).not.toBe('member-of-any')
    },
  )
})

describe('addresses', () => {
  test('come back from what the path was made of, whatever it holds', () => {
    fc.assert(
      fc.property(fc.string({ minLength: 1, unit: 'grapheme' }), fc.string({ minLength: 1, unit: 'grapheme' }), (project, name) => {
        const address = addressOf(OPERATIONS.removeMilestone, { params: { project, name } })
        const parts = address.split('/').map(decodeURIComponent)
        expect(parts).toEqual(['', 'projects', project, 'milestones', name])
      }),
    )
  })

  test('leave out what was not asked, and keep slashes only where a path takes the rest', () => {
    expect(addressOf(OPERATIONS.listCommits, { query: { limit: 3, cursor: undefined } })).toBe('/commits?limit=3')
    expect(addressOf(OPERATIONS.readThread, { params: { id: 'commit:kiln/ab c' } })).toBe('/threads/commit%3Akiln/ab%20c')
    expect(addressOf(OPERATIONS.readCommit, { params: { sha: 'kiln/ab' } })).toBe('/commits/kiln%2Fab')
  })
})

describe('the client', () => {
  const answering = (status: number, text: string) => {
    const asked: { url: string; init: { method: string; headers: Record<string, string>; body?: string } }[] = []
    const client = createClient({
      baseUrl: 'http://dystracer.example',
      headers: { authorization: 'Bearer x' },
      fetch: async (url, init) => {
        asked.push({ url, init })
        return { ok: status < 300, status, text: async () => text }
      },
    })
    return { asked, client }
  }

  test('sends the method, the path and the body of the operation', async () => {
    const { asked, client } = answering(200, '{"key":"EMB-1"}')
    expect(await client.moveItem({ params: { key: 'EMB-1' }, body: { project: 'OPS' } })).toEqual({ key: 'EMB-1' })
    expect(asked).toEqual([
      {
        url: 'http://dystracer.example/api/v1/items/EMB-1/move',
        init: { method: 'POST', headers: { authorization: 'Bearer x', 'content-type': 'application/json' }, body: '{"project":"OPS"}' },
      },
    ])
  })

  test('gives a table as its text', async () => {
    expect(await answering(200, 'key,title\n').client.exportCsv({ query: {} })).toBe('key,title\n')
  })

  test('throws what the server refuses, also when a proxy answers in its own words', async () => {
    const problem = {
      type: '/problems/not-found',
      title: 'There is nothing here',
      status: 404,
      code: 'not-found',
      detail: 'There is no item EMB-9.',
    }
    const refused = answering(404, JSON.stringify(problem)).client.readItem({ params: { key: 'EMB-9' } })
    await expect(refused).rejects.toThrow('There is no item EMB-9.')
    await expect(refused).rejects.toBeInstanceOf(ApiProblem)
    await expect(answering(502, '<h1>Bad gateway</h1>').client.readMe({})).rejects.toThrow('Bad gateway')
  })
})

const roles = fc.option(fc.constantFrom(...ROLES), { nil: null })
const standings = fc.record<Standing>({
  roles: fc.dictionary(fc.constantFrom('EMB', 'OPS', 'KS'), fc.constantFrom(...ROLES)),
  everywhere: roles,
})
const permissions = fc.constantFrom(...(Object.keys(PERMISSIONS) as Permission[]))

describe('rights', () => {
  test('grow with the role: what a role may, the higher ones may', () => {
    fc.assert(
      fc.property(permissions, fc.nat(ROLES.length - 2), (permission, at) => {
        if (roleAllows(ROLES[at] ?? null, permission)) expect(roleAllows(ROLES[at + 1] ?? null, permission)).toBe(true)
        expect(roleAllows(null, permission)).toBe(false)
      }),
    )
  })

  test('hold in the projects of a role and nowhere else, unless they hold everywhere', () => {
    fc.assert(
      fc.property(standings, permissions, fc.constantFrom('EMB', 'OPS', 'KS', 'constructor'), (standing, permission, project) => {
        const own = Object.hasOwn(standing.roles, project) ? (standing.roles[project] ?? null) : null
        expect(mayIn(standing, permission, project)).toBe(roleAllows(own, permission) || roleAllows(standing.everywhere, permission))
        expect(projectsWhere(standing, permission).includes(project)).toBe(roleAllows(own, permission))
        if (mayIn(standing, permission, project)) expect(mayAnywhere(standing, permission)).toBe(true)
        if (own === null && standing.everywhere === null) expect(roleIn(standing, project)).toBeNull()
      }),
    )
  })

  test('that change anything are lost in an archived project, and the others stay', () => {
    fc.assert(
      fc.property(standings, permissions, (standing, permission) => {
        const archived = { ...standing, archived: ['EMB'] }
        expect(mayIn(archived, permission, 'EMB')).toBe(holdsArchived(permission) && mayIn(standing, permission, 'EMB'))
        expect(mayIn(archived, permission, 'OPS')).toBe(mayIn(standing, permission, 'OPS'))
        expect(projectsWhere(archived, permission)).toEqual(
          projectsWhere(standing, permission).filter((project) => project !== 'EMB' || holdsArchived(permission)),
        )
      }),
    )
  })
})
