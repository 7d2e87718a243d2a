/**
 * One step of the demo's past, applied by the server through its ordinary commands with the clock set to
 * `atMs`. One JSON object a line in world.jsonl.
 */
export type WorldStep = { atMs: number } & (
  | {
      do: 'setup'
      project: { prefix: string; name: string; silenceMs: number; requirementPrefixes: string[] }
      people: { personId: string; name: string; initials: string; email: string; role: string }[]
      components: { name: string; keeperId: string; repository: string | null }[]
      repositories: string[]
      milestones: { name: string; startsOn: string; dueOn: string; isClosed: boolean }[]
      requirements: { key: string; title: string; text: string; parent: string | null; isHeading: boolean }[]
    }
  | { do: 'log'; by: string; key: string; input: Record<string, unknown> }
  | { do: 'accept'; by: string; key: string; input: Record<string, unknown> }
  | { do: 'reject'; by: string; key: string; input: Record<string, unknown> }
  | { do: 'link'; by: string; key: string; input: { kind: string; to: { kind: string; id: string } } }
  | { do: 'start'; by: string; key: string; repository: string; branch: string }
  | { do: 'verify'; by: string; key: string }
  | { do: 'comment'; by: string; key: string; text: string }
  | { do: 'requirement'; by: string; key: string; title: string; text: string }
  | { do: 'refs'; repository: string; moves: { ref: string; to: string | null }[]; cause: string }
  | { do: 'pull-request'; pr: Record<string, unknown> }
  | {
      do: 'build'
      repository: string
      number: number
      sha: string
      branch: string
      state: 'passed' | 'broke'
      startedAtMs: number
      junit: string
      lcov: string
      sarif: string
      log: string
    }
  | { do: 'deployment'; service: string; release: string; environment: string; by: string }
  | { do: 'occurrences'; body: object; around?: { logs: object; traces: object } }
)
