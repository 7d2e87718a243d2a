/** Values of a field in one text, for addresses: each percent-encoded, divided by commas; a bare percent sign stands for no value. */
export function printValues(values: readonly string[]): string {
  return values.map((value) => (value === '' ? '%' : encodeURIComponent(value))).join(',')
}

/** The values that `printValues` wrote; what is not written so is left out. */
export function parseValues(text: string): string[] {
  return text.split(',').flatMap((part) => {
    if (part === '%') return ['']
    try {
      return part === '' ? [] : [decodeURIComponent(part)]
    } catch (error) {
      if (error instanceof URIError) return []
      throw error
    }
  })
}
