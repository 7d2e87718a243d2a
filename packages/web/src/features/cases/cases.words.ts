import type { CasesEvents } from '@dystracer/core/cases/events'
import type { EventWords } from '#shared/lib/event-words'

export const casesWords: EventWords<CasesEvents> = {
  'case-written': ({ number, revision, title }) =>
    `wrote test case ${number}${revision > 1 ? ` anew, revision ${revision}` : ''}: ${title}`,
  'case-retired': ({ number, isRetired }) => (isRetired ? `retired test case ${number}` : `took test case ${number} up again`),
  'test-plan-made': ({ name, cases }) => `planned ${cases.length} test cases: ${name}`,
  'test-plan-changed': ({ name }) => `changed the test plan ${name}`,
  'test-done': ({ number, environment, outcome, step, words }) =>
    `did test case ${number} in ${environment}: ${outcome}${step === null ? '' : ` at step ${step}`}${words === '' ? '' : `, ${words}`}`,
  'test-plan-signed': ({ isSigned, words }) =>
    isSigned ? `stands for a test plan as it was done${words === '' ? '' : `: ${words}`}` : 'took back the signature of a test plan',
}
