type Read = (path: string) => string

/** Changes that a person can push from the page; each is a real edit of real files. */
export const PREPARED_CHANGES: Record<string, { label: string; repository: string; files: (read: Read) => Record<string, string> }> = {
  guard: {
    label: 'Read an unplugged probe as "no reading" (mends it)',
    repository: 'kiln-controller',
    files: (read) => ({
      'src/probe.js': guarded(read('src/probe.js'), 'if (reading === undefined) return null'),
      'test/probe.test.js': withTest(read('test/probe.test.js')),
    }),
  },
  'guard-wrong': {
    label: 'The same, but answering 0 °C (its test fails)',
    repository: 'kiln-controller',
    files: (read) => ({
      'src/probe.js': guarded(read('src/probe.js'), 'if (reading === undefined) return 0'),
      'test/probe.test.js': withTest(read('test/probe.test.js')),
    }),
  },
  'guard-half': {
    label: 'Only for kiln 1 (incomplete: comes back)',
    repository: 'kiln-controller',
    files: (read) => ({
      'src/probe.js': guarded(read('src/probe.js'), 'if (reading === undefined && (probe.kiln ?? 1) === 1) return null'),
      'src/main.js': read('src/main.js').replace('probe: { last:', 'probe: { kiln: id, last:'),
    }),
  },
}

/** The line that handles a missing reading, in place of whatever stood there before. */
function guarded(source: string, line: string): string {
  return source.replace(/(const reading = probe\.last\n)(?: {2}if \(reading === undefined.*\n)?/, `$1  ${line}\n`)
}

function withTest(source: string): string {
  if (source.includes('unplugged')) return source
  return `${source}\ntest('SAF-3: an unplugged probe has no reading', () => {\n  assert.equal(readCelsius({ last: undefined }), null)\n})\n`
}
