import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { toRanges } from '#text/line-ranges'
import { addedLines, coverageOfChange, percentOf } from './changed-coverage.js'

const DIFF = `diff --git a/src/relay.js b/src/relay.js
index 1111111..2222222 100644
--- a/src/relay.js
+++ b/src/relay.js
@@ -1,3 +1,4 @@
 one
+two
-gone
+three
 four
@@ -10,2 +11,3 @@
 ten
+++ counted
 twelve
diff --git a/new.js b/new.js
new file mode 100644
index 0000000..3333333
--- /dev/null
+++ b/new.js
@@ -0,0 +1,2 @@
+a
+b
diff --git a/old.js b/old.js
deleted file mode 100644
index 4444444..0000000
--- a/old.js
+++ /dev/null
@@ -1 +0,0 @@
-gone
diff --git a/from.js b/to.js
similarity index 100%
rename from from.js
rename to to.js
`

describe('the lines that a change brings', () => {
  test('are those with a plus, by their numbers after it; files that bring none are left out', () => {
    expect([...addedLines(DIFF)]).toEqual([
      ['src/relay.js', [2, 3, 12]],
      ['new.js', [1, 2]],
    ])
    expect(addedLines('').size).toBe(0)
    expect(addedLines('no diff at all').size).toBe(0)
  })

  test('are held against a report: run, not run, or not spoken of', () => {
    const reported = [
      { path: 'src/relay.js', covered: '1-2 11', missed: '3' },
      { path: 'new.js', covered: '', missed: '9' },
      { path: 'other.js', covered: '1-9', missed: '' },
    ]
    const found = coverageOfChange(addedLines(DIFF), reported)
    expect(found).toEqual({ files: [{ path: 'src/relay.js', covered: [2], missed: [3] }], covered: 1, missed: 1 })
    expect(percentOf(found)).toBe(50)
    expect(percentOf({ covered: 0, missed: 0 })).toBeNull()
    expect(percentOf({ covered: 999, missed: 1 })).toBe(99)
  })

  test('are never more than a report says, and each is on one side alone', () => {
    const lines = fc.uniqueArray(fc.integer({ min: 1, max: 60 }), { maxLength: 30 }).map((all) => all.sort((a, b) => a - b))
    fc.assert(
      fc.property(lines, lines, lines, (added, covered, others) => {
        const missed = others.filter((line) => !covered.includes(line))
        const found = coverageOfChange(new Map([['a', added]]), [{ path: 'a', covered: toRanges(covered), missed: toRanges(missed) }])
        const slow = (side: number[]) => added.filter((line) => side.includes(line))
        expect([found.covered, found.missed]).toEqual([slow(covered).length, slow(missed).length])
        expect(found.files.flatMap((file) => file.covered)).toEqual(slow(covered))
      }),
    )
  })
})
