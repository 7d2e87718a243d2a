import type { TrainCar } from '@dystracer/core/trains/wire'
import { useState } from 'react'
import { plural } from '#shared/lib/format'
import { Button } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'

/** What each service brings, in the order in which they go out. */
export function Cars({ cars }: { cars: readonly TrainCar[] }) {
  return (
    <section aria-label="What goes out" className="border-t border-edge px-4 py-3">
      <table className="w-full text-left">
        <thead className="text-[12px] text-ink-3">
          <tr>
            <th className="font-normal">service</th>
            <th className="font-normal">release</th>
            <th className="font-normal">brings</th>
            <th className="font-normal">runs in</th>
          </tr>
        </thead>
        {cars.map((car) => (
          <CarRows key={car.service} car={car} />
        ))}
      </table>
    </section>
  )
}

function CarRows({ car }: { car: TrainCar }) {
  const [isOpen, setIsOpen] = useState(false)
  const brings = `${plural(car.items.length + car.more, 'item')}, ${plural(car.commits, 'change')}`
  return (
    <tbody>
      <tr className="border-t border-edge-soft align-top">
        <th scope="row" className="py-1 pr-2 font-bold">
          {car.service}
        </th>
        <td className="py-1 pr-2">
          <CarRelease car={car} />
        </td>
        <td className="py-1 pr-2">
          {car.commits === 0 ? (
            <span className="text-ink-3">nothing new</span>
          ) : (
            <Button look="line" aria-expanded={isOpen} aria-label={`${brings} in ${car.service}`} onClick={() => setIsOpen(!isOpen)}>
              {brings}
            </Button>
          )}
          {car.against !== null && <span className="text-[12px] text-ink-3"> since {car.against}</span>}
        </td>
        <td className="py-1">
          {car.runsIn.length === 0 ? <span className="text-ink-3">–</span> : <b className="text-proof">{car.runsIn.join(', ')}</b>}
        </td>
      </tr>
      {isOpen && (
        <tr>
          <td colSpan={4} className="pb-2 pl-4">
            <ul aria-label={`Items of ${car.service}`} className="m-0 max-h-[240px] list-none overflow-y-auto p-0">
              {car.items.map((item) => (
                <li key={item.key} className="truncate py-0.5">
                  <ThingLink to={{ kind: 'item', id: item.key }} /> {item.title}
                </li>
              ))}
            </ul>
            {car.more > 0 && <p className="text-[12px] text-ink-3">and {car.more} more</p>}
          </td>
        </tr>
      )}
    </tbody>
  )
}

function CarRelease({ car: { service, release, isThere, withdrawnWhy, proposed, against, commits } }: { car: TrainCar }) {
  if (release === null && proposed === null) return <span className="text-ochre">its main line has not been read yet</span>
  if (release === null)
    return against !== null && commits === 0 ? (
      <span className="text-ink-2">goes with its newest, {against}</span>
    ) : (
      <span className="text-ochre">to be made, as {proposed}</span>
    )
  if (!isThere) return <span className="text-fault">{release}, whose tag is gone</span>
  return (
    <>
      <ThingLink to={{ kind: 'release', id: `${service}@${release}` }}>{release}</ThingLink>
      {withdrawnWhy !== null && (
        <span className="ml-1 text-fault" title={withdrawnWhy}>
          withdrawn
        </span>
      )}
    </>
  )
}
