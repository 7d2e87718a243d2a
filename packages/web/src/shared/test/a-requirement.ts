import type { RequirementDetail } from '@dystracer/core/requirements/wire'

/** A requirement of which nothing stands yet, but what is given. */
export function aRequirement(given: Partial<RequirementDetail> = {}): RequirementDetail {
  return {
    key: 'SAF-1',
    title: 'Limit',
    text: 'A kiln never heats above its limit.',
    revision: 2,
    parent: null,
    isHeading: false,
    isRetired: false,
    retiredWords: null,
    attributes: {},
    relations: [],
    checks: [],
    tests: 0,
    failingTests: 0,
    suspects: 0,
    implementedBy: 0,
    children: [],
    brokenBy: [],
    items: [],
    verifiedBy: [],
    revisions: [],
    ...given,
  }
}
