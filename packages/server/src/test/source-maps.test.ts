import { describe, expect, test } from '@jest/globals'
import { readTrace } from '@dystracer/core/traces/read-trace'
import { builtFileName, mapTrace, namedMap, parseSourceMap } from '#subjects/git/source-maps'

const SOURCE = 'export function heat(degrees: number) {\n  if (degrees > 1300) {\n    throw new RangeError("too hot")\n  }\n}\n'
const map = { version: 3, sources: ['../src/heat.ts'], sourcesContent: [SOURCE], names: [], mappings: 'AAAO,sBACD,YACJ' }
const trace = readTrace(
  'RangeError: too hot\n    at t (https://x.example/assets/main.js:1:40)\n    at e (https://x.example/assets/other.js:1:9)',
)
const mapped = (text: string, readSource?: (source: string) => string | null) =>
  mapTrace(trace, (file) => (file.includes('main.js') ? parseSourceMap(text) : null), readSource).exception.frames

describe('a source map', () => {
  test.each([
    ['as it is', JSON.stringify(map)],
    ['behind the line that keeps pages from running it', `)]}'\n${JSON.stringify(map)}`],
    ['of sections', JSON.stringify({ version: 3, sections: [{ offset: { line: 0, column: 0 }, map }] })],
  ])('%s leads a frame back to place, function and source line; the built place is kept, frames without a map stay', (_, text) => {
    const [first, second] = mapped(text)
    expect(first).toMatchObject({ function: 'heat', file: 'src/heat.ts', line: 3, isApp: true, source: 'throw new RangeError("too hot")' })
    expect(first?.built).toEqual({ file: expect.stringContaining('main.js'), line: 1, column: 40 })
    expect(second).toBe(trace.exception.frames[1])
  })

  test('without the sources’ texts has them read; without any the built name stays', () => {
    const bare = JSON.stringify({ ...map, sourcesContent: undefined })
    expect(mapped(bare)[0]).toMatchObject({ function: 't', file: 'src/heat.ts', line: 3 })
    expect(mapped(bare, (source) => (source === '../src/heat.ts' ? SOURCE : null))[0]).toMatchObject({ function: 'heat' })
  })

  test('that says which sources are another’s is believed', () => {
    expect(mapped(JSON.stringify({ ...map, ignoreList: [0] }))[0]).toMatchObject({ file: 'src/heat.ts', isApp: false })
    expect(mapped(JSON.stringify({ ...map, sources: ['webpack:///./node_modules/clay/a.js'] }))[0]).toMatchObject({
      file: 'node_modules/clay/a.js',
      isApp: false,
    })
  })

  test.each([
    ['nonsense', /JSON/],
    ['null', /./],
    ['[]', /expected object/],
    ['{"version":3,"sources":[],"mappings":"!!!"}', /ECMA-426/],
    ['{"version":2,"sources":[],"mappings":""}', /version must be 3/],
    ['{"version":3,"mappings":""}', /sources must be a list/],
    ['{"version":3,"sources":[],"mappings":5}', /mappings must be a text/],
  ])('%j is none', (text, why) => expect(() => parseSourceMap(text)).toThrow(why))

  test.each([
    ['x\n//# sourceMappingURL=main.js.map', { path: 'dist/main.js.map' }],
    ['x\n/*# sourceMappingURL=../maps/main.js.map?v=1 */', { path: 'maps/main.js.map' }],
    ['x\n//# sourceMappingURL=data:application/json;charset=utf-8;base64,e30=\n', { text: '{}' }],
    ['x\n//# sourceMappingURL=https://x.example/main.js.map', null],
    ['x', null],
    [`//# sourceMappingURL=main.js.map\n${'x'.repeat(5000)}`, null],
  ])('is named by a built file', (text, named) => expect(namedMap(text, 'dist/main.js')).toEqual(named))

  test.each([
    ['https://x.example/assets/main.js?v=4', 'main.js'],
    ['C:\\dist\\main.js.map', 'main.js'],
  ])('%j is known as %j', (file, name) => expect(builtFileName(file)).toBe(name))
})
