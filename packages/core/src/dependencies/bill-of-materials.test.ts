import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { BILL_PACKAGES_MAX, readBill, writeBill } from './bill-of-materials.js'
import { askedPackage, PACKAGE_TYPES, packageOf, purlOf, type PackageRef } from './package-ref.js'

const word = fc.stringMatching(/^[a-z][a-z0-9._-]{0,12}$/)
const arbPackage = fc.record({
  type: fc.constantFrom(...PACKAGE_TYPES.filter((type) => !['golang', 'composer', 'maven'].includes(type))),
  name: word,
  version: fc.stringMatching(/^\d[\w.+~-]{0,12}$/),
})
const bill = (packages: PackageRef[]) => writeBill({ service: 'kiln', release: '4.2.0', sha: 'ab'.repeat(20), atMs: 0, packages })
const read = (text: string) => {
  const result = readBill(text)
  if ('why' in result) throw new Error(result.why)
  return result
}

test('a bill names what was put in, whatever its order, and is the same byte for byte', () => {
  fc.assert(
    fc.property(fc.uniqueArray(arbPackage, { selector: purlOf, maxLength: 30 }), (packages) => {
      const text = bill(packages)
      expect(bill(packages.toReversed())).toBe(text)
      expect(new Set(read(text).packages.map(purlOf))).toEqual(new Set(packages.map(purlOf)))
      expect(read(text).withoutVersion).toBe(0)
    }),
  )
})

test('it says what CycloneDX asks for: format, version, whose it is, a reference for each component', () => {
  const document = JSON.parse(bill([{ type: 'npm', name: '@babel/core', version: '7.26.0' }]))
  expect(document).toMatchObject({
    bomFormat: 'CycloneDX',
    specVersion: '1.6',
    version: 1,
    metadata: { timestamp: '1970-01-01T00:00:00.000Z', component: { type: 'application', name: 'kiln', version: '4.2.0' } },
    components: [{ type: 'library', group: '@babel', name: 'core', version: '7.26.0', purl: 'pkg:npm/%40babel/core@7.26.0' }],
  })
  expect(document.serialNumber).toMatch(/^urn:uuid:[0-9a-f]{8}-[0-9a-f]{4}-8[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/)
  expect(document.dependencies).toEqual([{ ref: 'kiln@4.2.0', dependsOn: [document.components[0]['bom-ref']] }])
})

test('bills of others are read: components within components, groups without a Package URL; what has no version is counted', () => {
  const text = JSON.stringify({
    bomFormat: 'CycloneDX',
    specVersion: '1.4',
    components: [
      {
        type: 'library',
        name: 'slf4j-api',
        purl: 'pkg:maven/org.slf4j/slf4j-api@2.0.16?type=jar',
        components: [{ type: 'file', name: 'a.txt' }],
      },
      { type: 'library', group: 'works', name: 'relay', version: '3', purl: 'no purl' },
    ],
  })
  expect(read(text)).toEqual({
    packages: [
      { type: 'maven', name: 'org.slf4j/slf4j-api', version: '2.0.16' },
      { type: 'generic', name: 'works/relay', version: '3' },
    ],
    withoutVersion: 1,
  })
})

test.each([
  ['{', 'no JSON'],
  ['[]', 'object'],
  ['{"spdxVersion":"SPDX-2.3"}', 'no CycloneDX'],
  ['{"bomFormat":"CycloneDX","specVersion":"0.9"}', '1.2 to 1.6'],
  ['{"bomFormat":"CycloneDX","specVersion":"1.5","components":[{"name":7}]}', 'components.0.name'],
  [
    `{"bomFormat":"CycloneDX","specVersion":"1.5","components":${'[{"name":"a","components":'.repeat(200)}[]${'}]'.repeat(200)}}`,
    'nests deeper',
  ],
  [
    JSON.stringify({
      bomFormat: 'CycloneDX',
      specVersion: '1.6',
      components: Array.from({ length: BILL_PACKAGES_MAX + 1 }, (_, at) => ({ name: `a${at}`, version: '1' })),
    }),
    'more than 20,000',
  ],
])('what is none is refused in words: %# %.40s', (text, words) => {
  const result = readBill(text)
  expect('why' in result ? result.why : '').toContain(words)
})

test('what somebody asks for may be a name, a name and a version, or a Package URL', () => {
  expect(askedPackage(' koa ')).toEqual({ name: 'koa', version: null })
  expect(askedPackage('@babel/core')).toEqual({ name: '@babel/core', version: null })
  expect(askedPackage('@babel/core@7.26.0')).toEqual({ name: '@babel/core', version: '7.26.0' })
  expect(askedPackage('koa@')).toEqual({ name: 'koa', version: null })
  expect(askedPackage('pkg:npm/%40babel/core@7.26.0')).toEqual({ name: '@babel/core', version: '7.26.0' })
  expect(packageOf('pkg:npm/koa')).toBeNull()
})
