/** The words of a sentence that are marked. */
export function chosenIn(line: Element | null | undefined): string {
  const chosen = window.getSelection()
  if (!line || !chosen || chosen.isCollapsed || !line.contains(chosen.anchorNode) || !line.contains(chosen.focusNode)) return ''
  return chosen.toString().replaceAll(/\s+/g, ' ').trim().slice(0, 1000)
}
