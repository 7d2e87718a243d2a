import type { AuditsEvents } from '@dystracer/core/audits/events'
import type { EventWords } from '#shared/lib/event-words'

export const auditsWords: EventWords<AuditsEvents> = {
  'audit-reports-scheduled': ({ every }) =>
    every === 'never' ? 'keeps no report for an audit by itself' : `keeps a report for an audit each ${every}`,
  'audit-report-kept': ({ at, words }) => `kept the report for an audit as of ${at}${words === '' ? '' : `: ${words}`}`,
}
