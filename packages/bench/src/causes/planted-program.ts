/** A small program that runs without a fault, and edits each of which makes it throw. */
export interface PlantedProgram {
  name: string
  files: Readonly<Record<string, string>>
  /** [kind of edit, file, from, to, subject of its commit]. */
  planted: readonly (readonly [kind: string, file: string, from: string, to: string, subject: string])[]
}
