import type { Me } from '@dystracer/core/desk/wire'
import { STANDARD_TYPES } from '@dystracer/core/setup/item-type'
import type { ProjectSetup } from '@dystracer/core/setup/wire'

/** The set-up of a project that nobody has changed. */
export function aSetup(given: Partial<ProjectSetup> = {}): ProjectSetup {
  return {
    types: [...STANDARD_TYPES],
    ownFields: [],
    stageRules: [],
    hasPublicForm: false,
    milestones: [],
    labels: [],
    components: [],
    limits: [],
    ...given,
  }
}

/** Ines, a lead of Emberwick, with a colleague. */
export function aMe(given: Partial<Me> = {}): Me {
  return {
    person: { personId: 'ines', name: 'Ines Calder', initials: 'IC', role: 'lead' },
    csrfToken: 'token',
    project: { prefix: 'EMB', name: 'Emberwick' },
    people: [
      { personId: 'ines', name: 'Ines Calder', initials: 'IC', role: 'lead' },
      { personId: 'rafe', name: 'Rafe Lindqvist', initials: 'RL', role: 'member' },
    ],
    components: ['Firing control', 'Billing'],
    milestones: [],
    mayReadUnsigned: false,
    signInHint: null,
    outsideUrl: null,
    tour: [],
    needsFirstAdmin: false,
    projects: [{ prefix: 'EMB', name: 'Emberwick', isArchived: false }],
    labels: ['sensor'],
    sprints: [],
    releases: [],
    setup: aSetup(),
    ...given,
  }
}
