import { splitWords } from '#shared/lib/format'
import { freeIdFrom } from '@dystracer/core/text/id-from'
import { PLAIN_DEED, type RuleAct } from '@dystracer/core/faults/intake-rule'
import type { IntakeRuleInput } from '@dystracer/core/faults/intake-wire'
import type { SeverityName } from '@dystracer/core/basics/severity-levels'

const HOUR_MINUTES = 60
const DAY_MINUTES = 24 * HOUR_MINUTES
/** The units in which a window is written, as minutes. */
export const WINDOW_UNITS = [
  { value: '1', label: 'minutes' },
  { value: '60', label: 'hours' },
  { value: '1440', label: 'days' },
] as const

/** How a field asks for a number of items in some time; left open it is any number. */
export const A_BUDGET = { type: 'number', min: 1, max: 10_000, placeholder: 'any number' } as const

/** A rule as the controls of its sentence hold it: a number that may be left open is text, as a field gives it. */
export interface RuleForm {
  name: string
  environmentKind: 'production' | 'any'
  severityAtLeast: SeverityName
  countAtLeast: number
  windowCount: number
  windowUnit: (typeof WINDOW_UNITS)[number]['value']
  peopleAtLeast: number
  where: string
  act: RuleAct
  type: string
  ownerId: string
  isAccepted: 'no' | 'yes'
  severity: '' | '1' | '2' | '3' | '4' | '5'
  component: string
  milestone: string
  labels: string
  tiesAlike: 'no' | 'yes'
  tellIds: string[]
  remark: string
  /** Whether the item says all that is known, or a text of the rule's own. */
  says: 'all' | 'own'
  text: string
  perHour: string
  perDay: string
  goesOn: 'no' | 'yes'
}

/** What a text begins as: what a person would ask for, and what is known. */
const OWN_TEXT = '{type} in {function}, {people} people hit.\n\n**What to look at first**\n\n{report}'

/** What a rule begins as: worth an item once several occurrences came in short time. */
export const NEW_RULE: IntakeRuleInput = {
  name: '',
  environmentKind: 'production',
  severityAtLeast: 'error',
  countAtLeast: 5,
  windowMinutes: 10,
  peopleAtLeast: 0,
  where: '',
  deed: { ...PLAIN_DEED, labels: [], tellIds: [] },
  perHour: 6,
  perDay: null,
  goesOn: false,
  isDraft: true,
}

/** A rule, ready to be changed. The window is written in its largest unit that has no rest. */
export function toForm(rule: IntakeRuleInput): RuleForm {
  const unit = rule.windowMinutes % DAY_MINUTES === 0 ? DAY_MINUTES : rule.windowMinutes % HOUR_MINUTES === 0 ? HOUR_MINUTES : 1
  const { deed } = rule
  return {
    name: rule.name,
    environmentKind: rule.environmentKind,
    severityAtLeast: rule.severityAtLeast,
    countAtLeast: rule.countAtLeast,
    windowCount: rule.windowMinutes / unit,
    windowUnit: String(unit) as RuleForm['windowUnit'],
    peopleAtLeast: rule.peopleAtLeast,
    where: rule.where,
    act: deed.act,
    type: deed.type,
    ownerId: deed.ownerId ?? '',
    isAccepted: deed.isAccepted ? 'yes' : 'no',
    severity: deed.severity === null ? '' : (String(deed.severity) as RuleForm['severity']),
    component: deed.component ?? '',
    milestone: deed.milestone ?? '',
    labels: deed.labels.join(', '),
    tiesAlike: deed.tiesAlike ? 'yes' : 'no',
    tellIds: [...deed.tellIds],
    remark: deed.remark,
    says: deed.text === '' ? 'all' : 'own',
    text: deed.text === '' ? OWN_TEXT : deed.text,
    perHour: rule.perHour === null ? '' : String(rule.perHour),
    perDay: rule.perDay === null ? '' : String(rule.perDay),
    goesOn: rule.goesOn ? 'yes' : 'no',
  }
}

/** What the controls hold, as a rule: the reverse of `toForm`. */
export function toRule(form: RuleForm, isDraft: boolean): IntakeRuleInput {
  return {
    name: form.name.trim(),
    environmentKind: form.environmentKind,
    severityAtLeast: form.severityAtLeast,
    countAtLeast: form.countAtLeast,
    windowMinutes: form.windowCount * Number(form.windowUnit),
    peopleAtLeast: form.peopleAtLeast,
    where: form.where.trim(),
    deed: {
      act: form.act,
      type: form.type,
      labels: splitWords(form.labels),
      severity: form.severity === '' ? null : (Number(form.severity) as 1 | 2 | 3 | 4 | 5),
      ownerId: form.ownerId || null,
      component: form.component || null,
      milestone: form.milestone || null,
      isAccepted: form.isAccepted === 'yes',
      tiesAlike: form.tiesAlike === 'yes',
      tellIds: form.tellIds,
      remark: form.remark.trim(),
      text: form.says === 'own' ? form.text.trim() : '',
    },
    perHour: form.perHour === '' ? null : Number(form.perHour),
    perDay: form.perDay === '' ? null : Number(form.perDay),
    goesOn: form.goesOn === 'yes',
    isDraft,
  }
}

/** An id for a new rule, made from its name. */
export function freeId(name: string, taken: readonly string[]): string {
  return freeIdFrom(name, { isTaken: (id) => taken.includes(id), stem: 'rule', maxChars: 30 })
}
