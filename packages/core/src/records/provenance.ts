/** Where a link came from (docs/rules.md#links). */
export const PROVENANCES = [
  'person',
  'commit',
  'branch-name',
  'pull-request',
  'rule',
  'import',
  'likeness',
  'git',
  'report',
  'deployment',
] as const
/** Where a link came from. */
export type Provenance = (typeof PROVENANCES)[number]
