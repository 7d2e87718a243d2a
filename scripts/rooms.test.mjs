import { describe, expect, test } from '@jest/globals'
import { readdirSync, readFileSync } from 'node:fs'
import { CORE_FLOORS, findTrouble, importsOf, readSources, SERVER_FLOORS } from './rooms.mjs'

const house = (files) => findTrouble(new Map(Object.entries(files)))
const S = 'packages/server/src'
const W = 'packages/web/src'

describe('the guard of the rooms', () => {
  test('finds the house in order', () => {
    expect(findTrouble(readSources())).toEqual([])
  })

  test.each([
    ['core that reads files', { 'packages/core/src/basics/x.ts': `import { readdirSync, readFileSync } from 'node:fs'` }, 'core is pure'],
    [
      'core that knows the server',
      { 'packages/core/src/basics/x.ts': `import { a } from '@dystracer/server/app'`, [`${S}/app.ts`]: '' },
      'core may not import server',
    ],
    [
      'a type taken from a higher floor',
      { 'packages/core/src/setup/x.ts': `import type { A } from '#contract/events'`, 'packages/core/src/contract/events.ts': '' },
      'does not lie below',
    ],
    [
      'a subject that reaches into another',
      { [`${S}/subjects/talk/x.ts`]: `import { a } from '#subjects/people/access'`, [`${S}/subjects/people/access.ts`]: '' },
      'through its index',
    ],
    [
      'a subject that looks up',
      { [`${S}/subjects/people/x.ts`]: `import { a } from '#subjects/undo/index'`, [`${S}/subjects/undo/index.ts`]: '' },
      '"undo" does not lie below "people"',
    ],
    [
      'a platform that knows a subject',
      { [`${S}/platform/x.ts`]: `import { a } from '#subjects/people/index'`, [`${S}/subjects/people/index.ts`]: '' },
      'knows no subject',
    ],
    [
      'a statement that knows a route',
      { [`${S}/subjects/talk/talk.queries.ts`]: `import { a } from './talk.routes.js'`, [`${S}/subjects/talk/talk.routes.ts`]: '' },
      'a lower layer imports a higher one',
    ],
    [
      'a feature that reaches into another',
      { [`${W}/features/talk/A.tsx`]: `import { B } from '#features/items/B'`, [`${W}/features/items/B.tsx`]: '' },
      'through its index',
    ],
    [
      'shared parts that know a feature',
      { [`${W}/shared/ui/A.tsx`]: `import { B } from '#features/items/index'`, [`${W}/features/items/index.ts`]: '' },
      'shared may not import features',
    ],
    ['a line of 141 characters', { [`${W}/shared/ui/A.tsx`]: `// ${'x'.repeat(138)}` }, '141 characters, 140 at most'],
    [
      'two files that need each other, if only for a type',
      { [`${W}/shared/ui/A.tsx`]: `import { B } from './B'`, [`${W}/shared/ui/B.tsx`]: `import type { A } from './A'` },
      'a circle',
    ],
    [
      'a name that climbs',
      { [`${W}/features/talk/parts/A.tsx`]: `import { B } from '../../items/B'`, [`${W}/features/items/B.tsx`]: '' },
      'climbs',
    ],
    ['an export of core without a word', { 'packages/core/src/basics/x.ts': 'export const day = 1' }, 'described nowhere'],
    ['a name that leads nowhere', { [`${W}/shared/ui/A.tsx`]: `import { B } from '#shared/ui/Gone'` }, 'leads nowhere'],
    [
      'a room that has grown into two',
      Object.fromEntries(Array.from({ length: 26 }, (_, at) => [`${W}/features/talk/File${at}.tsx`, ''])),
      'it is two rooms',
    ],
  ])('sees %s', (_what, files, said) => {
    expect(house(files).join('\n')).toContain(said)
  })

  test('reads imports over several lines, of types, re-exports and those that load later', () => {
    expect(
      importsOf(
        `import {\n  a,\n  type B,\n} from './one'\nimport type { C } from './two'\nexport { d } from './three'\n` +
          `const e = import('./four')\nimport './five.css'`,
      ),
    ).toEqual(['./one', './two', './three', './four', './five.css'])
  })
})

describe('each subject says what it is for', () => {
  const places = [
    ['packages/core/src', CORE_FLOORS],
    ['packages/server/src/subjects', SERVER_FLOORS],
  ].flatMap(([base, floors]) =>
    floors.flatMap((floor, at) => floor.split(' ').map((name) => [`${base}/${name}`, `Floor: ${at + 1} of ${floors.length} `])),
  )
  test.each(places)('%s', (folder, floor) => {
    const text = readFileSync(new URL(`../${folder}/README.md`, import.meta.url), 'utf8')
    expect(text).toContain(floor)
    expect(text.split('\n').length).toBeLessThanOrEqual(20)
  })

  const FEATURES = new URL('../packages/web/src/features/', import.meta.url)
  test.each(readdirSync(FEATURES))('the feature %s', (name) => {
    const text = readFileSync(new URL(`${name}/README.md`, FEATURES), 'utf8')
    expect(text).toMatch(new RegExp(`^# ${name}\\n\\n\\S.{20,}`))
    expect(text.split('\n').length).toBeLessThanOrEqual(20)
  })
})
