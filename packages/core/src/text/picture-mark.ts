/** The path by which a text in Markdown names a picture that is kept for texts of a project: `![the panel](pictures/EMB/0193ab)`. */
export function pictureMark(project: string, pictureId: string): string {
  return `pictures/${project}/${pictureId}`
}

/** Which picture a path names; null where it names none. */
export function pictureOfMark(path: string): { project: string; pictureId: string } | null {
  const read = /^pictures\/([A-Z][A-Z0-9]{0,19})\/([\w-]{1,60})$/.exec(path)
  return read?.[1] !== undefined && read[2] !== undefined ? { project: read[1], pictureId: read[2] } : null
}
