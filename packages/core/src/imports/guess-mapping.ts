import { IMPORT_FIELDS, type ImportField, type ImportMapping } from './import-plan.js'

/** Names that columns of such files bear, by field; compared in small letters without blanks and marks. */
const NAMES: Record<ImportField, readonly string[]> = {
  id: ['id', 'key', 'number', 'no', 'nr', 'ticket', 'issueid', 'externalid', 'reference'],
  title: ['title', 'summary', 'subject', 'name', 'headline'],
  description: ['description', 'body', 'text', 'details', 'notes', 'content'],
  type: ['type', 'kind', 'category', 'tracker', 'issuetype'],
  severity: ['severity', 'impact', 'howbad'],
  priority: ['priority', 'urgency', 'importance'],
  owner: ['owner', 'assignee', 'assignedto', 'responsible'],
  component: ['component', 'module', 'area', 'part', 'subsystem'],
  milestone: ['milestone', 'version', 'targetversion', 'fixversion'],
  sprint: ['sprint', 'iteration'],
  labels: ['labels', 'tags', 'keywords', 'label'],
  due: ['due', 'duedate', 'dueon', 'deadline', 'targetdate'],
  points: ['points', 'storypoints', 'effort', 'size'],
  parent: ['parent', 'parentid', 'epic', 'partof'],
  status: ['status', 'state', 'stage'],
  resolution: ['resolution', 'disposition', 'closereason'],
  reporter: ['reporter', 'reportedby', 'author', 'createdby', 'raisedby', 'submitter', 'opener'],
  created: ['created', 'createdat', 'createdon', 'datecreated', 'reportedat', 'opened'],
  estimate: ['estimate', 'estimateminutes', 'originalestimate', 'timeestimate', 'estimatedhours'],
  spent: ['spent', 'spentminutes', 'timespent', 'worked', 'loggedtime', 'spenthours'],
  comments: ['comments', 'comment', 'discussion'],
  blocks: ['blocks', 'blocking'],
  'blocked by': ['blockedby', 'dependson', 'waitsfor'],
  'same as': ['sameas', 'duplicateof', 'duplicates'],
  'see also': ['seealso', 'relates', 'relatesto', 'related'],
  requirements: ['requirements', 'requirement', 'implements'],
  'found in': ['foundin', 'affectsversion', 'affectedversion', 'foundinrelease'],
  'planned for': ['plannedfor', 'plannedrelease'],
  links: ['attachments', 'attachment', 'links', 'urls', 'files'],
}

/** Guesses what each column is, by its name; a field is taken by the first column that fits it best. */
export function guessMapping(columns: readonly string[]): ImportMapping {
  const mapping: ImportMapping = {}
  const plain = (text: string) => text.toLowerCase().replace(/[^a-z]/g, '')
  for (const isExact of [true, false])
    for (const column of columns) {
      if (column in mapping) continue
      const name = plain(column)
      const field = IMPORT_FIELDS.find(
        (known) =>
          !Object.values(mapping).includes(known) &&
          NAMES[known].some((word) => (isExact ? word === name : word.length > 3 && name.includes(word))),
      )
      if (field) mapping[column] = field
    }
  return mapping
}
