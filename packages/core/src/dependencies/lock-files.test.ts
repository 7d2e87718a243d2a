import { expect, test } from '@jest/globals'
import { lockChanges } from './lock-changes.js'
import { isLockFile, readLockFile } from './lock-files.js'

const namesIn = (path: string, text: string) => readLockFile(path, text)?.map(({ name, version }) => `${name}@${version}`) ?? null

/** Each as its program writes it, shortened. */
const FILES: [path: string, type: string, text: string, packages: string[]][] = [
  [
    'web/package-lock.json',
    'npm',
    JSON.stringify({
      lockfileVersion: 3,
      packages: {
        '': { version: '1.0.0' },
        'packages/own': { version: '1.0.0' },
        'node_modules/own': { resolved: 'packages/own', link: true },
        'node_modules/koa': { version: '3.0.0' },
        'node_modules/koa/node_modules/@babel/core': { version: '7.26.0' },
        'node_modules/old': { name: 'new', version: '2.0.0' },
      },
    }),
    ['@babel/core@7.26.0', 'koa@3.0.0', 'new@2.0.0'],
  ],
  ['npm-shrinkwrap.json', 'npm', '{"lockfileVersion":1,"dependencies":{"koa":{"version":"1.0.0"}}}', ['koa@1.0.0']],
  [
    'yarn.lock',
    'npm',
    '# yarn lockfile v1\n\n\n"@babel/core@^7.0.0", "@babel/core@^7.1.0":\n  version "7.26.0"\n' +
      '  resolved "https://x.example"\n  dependencies:\n    koa "^3"\n\nkoa@^3:\n  version "3.0.0"\n',
    ['@babel/core@7.26.0', 'koa@3.0.0'],
  ],
  [
    'yarn.lock',
    'npm',
    '__metadata:\n  version: 8\n\n"@babel/core@npm:^7.0.0":\n  version: 7.26.0\n  linkType: hard\n\n"own@workspace:.":\n' +
      '  version: 0.0.0-use.local\n  linkType: soft\n',
    ['@babel/core@7.26.0'],
  ],
  [
    'pnpm-lock.yaml',
    'npm',
    "lockfileVersion: '9.0'\npackages:\n  '@babel/core@7.26.0':\n    resolution: {integrity: x}\n" +
      "  koa@3.0.0(supports-color@8.0.0):\n    engines: {node: '>=18'}\n",
    ['@babel/core@7.26.0', 'koa@3.0.0'],
  ],
  [
    'pnpm-lock.yaml',
    'npm',
    'lockfileVersion: 5.4\npackages:\n  /@babel/core/7.26.0:\n    dev: true\n  /koa/3.0.0_supports-color@8:\n    dev: false\n',
    ['@babel/core@7.26.0', 'koa@3.0.0'],
  ],
  ['poetry.lock', 'pypi', '[[package]]\nname = "attrs"\nversion = "24.2.0"\n\n[metadata]\nlock-version = "2.0"\n', ['attrs@24.2.0']],
  ['tools/uv.lock', 'pypi', 'version = 1\n\n[[package]]\nname = "attrs"\nversion = "24.2.0"\n', ['attrs@24.2.0']],
  [
    'Pipfile.lock',
    'pypi',
    '{"default":{"attrs":{"version":"==24.2.0"}},"develop":{"pytest":{"version":"==8.3.0"}}}',
    ['attrs@24.2.0', 'pytest@8.3.0'],
  ],
  [
    'requirements-dev.txt',
    'pypi',
    '# pinned\nAttrs==24.2.0 \\\n    --hash=sha256:abc\nuvicorn[standard]==0.30.0 ; python_version > "3.8"\nloose>=1\n',
    ['attrs@24.2.0', 'uvicorn@0.30.0'],
  ],
  ['Cargo.lock', 'cargo', 'version = 3\n\n[[package]]\nname = "serde"\nversion = "1.0.210"\nsource = "registry"\n', ['serde@1.0.210']],
  [
    'go.mod',
    'golang',
    'module kilns.example/kiln\n\ngo 1.22\n\nrequire golang.org/x/text v0.18.0\n\nrequire (\n' +
      '\tgithub.com/google/uuid v1.6.0\n\tgolang.org/x/net v0.29.0 // indirect\n)\n\nreplace a => b v1.0.0\n',
    ['github.com/google/uuid@v1.6.0', 'golang.org/x/net@v0.29.0', 'golang.org/x/text@v0.18.0'],
  ],
  [
    'composer.lock',
    'composer',
    '{"packages":[{"name":"monolog/monolog","version":"3.7.0"}],"packages-dev":[{"name":"phpunit/phpunit","version":"v11.3.0"}]}',
    ['monolog/monolog@3.7.0', 'phpunit/phpunit@11.3.0'],
  ],
  [
    'Gemfile.lock',
    'gem',
    'GEM\n  remote: https://x.example/\n  specs:\n    rack (3.1.7)\n    rspec (3.13.0)\n      rspec-core (~> 3.13.0)\n\n' +
      'DEPENDENCIES\n  rack\n',
    ['rack@3.1.7', 'rspec@3.13.0'],
  ],
  [
    'packages.lock.json',
    'nuget',
    '{"version":1,"dependencies":{"net8.0":{"Serilog":{"type":"Direct","resolved":"4.0.1"}}}}',
    ['Serilog@4.0.1'],
  ],
  [
    'gradle.lockfile',
    'maven',
    '# manual edits break it\norg.slf4j:slf4j-api:2.0.16=compileClasspath\nempty=annotationProcessor\n',
    ['org.slf4j/slf4j-api@2.0.16'],
  ],
  [
    'pubspec.lock',
    'pub',
    'packages:\n  http:\n    dependency: "direct main"\n    version: "1.2.2"\nsdks:\n  dart: ">=3.4.0"\n',
    ['http@1.2.2'],
  ],
]

