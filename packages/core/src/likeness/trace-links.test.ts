import { describe, expect, test } from '@jest/globals'
import { proposeTraceLinks, type TraceArtefact } from './trace-links.js'
import { noWordVectors } from './word-vectors.js'

const REQUIREMENTS = [
  { key: 'SAF-3', text: 'An open thermocouple shall be recognised and heat withheld.', chapter: 'Safe firing' },
  { key: 'SAF-7', text: 'The door lock shall hold while the lid is hot.', chapter: 'Safe firing' },
  { key: 'PLN-1', text: 'A berth shall be promised to one member alone.', chapter: 'Planning' },
]
const artefact = (id: string, text: string, paths: string[] = [], kind: TraceArtefact['kind'] = 'commit'): TraceArtefact => ({
  id,
  kind,
  text,
  paths,
})
const propose = (artefacts: TraceArtefact[]) => proposeTraceLinks(REQUIREMENTS, artefacts, noWordVectors)

describe('links that are proposed', () => {
  test('follow the words, the best first; a requirement that is named is linked outright', () => {
    const links = propose([
      artefact('c1', 'Recognise an open thermocouple'),
      artefact('c2', 'Lock the door while hot'),
      artefact('c3', 'Tidy up for SAF-7'),
      artefact('c4', 'SAF-99 is nobody’s'),
    ])
    expect(links.get('SAF-3')?.[0]?.id).toBe('c1')
    expect(
      links
        .get('SAF-7')
        ?.map((link) => link.id)
        .slice(0, 2),
    ).toEqual(['c3', 'c2'])
    expect(links.get('SAF-7')?.[0]?.isDecided).toBe(true)
    expect([...links.values()].flat().some((link) => link.id === 'c4')).toBe(false)
  })

  test('reach what says nothing itself through the files that it shares, a test’s file being that of what it tests', () => {
    const links = propose([
      artefact('c1', 'Recognise an open thermocouple', ['src/probe.js']),
      artefact('c2', 'wip', ['src/probe.js']),
      artefact('t1', 'probe', ['test/probe.test.js'], 'test'),
      artefact('c3', 'A new logo', ['art/logo.svg']),
    ])
    expect(
      links
        .get('SAF-3')
        ?.map((link) => link.id)
        .sort(),
    ).toEqual(['c1', 'c2', 't1'])
    expect(links.get('PLN-1')).toEqual([])
  })

  test('give each artefact to the requirement that fits it best first', () => {
    const links = propose([artefact('c1', 'Hold the door lock while the lid is hot and the thermocouple open')])
    const score = (key: string) => links.get(key)?.find((link) => link.id === 'c1')?.score ?? 0
    expect(score('SAF-7')).toBeGreaterThan(score('SAF-3'))
  })

  test('there are none where there is nothing', () => {
    expect([...propose([]).values()]).toEqual([[], [], []])
    expect(proposeTraceLinks([], [artefact('c1', 'x')], noWordVectors).size).toBe(0)
  })
})
