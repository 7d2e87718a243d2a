import { describe, expect, test } from '@jest/globals'
import type { FoundPackage, ReleasePackages as Packages } from '@dystracer/core/dependencies/wire'
import { waitFor } from '@testing-library/react'
import { aMe } from '#shared/test/a-me'
import { show, type Answers } from '#shared/test/shown'
import { PackagePane } from './PackagePane'
import { ReleasePackages } from './ReleasePackages'

const RELEASE = 'kiln@4.1.3'
const lead = aMe()
const reader = aMe({ person: { personId: 'wren', name: 'Wren', initials: 'W', role: 'reader' } })
const ROWS: Packages['rows'] = [
  {
    type: 'npm',
    name: 'probe-frames',
    version: '0.9.4',
    purl: 'pkg:npm/probe-frames@0.9.4',
    files: ['package-lock.json'],
    isBilled: false,
  },
  { type: 'generic', name: 'openssl', version: '3.0.15', purl: 'pkg:generic/openssl@3.0.15', files: [], isBilled: true },
]

/** A server that knows what a release is made of, and keeps a bill that is sent. */
function aServer({ me = lead, isKnown = true, unreadable = [] as string[] } = {}): Answers {
  let bill: Packages['bill'] = null
  return {
    readMe: () => me,
    listReleasePackages: ({ query }) => ({
      rows: isKnown || bill ? ROWS.filter(({ name, isBilled }) => name.includes(query.q ?? '') && (bill !== null || !isBilled)) : [],
      nextCursor: null,
      files: isKnown ? [{ path: 'package-lock.json', type: 'npm', packages: 1 }] : [],
      unreadable,
      bill,
    }),
    sendBill: () => {
      bill = { atMs: 1_770_000_000_000, by: 'Ines Okafor', packages: 1 }
      return { packages: 1, withoutVersion: 2 }
    },
    takeBillBack: () => {
      bill = null
      return {}
    },
  }
}
const part = <ReleasePackages release={RELEASE} />

describe('what a release is made of', () => {
  test('is said by the files that name it, and found by what is typed', async () => {
    const { user, asked, ...screen } = show(part, { answers: aServer({ unreadable: ['old/yarn.lock'] }) })
    await screen.findByText('package-lock.json')
    expect(screen.getByText('old/yarn.lock could not be read as what its name says')).toBeTruthy()
    expect(screen.getByRole('link', { name: /bill of materials/ }).getAttribute('href')).toBe('/api/v1/releases/kiln%404.1.3/bill.cdx.json')
    await user.type(screen.getByLabelText('Packages with this in their name'), 'nothing')
    await screen.findByText('None of its packages is called that.')
    expect(asked.filter(({ name }) => name === 'listReleasePackages').at(-1)?.query.q).toBe('nothing')
  })

  test('says what to do where nothing names it; a bill is sent, said what of it was left out, and taken back', async () => {
    const { user, ...screen } = show(part, { answers: aServer({ isKnown: false }) })
    await screen.findByText(/No lock file in its commit names packages/)
    expect(screen.queryByRole('link', { name: /bill of materials/ })).toBeNull()
    await user.upload(await screen.findByLabelText('send one…'), new File(['{}'], 'bill.json', { type: 'application/json' }))
    await screen.findByText(/A bill of materials, sent by Ines Okafor/)
    expect(screen.getByLabelText('send another one…')).toBeTruthy()
    await user.click(screen.getByRole('button', { name: 'take it back' }))
    await waitFor(() => expect(screen.queryByText(/A bill of materials, sent by/)).toBeNull())
  })

  test('a bill that is refused says why, and one who may not send sees no way to', async () => {
    const refusing: Answers = { ...aServer(), sendBill: () => ({ refused: 'malformed-body', detail: 'It is no CycloneDX document.' }) }
    const { user, ...screen } = show(part, { answers: refusing })
    await user.upload(await screen.findByLabelText('send one…'), new File(['x'], 'bill.json', { type: 'application/json' }))
    await screen.findByText(/It is no CycloneDX document/)
  })

  test('a reader sees it, and cannot send', async () => {
    const screen = show(part, { answers: aServer({ me: reader }) })
    await screen.findByText('package-lock.json')
    expect(screen.queryByLabelText(/send/)).toBeNull()
  })
})

describe('which releases contain a package', () => {
  const FOUND: FoundPackage = {
    rows: [
      { service: 'kiln', release: '4.1.3', atMs: 1_770_000_000_000, versions: ['2.5.0'], runsIn: ['production'] },
      { service: 'kiln', release: '4.1.2', atMs: 1_760_000_000_000, versions: ['2.4.0'], runsIn: [] },
    ],
    nextCursor: null,
    versions: ['2.5.0', '2.4.0'],
    unread: 0,
  }

  test('is answered in one line, with the versions to choose from', async () => {
    const { user, ...screen } = show(<PackagePane id="span-writer" />, { answers: { readMe: () => lead, findPackage: () => FOUND } })
    await screen.findByText('2 releases')
    expect(screen.getByText(/kiln 4\.1\.3 runs in production\./)).toBeTruthy()
    expect(screen.getByRole('button', { name: 'any version' }).getAttribute('aria-current')).toBe('true')
    await user.click(screen.getByRole('button', { name: '2.4.0' }))
    expect(screen.getByLabelText(/A package: name/)).toBeTruthy()
  })

  test('says that there is none, that none runs, and that older ones were not looked at', async () => {
    const none = { ...FOUND, rows: [], versions: [] }
    const first = show(<PackagePane id="koa@9.9.9" />, { answers: { readMe: () => lead, findPackage: () => none } })
    await first.findByText(/No release contains koa 9\.9\.9\./)
    first.unmount()
    const idle = { ...FOUND, rows: FOUND.rows.slice(1), unread: 3 }
    const second = show(<PackagePane id="koa" />, { answers: { readMe: () => lead, findPackage: () => idle } })
    await second.findByText(/none of them runs anywhere now/)
    expect(second.getByText(/3 older releases not looked at yet/)).toBeTruthy()
  })

  test('asks for nothing until something is asked', async () => {
    const { asked, ...screen } = show(<PackagePane id="" />, { answers: { readMe: () => lead } })
    expect(await screen.findByRole('button', { name: 'Look' })).toBeTruthy()
    expect(asked.some(({ name }) => name === 'findPackage')).toBe(false)
  })
})
