import type { Item } from '@dystracer/core/items/wire'
import { STAGES } from '@dystracer/core/ladder/ladder'
import type { ItemSummary } from '@dystracer/core/records/wire'

/** A row of a list as the server sends it, with what a test says of it. */
export function anItem(given: Partial<ItemSummary> = {}): ItemSummary {
  return {
    key: 'EMB-1',
    title: 'Shelf light flickers',
    type: 'defect',
    severity: 3,
    ownerId: null,
    component: null,
    milestone: null,
    labels: [],
    stage: 'logged',
    stair: 'pwwwwww',
    hasComeBack: false,
    disposition: null,
    hasDrift: false,
    project: 'EMB',
    priority: null,
    sprint: null,
    points: null,
    estimateMinutes: null,
    coOwnerIds: [],
    dueOn: null,
    isConfidential: false,
    isArchived: false,
    isBlocked: false,
    ownValues: {},
    createdAtMs: 1_770_000_000_000,
    updatedAtMs: 1_770_000_000_000,
    revision: 1,
    ...given,
  }
}

/** An item whole, as the server sends it, with what a test says of it. */
export function aDetail(given: Partial<Item> = {}): Item {
  return {
    ...anItem(),
    description: '',
    points: null,
    estimateMinutes: null,
    foundIn: null,
    plannedFor: null,
    classification: null,
    ownValues: {},
    namedIds: [],
    reporterId: null,
    cameFrom: null,
    followerIds: [],
    children: [],
    blockedBy: [],
    keeperId: null,
    mergedInto: null,
    asked: null,
    aliases: [],
    spentMinutes: 0,
    ladder: {
      stage: 'logged',
      treads: STAGES.map((stage) => ({ stage, state: stage === 'logged' ? 'proved' : 'waiting', evidence: [] })),
      hasComeBack: false,
      disposition: null,
      drift: [],
    },
    links: [],
    proposedBranch: 'emb-1-shelf-light',
    proposedRepository: null,
    ...given,
  }
}
