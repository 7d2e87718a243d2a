import { KEY_PLACES, linesOf, type KeyPlace } from '#shared/lib/keys'
import { Dialog } from '#shared/ui/Dialog'

/** Every key and what it does, the place that is open first. */
export function KeysDialog({ place, isOpen, onClose }: { place: string; isOpen: boolean; onClose: () => void }) {
  const places = (Object.keys(KEY_PLACES) as KeyPlace[]).sort((a, b) => Number(b === place) - Number(a === place))
  return (
    <Dialog title="Keys" isOpen={isOpen} onClose={onClose}>
      {/* The list scrolls, so it must be reachable by keyboard. */}
      <div tabIndex={0} className="columns-2 gap-x-8 px-4 py-3 text-[13px] max-[700px]:columns-1">
        {places.map((name) => (
          <section key={name} aria-label={KEY_PLACES[name]} className="mb-4 break-inside-avoid">
            <h3 className="mb-1 font-bold">{KEY_PLACES[name]}</h3>
            <dl className="grid grid-cols-[92px_1fr] gap-x-3 gap-y-0.5">
              {linesOf(name).map(([action, line]) => (
                <div key={action} className="contents">
                  <dt className="font-mono text-[12px] text-ink-2">{line.shown}</dt>
                  <dd>{line.does}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </div>
      <p className="border-t border-edge px-4 py-2 text-[12px] text-ink-2">
        Single letters work where the focus is in a list; Escape closes this sheet.
      </p>
    </Dialog>
  )
}
