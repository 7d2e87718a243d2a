import type { TriageSource } from '@dystracer/core/triage/decision'
import { createSlice, type PayloadAction, type WithSlice } from '@reduxjs/toolkit'
import { rootReducer, useAppSelector, type RootState } from '#shared/lib/store'
import type { DecisionDraft } from './decision-draft'

export interface TriageState {
  /** What was changed of each decision that is not taken yet. */
  drafts: Record<string, DecisionDraft>
  /** Which dialog of a decision stands open. */
  dialog: 'same-as' | 'ask' | 'reject' | null
  source: TriageSource | null
  /** Decided here, while answers that are on their way may still list them. */
  gone: Record<string, true>
}
const initialState: TriageState = { drafts: {}, dialog: null, source: null, gone: {} }

const triage = createSlice({
  name: 'triage',
  initialState,
  reducers: {
    draftChanged: (state, action: PayloadAction<{ key: string; draft: DecisionDraft }>) => {
      state.drafts[action.payload.key] = action.payload.draft
    },
    draftDropped: (state, action: PayloadAction<string>) => {
      delete state.drafts[action.payload]
    },
    decisionTaken: (state, action: PayloadAction<string>) => {
      state.gone[action.payload] = true
    },
    /** Refused, taken back, or listed no more: what the server says counts again. */
    decisionsSettled: (state, action: PayloadAction<readonly string[]>) => {
      for (const key of action.payload) delete state.gone[key]
    },
    dialogChosen: (state, action: PayloadAction<TriageState['dialog']>) => {
      state.dialog = action.payload
    },
    sourceChosen: (state, action: PayloadAction<TriageSource | null>) => {
      state.source = action.payload
    },
  },
})
export const { draftChanged, draftDropped, dialogChosen, sourceChosen, decisionTaken, decisionsSettled } = triage.actions
const injected = triage.injectInto(rootReducer)
export const useTriageState = (): TriageState =>
  useAppSelector((state) => injected.selectSlice(state as RootState & WithSlice<typeof triage>))
