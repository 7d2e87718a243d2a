import { usePeople } from '#features/people/index'
import { Markdown } from '#shared/ui/Markdown'
import { apiRoot } from '#shared/lib/past'

/** What could be more than plain sentences: emphasis, lists, tables, links, pictures, code, headings. */
const MARKUP = /[*_`[|~<]|^\s*(?:[-#>]|\d+\.)\s/m

/** The text of a requirement in its serif, its markup and pictures drawn; plain sentences are not sent through the renderer. */
export function RequirementProse({ text, className = 'leading-relaxed' }: { text: string; className?: string }) {
  const project = usePeople().me?.project.prefix ?? ''
  const look = `font-serif text-[15px] ${className}`
  if (!MARKUP.test(text)) return <p className={`${look} whitespace-pre-wrap`}>{text}</p>
  return (
    <div className={look}>
      <Markdown
        text={text}
        pictureAt={(path) => `${apiRoot}/projects/${encodeURIComponent(project)}/requirement-pictures/${withoutClimbing(path)}`}
      />
    </div>
  )
}

function withoutClimbing(path: string): string {
  return path
    .split('/')
    .filter((part) => part !== '..' && part !== '.')
    .join('/')
}
