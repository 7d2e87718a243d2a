/** Where the tests run from which a build is reported. */
export const RUNNERS = ['shell script', 'Makefile', 'npm script', 'container', 'curl alone'] as const
export type Runner = (typeof RUNNERS)[number]

/** The lines that report a build from there, to be copied; `origin` is this server's address. */
export function reportSnippet(runner: Runner, origin: string): string {
  const dys = `node dys.mjs report --build "$BUILD_NUMBER"`
  switch (runner) {
    case 'shell script':
      return [
        `export DYSTRACER_URL=${origin} DYSTRACER_TOKEN=…`,
        `curl -fsSO ${origin}/dys.mjs`,
        'node dys.mjs run --build "$BUILD_NUMBER" -- npm test || CODE=$?',
        `${dys} report.xml`,
        'exit ${CODE:-0}',
      ].join('\n')
    case 'Makefile':
      return [
        `export DYSTRACER_URL = ${origin}`,
        'dys.mjs:',
        `\tcurl -fsSO ${origin}/dys.mjs`,
        'report: dys.mjs',
        `\t-$(MAKE) test; node dys.mjs report --build "$(BUILD_NUMBER)" report.xml --ended $$([ $$? -eq 0 ] && echo passed || echo broke)`,
      ].join('\n')
    case 'npm script':
      return [
        '"scripts": {',
        '  "test:report": "npm test && npm run report -- --ended passed || npm run report -- --ended broke",',
        `  "report": "curl -fsSO ${origin}/dys.mjs && node dys.mjs report report.xml --build $BUILD_NUMBER --url ${origin}"`,
        '}',
      ].join('\n')
    case 'container':
      return [
        `docker run --rm -v "$PWD:/work" -w /work -e DYSTRACER_TOKEN -e DYSTRACER_URL=${origin} node:20 \\`,
        `  sh -c 'curl -fsSO ${origin}/dys.mjs && ${dys} report.xml --ended passed'`,
      ].join('\n')
    case 'curl alone':
      return [
        'curl -H "Authorization: Bearer $DYSTRACER_TOKEN" --data-binary @report.xml \\',
        `  "${origin}/receive/reports/junit?repository=NAME&commit=$(git rev-parse HEAD)&branch=$(git branch ` +
          `--show-current)&build=$BUILD_NUMBER"`,
        'curl -H "Authorization: Bearer $DYSTRACER_TOKEN" -H "Content-Type: text/plain" --data-binary @build.log \\',
        `  "${origin}/receive/build-logs?repository=NAME&commit=$(git rev-parse HEAD)&build=$BUILD_NUMBER"`,
      ].join('\n')
  }
}
