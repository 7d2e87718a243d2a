import { describe, expect, test } from '@jest/globals'
import { signedBytes, statementOf, zEnvelope, zStatement, type Origin } from './provenance.js'

const text = (bytes: Uint8Array) => new TextDecoder().decode(bytes)
const ORIGIN: Origin = {
  address: 'https://bugs.emberwick.example',
  repository: { name: 'kiln', url: 'https://code.emberwick.example/kiln.git' },
  sha: 'a'.repeat(40),
  branch: 'main',
  build: { name: 'ci-7', number: 7, startedAtMs: 1_770_000_000_000, finishedAtMs: 1_770_000_060_000 },
  machine: 'shed 2',
  files: [{ name: 'out/kiln.tgz', sha256: 'b'.repeat(64) }],
}

describe('what is signed', () => {
  test('is the encoding that the format’s own description shows', () => {
    expect(text(signedBytes('http://example.com/HelloWorld', new TextEncoder().encode('hello world')))).toBe(
      'DSSEv1 29 http://example.com/HelloWorld 11 hello world',
    )
  })

  test('counts bytes, not letters, and keeps type and payload apart', () => {
    expect(text(signedBytes('é', new TextEncoder().encode('ü')))).toBe('DSSEv1 2 é 2 ü')
    expect(signedBytes('a 1 b', new Uint8Array())).not.toEqual(signedBytes('a', new TextEncoder().encode('b')))
  })
})

describe('a statement of where files come from', () => {
  test('names files by hash, the commit, what built it and when, in the words of in-toto and SLSA', () => {
    expect(statementOf(ORIGIN)).toEqual({
      _type: 'https://in-toto.io/Statement/v1',
      subject: [{ name: 'out/kiln.tgz', digest: { sha256: 'b'.repeat(64) } }],
      predicateType: 'https://slsa.dev/provenance/v1',
      predicate: {
        buildDefinition: {
          buildType: 'https://bugs.emberwick.example/schemas/build.json',
          externalParameters: { repository: 'kiln', ref: 'refs/heads/main', build: 'ci-7' },
          resolvedDependencies: [
            { uri: 'git+https://code.emberwick.example/kiln.git@refs/heads/main', digest: { gitCommit: 'a'.repeat(40) } },
          ],
        },
        runDetails: {
          builder: { id: 'https://bugs.emberwick.example/machines/shed%202' },
          metadata: { invocationId: 'kiln/7', startedOn: '2026-02-02T02:40:00.000Z', finishedOn: '2026-02-02T02:41:00.000Z' },
        },
      },
    })
    expect(zStatement.parse(statementOf(ORIGIN)).subject).toHaveLength(1)
  })

  test('of a build that a service told of claims no machine and no description', () => {
    const told = JSON.stringify(statementOf({ ...ORIGIN, machine: null, build: { ...ORIGIN.build, finishedAtMs: null } }))
    expect(told).toContain('"builder":{"id":"https://bugs.emberwick.example/builds"}')
    expect(told).not.toContain('schemas/build.json')
    expect(told).not.toContain('finishedOn')
  })

  test('travels in an envelope with at least one signature', () => {
    const envelope = { payloadType: 'application/vnd.in-toto+json', payload: 'e30=', signatures: [] }
    expect(zEnvelope.safeParse(envelope).success).toBe(false)
    expect(zEnvelope.safeParse({ ...envelope, signatures: [{ keyid: '', sig: 'AA==' }] }).success).toBe(true)
  })
})
