/** How the repositories of Emberwick say that they are built: by the same steps, each with its own name for what it packs. */
export function buildDescription(repository: string): string {
  return `# How ${repository} is built; each commit by its own.
starts:
  branches: ["*"]
  paths: ["!**/*.md"]
environment:
  NODE_ENV: test
  FORCE_COLOR: 1
steps:
  - name: syntax
    command: for file in $(find src -name '*.js'); do node --check "$file"; done
  - name: tests
    after: []
    command: >-
      node --test --experimental-test-coverage --test-reporter=spec --test-reporter-destination=stdout
      --test-reporter=junit --test-reporter-destination=junit.xml --test-reporter=lcov --test-reporter-destination=coverage.lcov
    reports: [junit.xml, coverage.lcov]
    minutes: 5
  - name: checks
    after: []
    command: node tools/check.mjs
    reports: [checks.sarif]
  - name: package
    after: [syntax, tests]
    command: mkdir -p out && tar -czf out/${repository}.tgz src package.json package-lock.json
    artefacts: [out/*.tgz]
`
}
