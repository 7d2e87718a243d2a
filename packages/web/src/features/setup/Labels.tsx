import { type LabelColour, LABEL_COLOUR_NAMES } from '@dystracer/core/setup/label-colour'
import { toChoices } from '#shared/lib/choices'
import { Choose } from '#shared/ui/fields'
import { Label, SectionHead } from '#shared/ui/parts'
import type { Part } from './part'

/** The labels in use, each with its colour; any member may choose another. */
export function Labels({ setup, canEdit, save }: Part) {
  return (
    <section aria-label="Labels">
      <SectionHead>Labels</SectionHead>
      {setup.labels.length === 0 && (
        <p className="text-ink-3">None yet. Give an item one, and it gets a colour that is easily told from the others.</p>
      )}
      <ul className="m-0 grid list-none grid-cols-2 gap-x-6 p-0">
        {setup.labels.map(({ label, colour }) => (
          <li key={label} className="flex items-center justify-between border-b border-edge-soft py-0.5">
            <Label text={label} colour={colour} />
            <Choose
              aria-label={`Colour of ${label}`}
              className="w-[84px]! py-0.5!"
              disabled={!canEdit}
              value={colour}
              choices={toChoices(LABEL_COLOUR_NAMES)}
              onChange={(event) =>
                void save('colourLabel', { label, colour: event.target.value as LabelColour }, `${label} is ${event.target.value}`)
              }
            />
          </li>
        ))}
      </ul>
    </section>
  )
}
