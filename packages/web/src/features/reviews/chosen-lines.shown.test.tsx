import { expect, test } from '@jest/globals'
import { act, renderHook } from '@testing-library/react'
import { parseDiff } from 'react-diff-view'
import { keysOfLines, textOfLines } from '#shared/diff/DiffFile'
import { useChosenLines } from './use-chosen-lines'

const DIFF = `diff --git a/src/clock.js b/src/clock.js
index 1111111..2222222 100644
--- a/src/clock.js
+++ b/src/clock.js
@@ -1,4 +1,5 @@
 'use strict'
-const drift = 1
+const drift = 2
+const limit = 3
 module.exports = { drift }
 // end
diff --git a/test/clock.test.js b/test/clock.test.js
new file mode 100644
index 0000000..3333333
--- /dev/null
+++ b/test/clock.test.js
@@ -0,0 +1,2 @@
+one
+two
`
const files = parseDiff(DIFF)
const at = (path: string, line: number, side: 'old' | 'new' = 'new') => ({ path, side, line, lastLine: line })
function hook() {
  const { result } = renderHook(() => useChosenLines(files))
  return {
    get selected() {
      return result.current.selected
    },
    do: (work: (chosen: ReturnType<typeof useChosenLines>) => void) => act(() => work(result.current)),
  }
}

test('a step goes from change to change over the files, and stays at the ends', () => {
  const chosen = hook()
  chosen.do(({ step }) => step(1))
  expect(chosen.selected).toEqual(at('src/clock.js', 2, 'old'))
  chosen.do(({ step }) => step(1))
  chosen.do(({ step }) => step(1))
  expect(chosen.selected).toEqual(at('test/clock.test.js', 1))
  chosen.do(({ step }) => step(-1))
  expect(chosen.selected).toEqual(at('src/clock.js', 2, 'old'))
})

test('lines are chosen up to a click with Shift, in either direction, on one side of one file', () => {
  const chosen = hook()
  chosen.do(({ choose }) => choose(at('src/clock.js', 4), false))
  chosen.do(({ choose }) => choose(at('src/clock.js', 2), true))
  expect(chosen.selected).toEqual({ path: 'src/clock.js', side: 'new', line: 2, lastLine: 4 })
  chosen.do(({ choose }) => choose(at('src/clock.js', 2, 'old'), true))
  expect(chosen.selected).toEqual(at('src/clock.js', 2, 'old'))
  chosen.do(({ choose }) => choose(at('test/clock.test.js', 1), true))
  expect(chosen.selected).toEqual(at('test/clock.test.js', 1))
})

test('a line more or fewer goes as far as the diff does, and never below the first', () => {
  const chosen = hook()
  chosen.do(({ extend }) => extend(1))
  expect(chosen.selected).toBeNull()
  chosen.do(({ choose }) => choose(at('test/clock.test.js', 1), false))
  chosen.do(({ extend }) => extend(1))
  chosen.do(({ extend }) => extend(1))
  expect(chosen.selected?.lastLine).toBe(2)
  chosen.do(({ extend }) => extend(-1))
  chosen.do(({ extend }) => extend(-1))
  expect(chosen.selected).toEqual(at('test/clock.test.js', 1))
})

test('what lines say is that of their side alone', () => {
  const [file] = files
  if (!file) throw new Error('the diff has a file')
  expect(textOfLines(file, { side: 'new', line: 2, lastLine: 4 })).toBe('const drift = 2\nconst limit = 3\nmodule.exports = { drift }')
  expect(textOfLines(file, { side: 'old', line: 2, lastLine: 3 })).toBe('const drift = 1\nmodule.exports = { drift }')
  expect(keysOfLines(file, { side: 'new', line: 2, lastLine: 4 })).toEqual(['I2', 'I3', 'N3'])
})
