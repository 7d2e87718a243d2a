import { expect, test } from '@jest/globals'
import { waitFor, within } from '@testing-library/react'
import type { Health as HealthFacts } from '@dystracer/core/desk/health-wire'
import type { AuditEntry } from '@dystracer/core/people/audit-wire'
import { aMe } from '#shared/test/a-me'
import { show } from '#shared/test/shown'
import { AuditTrail } from './AuditTrail'
import { Health } from './Health'

const NEVER = { push: null, fetch: null, build: null, occurrence: null, deployment: null, backup: null, rehearsal: null }
const WELL: HealthFacts = {
  last: { ...NEVER, push: 1_790_000_000_000, backup: 1_790_000_000_000 },
  repositoriesInTrouble: [],
  mail: { isSetUp: true, refusals: 0 },
  threads: [{ name: 'git', trouble: null, restarts: 0, waiting: 0 }],
  files: [
    { name: 'dystracer.db', sizeBytes: 3.5 * 2 ** 20 },
    { name: 'occurrences.db', sizeBytes: 20 * 2 ** 30 },
  ],
  disk: { freeBytes: 500 * 2 ** 20, isLow: false },
  journal: { entries: 42, chain: 'c0ffee' },
}
const health = async (facts: HealthFacts) => {
  const page = show(<Health />, { answers: { readHealth: () => facts } })
  await page.findByRole('region', { name: 'Journal' })
  const line = (name: string) => page.getByText(name, { selector: 'dt' }).nextElementSibling
  return { ...page, line }
}

test('an installation that is well says so in plain words, and nothing in red', async () => {
  const { line, container, queryByText } = await health(WELL)
  expect(line('git')?.textContent).toBe('runs')
  expect(line('Mail to people')?.textContent).toBe('goes out')
  expect([line('dystracer.db')?.textContent, line('occurrences.db')?.textContent]).toEqual(['3.5 MiB', '20 GiB'])
  expect(line('Free on the disk')?.textContent).toBe('500 MiB')
  expect(line('Head, to be kept elsewhere')?.textContent).toBe('42:c0ffee')
  expect(line('Build')?.textContent).toBe('never')
  expect(queryByText('Cannot be fetched')).toBeNull()
  expect(container.querySelectorAll('.text-fault')).toHaveLength(0)
})

test('what is wrong is said with what to do, and marked', async () => {
  const { line } = await health({
    ...WELL,
    last: NEVER,
    repositoriesInTrouble: ['kiln', 'planner'],
    mail: { isSetUp: false, refusals: 1 },
    threads: [{ name: 'git', trouble: 'out of memory', restarts: 2, waiting: 5 }],
    disk: { freeBytes: 0, isLow: true },
  })
  const told = (name: string) => [line(name)?.textContent, line(name)?.className.includes('text-fault')]
  expect(told('Backup')).toEqual([expect.stringContaining('dystracer backup FOLDER'), true])
  expect(told('Cannot be fetched')).toEqual(['kiln, planner', true])
  expect(told('Mail to people')).toEqual(['is not set up: invitations are links to copy; 1 person cannot be reached', true])
  expect(told('git')).toEqual(['does not run: out of memory, 5 waiting, started again 2 times', true])
  expect(told('Free on the disk')).toEqual([expect.stringContaining('wait until there is more'), true])
})

const entry = (auditId: number, given: Partial<AuditEntry> = {}): AuditEntry => ({
  auditId,
  atMs: 1_790_000_000_000,
  kind: 'signed-in',
  actor: 'person:ines',
  about: 'ines',
  place: 'a browser at 10.0.0.7',
  facts: {},
  ...given,
})

test('the trail names who did what to whom, marks refusals, and goes back page by page', async () => {
  const { findByText, getAllByRole, queryByRole, getByRole, user } = show(<AuditTrail />, {
    answers: {
      readMe: () => aMe(),
      listAudit: ({ query }) =>
        query.cursor === 'older'
          ? { rows: [entry(1, { kind: 'restored', actor: 'guest', about: null })], nextCursor: null }
          : {
              rows: [
                entry(4, { kind: 'role-changed', about: 'rafe', facts: { role: 'lead', was: '' } }),
                entry(3, { kind: 'sign-in-refused', actor: 'guest', about: 'eve@elsewhere.example' }),
                entry(2),
              ],
              nextCursor: 'older',
            },
    },
  })
  await findByText(/changed a role: rafe/)
  const texts = () => getAllByRole('listitem').map(({ textContent }) => textContent ?? '')
  expect(texts()[0]).toContain('role lead · a browser at 10.0.0.7')
  expect(texts()[1]).toContain('Somebody was refused a sign-in: eve@elsewhere.example')
  expect(within(getAllByRole('listitem')[1] as HTMLElement).getByText(/was refused/).className).toContain('text-fault')
  // Of oneself one's name is not said twice.
  await waitFor(() => expect(texts()[2]).toMatch(/^Ines Calder signed in \S/))
  await user.click(getByRole('button', { name: 'Earlier ones' }))
  await findByText(/Somebody brought a backup back/)
  expect(texts()).toHaveLength(4)
  expect(queryByRole('button', { name: 'Earlier ones' })).toBeNull()
})

test('the trail is narrowed to one kind, and says where there is none of it', async () => {
  const { findByText, findByLabelText, user, asked } = show(<AuditTrail />, {
    answers: { readMe: () => aMe(), listAudit: ({ query }) => ({ rows: query.kind ? [] : [entry(1)], nextCursor: null }) },
  })
  await findByText(/signed in/, { selector: 'li span' })
  await user.selectOptions(await findByLabelText('Kind'), 'made a token')
  await findByText('Nothing of this kind yet.')
  expect(asked.filter(({ name }) => name === 'listAudit').map(({ query }) => query.kind)).toEqual([undefined, 'token-made'])
})
