import type { SuspectRow } from '@dystracer/core/code/wire'
import { When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'

const REASON_WORDS: Record<SuspectRow['reasons'][number], string> = {
  'wrote-the-line': 'wrote the failing line',
  'near-the-line': 'changed what stands around it',
  'same-file': 'changed its file',
  'what-it-uses': 'changed what it uses',
  'what-it-says': 'changed what the message names',
  'named-alike': 'is called alike',
  settings: 'changed settings',
}

/** Commits that may have brought a failure in, likeliest first, each with why, and with what it was made for. */
export function SuspectList({ repository, suspects }: { repository: string; suspects: readonly SuspectRow[] }) {
  return (
    <ol aria-label="Perhaps brought in by" className="m-0 list-none p-0">
      {suspects.map(({ sha, subject, author, atMs, items, requirements, pullRequest, reasons }) => (
        <li key={sha} className="border-b border-edge-soft py-1 last:border-0">
          <ThingLink to={{ kind: 'commit', id: `${repository}/${sha}` }} /> {author}, <When atMs={atMs} />: {subject}
          <span className="block text-[12px] text-ink-2">
            {reasons.map((reason) => REASON_WORDS[reason]).join('; ') || 'came between'}
            {pullRequest !== null && (
              <>
                {' '}
                · in <ThingLink to={{ kind: 'pull-request', id: `${repository}/${pullRequest}` }} />
              </>
            )}
            {items.map((key) => (
              <span key={key}>
                {' '}
                · for <ThingLink to={{ kind: 'item', id: key }} />
              </span>
            ))}
            {requirements.map((key) => (
              <span key={key}>
                {' '}
                · asked by <ThingLink to={{ kind: 'requirement', id: key }} />
              </span>
            ))}
          </span>
        </li>
      ))}
    </ol>
  )
}
