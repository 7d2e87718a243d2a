/** The journal's events of looking and their bodies. */
export interface LookingEvents {
  'view-saved': {
    viewId: string
    project: string
    ownerId: string
    name: string
    filter: string
    sort: string
    columns: string[]
    look?: object
    isShared: boolean
  }
  'view-removed': { viewId: string }
  'view-pinned': { viewId: string; personId: string; isPinned: boolean }
}
