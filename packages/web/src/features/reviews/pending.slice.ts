import { createSlice, type PayloadAction, type WithSlice } from '@reduxjs/toolkit'
import { rootReducer, useAppDispatch, useAppSelector, type RootState } from '#shared/lib/store'
import type { DiffLines } from '#shared/diff/DiffFile'

/** A remark that was written and not sent yet: a whole review is sent at once. */
export interface PendingRemark extends DiffLines {
  path: string
  text: string
  /** What should stand there instead; null where nothing is proposed. */
  instead: string | null
}

const pending = createSlice({
  name: 'pendingRemarks',
  initialState: {} as Record<string, PendingRemark[]>,
  reducers: {
    remarkWritten: (state, { payload: { id, remark } }: PayloadAction<{ id: string; remark: PendingRemark }>) => {
      state[id] = [...(state[id] ?? []), remark]
    },
    remarkDropped: (state, { payload: { id, at } }: PayloadAction<{ id: string; at: number }>) => {
      state[id] = (state[id] ?? []).filter((_, index) => index !== at)
    },
    remarksSent: (state, { payload: id }: PayloadAction<string>) => {
      delete state[id]
    },
  },
})
const injected = pending.injectInto(rootReducer)
const NONE: PendingRemark[] = []

/** The remarks as a review is sent with them. */
export const remarksToSend = (remarks: readonly PendingRemark[]) =>
  remarks.map(({ path, side, line, lastLine, text, instead }) => ({ text, instead, place: { path, side, line, lastLine } }))

/** The remarks that wait to be sent, by pull request, and how those of one are cleared away. */
export function useAllPendingRemarks() {
  const dispatch = useAppDispatch()
  const byId = useAppSelector((state) => injected.selectSlice(state as RootState & WithSlice<typeof pending>))
  return { of: (id: string) => byId[id] ?? NONE, clear: (id: string) => void dispatch(pending.actions.remarksSent(id)) }
}

/** The remarks of a pull request that wait to be sent, and how they become more or fewer. */
export function usePendingRemarks(id: string) {
  const dispatch = useAppDispatch()
  const remarks = useAppSelector((state) => injected.selectSlice(state as RootState & WithSlice<typeof pending>)[id] ?? NONE)
  return {
    remarks,
    write: (remark: PendingRemark) => void dispatch(pending.actions.remarkWritten({ id, remark })),
    drop: (at: number) => void dispatch(pending.actions.remarkDropped({ id, at })),
    clear: () => void dispatch(pending.actions.remarksSent(id)),
  }
}
