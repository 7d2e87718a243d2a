/** One piece of a demo program: a function with its test, logged as an item, brought in by a pull request. */
export interface Piece {
  type: 'story' | 'task' | 'defect'
  title: string
  requirement: string
  /** File below `src/`, without its ending. */
  module: string
  name: string
  code: string
  test: string
  /** A first version that its test finds wrong: [right text, wrong text]. */
  slip?: [string, string]
  /** What its merge made of it, by mistake, until somebody mended the main line: [right text, wrong text]. */
  mergeSlip?: [string, string]
}

export interface DemoRepository {
  name: string
  about: string
  component: string
  pieces: Piece[]
  main: string
  files?: Record<string, string>
}