test.each(FILES)('%s (%s) names its packages, each once', (path, type, text, packages) => {
  expect(isLockFile(path)).toBe(true)
  expect(namesIn(path, text)).toEqual(packages)
  expect(new Set(readLockFile(path, text)?.map((one) => one.type))).toEqual(new Set([type]))
})

test.each(FILES)('%s (%s) that is something else, or cut, is none, or names no more than the whole', (path, _type, text, packages) => {
  expect(namesIn(path, '')?.length ?? 0).toBe(0)
  expect(namesIn(path, '\0{[<')?.length ?? 0).toBe(0)
  for (let at = 0; at < text.length; at += 3) expect(namesIn(path, text.slice(0, at))?.length ?? 0).toBeLessThanOrEqual(packages.length + 1)
})

test('what package managers put beside their packages is not the program’s own, and other files are none', () => {
  expect(['node_modules/a/package-lock.json', 'vendor/x/composer.lock', 'package.json', 'locks/go.sum'].filter(isLockFile)).toEqual([])
})

test('references within YAML grow nothing', () => {
  const bomb =
    `a: &a [x, ` +
    `x]\n${Array.from(
      { length: 30 },
      (_, at) => `b${at}: &b${at} [*${at === 0 ? 'a' : `b${at - 1}`}, *${at === 0 ? 'a' : `b${at - 1}`}]`,
    ).join('\n')}\npackages: *b29\n`
  expect(readLockFile('pubspec.lock', bomb)).toBeNull()
})

test('lock files are compared by package, several versions of one beside each other', () => {
  const lock = (packages: Record<string, object>) => JSON.stringify({ lockfileVersion: 3, packages: { '': { version: '9' }, ...packages } })
  const before = lock({
    'node_modules/koa': { version: '2.0.0' },
    'node_modules/a': { version: '1.0.0' },
    'node_modules/same': { version: '1' },
  })
  const after = lock({
    'node_modules/koa': { version: '3.0.0' },
    'node_modules/x/node_modules/koa': { version: '2.0.0' },
    'node_modules/@s/b': { version: '5.0.0' },
    'node_modules/same': { version: '1' },
    'packages/own': { link: true },
  })
  expect(lockChanges('package-lock.json', before, after)).toEqual([
    { name: '@s/b', from: null, to: '5.0.0' },
    { name: 'a', from: '1.0.0', to: null },
    { name: 'koa', from: '2.0.0', to: '2.0.0, 3.0.0' },
  ])
  expect(lockChanges('package-lock.json', 'no lock', '')).toEqual([])
  expect(lockChanges('package-lock.json', '', JSON.stringify({ lockfileVersion: 1, dependencies: { koa: { version: '1.0.0' } } }))).toEqual(
    [{ name: 'koa', from: null, to: '1.0.0' }],
  )
})
