/** One finding of a mail server about where a mail came from: `dkim=pass header.d=example.org`. */
interface Finding {
  method: string
  result: string
  properties: Map<string, string>
}

/**
 * Whether a mail server that we trust found that a mail really comes from the domain of its sender's address: by DMARC, or by a DKIM
 * signature or SPF of that same domain (the `Authentication-Results` field, RFC 8601). Only the topmost field that names a trusted server
 * counts: that server puts its own above whatever came with the mail. Linear in the fields.
 */
export function isSenderProven(input: {
  /** The values of the mail's `Authentication-Results` fields, from the top. */
  results: readonly string[]
  /** The address in `From:`. */
  address: string
  /** The names by which trusted servers sign their fields. */
  trustedHosts: readonly string[]
}): boolean {
  const domain = domainOf(input.address)
  if (domain === '') return false
  const trusted = input.trustedHosts.map((host) => host.toLowerCase())
  const parsed = input.results.map(parseResults).find(({ host }) => trusted.includes(host))
  return parsed?.findings.some((finding) => finding.result === 'pass' && provenDomains(finding).some((name) => name === domain)) ?? false
}

/** The domains for which a passed finding speaks. */
function provenDomains({ method, properties }: Finding): string[] {
  const value = (name: string) => domainOf(properties.get(name) ?? '')
  if (method === 'dmarc') return [value('header.from')]
  if (method === 'dkim') return [value('header.d'), value('header.i')]
  if (method === 'spf') return [value('smtp.mailfrom')]
  return []
}

/** What stands behind the last @, or the whole; small letters. */
function domainOf(text: string): string {
  return text.slice(text.lastIndexOf('@') + 1).toLowerCase()
}

function parseResults(field: string): { host: string; findings: Finding[] } {
  const [head = '', ...rest] = withoutComments(field).split(';')
  // Behind the name may stand a version.
  const host = (head.trim().split(/\s+/, 1)[0] ?? '').toLowerCase()
  const findings = rest.flatMap((part) => {
    const pairs = part
      .trim()
      .split(/\s+/)
      .map((word) => word.split('=', 2))
      .filter((pair) => pair.length === 2)
      .map(([name = '', value = '']) => [name.toLowerCase(), value.replace(/^"|"$/g, '')] as const)
    const [first, ...others] = pairs
    if (!first) return []
    return [{ method: first[0].split('/', 1)[0] ?? '', result: first[1].toLowerCase(), properties: new Map(others) }]
  })
  return { host, findings }
}

/** The text without what stands in brackets, nested too; what stands in quotes is no comment, and loses its semicolons and blanks. */
function withoutComments(text: string): string {
  let depth = 0
  let isQuoted = false
  let out = ''
  for (let at = 0; at < text.length; at++) {
    const sign = text[at] ?? ''
    if (sign === '\\') at++
    else if (sign === '"' && depth === 0) isQuoted = !isQuoted
    else if (isQuoted) out += /[;\s]/.test(sign) ? '_' : sign
    else if (sign === '(') depth++
    else if (sign === ')') depth = Math.max(0, depth - 1)
    else if (depth === 0) out += sign
  }
  return out
}
