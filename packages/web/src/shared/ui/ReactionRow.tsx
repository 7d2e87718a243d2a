import { REACTIONS } from '@dystracer/core/setup/field-use'
import type { Reactions } from '@dystracer/core/talk/wire'

/** The reactions to something that was said: who gave which, and one's own given or taken back. */
export function ReactionRow({
  reactions,
  mine,
  canReact,
  nameOf,
  onReact,
}: {
  reactions: Reactions
  /** Who looks. */
  mine: string | undefined
  /** Whoever only reads sees what others gave. */
  canReact: boolean
  nameOf: (actor: string | null) => string
  onReact: (reaction: (typeof REACTIONS)[number], isOn: boolean) => void
}) {
  return REACTIONS.map((reaction) => {
    const who = reactions.find((entry) => entry.reaction === reaction)?.personIds ?? []
    const isOn = mine !== undefined && who.includes(mine)
    const names = who.map((id) => nameOf(id)).join(', ')
    if (!canReact)
      return who.length === 0 ? null : (
        <span key={reaction} title={names} className="text-ink-3">
          {reaction} {who.length}
        </span>
      )
    return (
      <button
        key={reaction}
        type="button"
        aria-pressed={isOn}
        title={names}
        className={isOn ? 'font-bold text-proof' : 'text-ink-3'}
        onClick={() => onReact(reaction, !isOn)}
      >
        {reaction}
        {who.length > 0 && ` ${who.length}`}
      </button>
    )
  })
}
