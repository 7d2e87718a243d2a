import type { AgreementsEvents } from '@dystracer/core/agreements/events'
import type { EventWords } from '#shared/lib/event-words'
import { plural } from '#shared/lib/format'

export const agreementsWords: EventWords<AgreementsEvents> = {
  'agreement-asked': ({ name, keys }) => `asked to agree to ${plural(keys.length, 'requirement')}: ${name}`,
  'agreement-changed': ({ name }) => `changed what is to be agreed to: ${name}`,
  'requirements-agreed': ({ verdicts, isOn }) =>
    `${isOn ? 'agreed to' : 'took back the agreement to'} ${
      verdicts.length === 1 ? verdicts[0]?.key : plural(verdicts.length, 'requirement')
    }`,
  'agreement-remarked': ({ key, text }) => `remarked on ${key}: ${text}`,
  'agreement-remark-settled': ({ key, isSettled }) => (isSettled ? `settled a remark on ${key}` : `opened a remark on ${key} again`),
  'agreement-ended': ({ isEnded, words }) =>
    isEnded ? `ended an agreement${words === '' ? '' : `: ${words}`}` : 'lets an agreement go on',
}
