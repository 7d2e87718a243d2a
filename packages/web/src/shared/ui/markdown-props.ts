export interface MarkdownProps {
  text: string
  /** Where a picture stands that the text names by a path of its own; left out, addresses are as they are written. */
  pictureAt?: (path: string) => string
}
