import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { coveredFolders } from './folders.js'

test('each folder has all that is below it; a chain of folders is its last', () => {
  const files = [
    { path: 'src/kiln/probe.js', covered: 8, missed: 2 },
    { path: 'src/kiln/door.js', covered: 4, missed: 0 },
    { path: 'src/panel.js', covered: 1, missed: 9 },
    { path: 'tools/deep/down/one.js', covered: 0, missed: 3 },
    { path: 'main.js', covered: 1, missed: 1 },
  ]
  expect(coveredFolders(files)).toEqual([
    { path: 'src', covered: 13, missed: 11, files: 3 },
    { path: 'src/kiln', covered: 12, missed: 2, files: 2 },
    { path: 'tools/deep/down', covered: 0, missed: 3, files: 1 },
  ])
})

test('no folder holds more than all files, and those of one level share nothing', () => {
  const path = fc.array(fc.constantFrom('a', 'b', 'c'), { minLength: 2, maxLength: 5 }).map((parts) => `${parts.join('/')}.js`)
  const files = fc.uniqueArray(fc.record({ path, covered: fc.nat(9), missed: fc.nat(9) }), { selector: (file) => file.path, maxLength: 30 })
  fc.assert(
    fc.property(files, (all) => {
      for (const folder of coveredFolders(all)) {
        const below = all.filter((file) => file.path.startsWith(`${folder.path}/`))
        expect(folder).toEqual({
          path: folder.path,
          files: below.length,
          covered: below.reduce((sum, file) => sum + file.covered, 0),
          missed: below.reduce((sum, file) => sum + file.missed, 0),
        })
      }
    }),
  )
})
