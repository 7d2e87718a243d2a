import { createSlice, type PayloadAction, type WithSlice } from '@reduxjs/toolkit'
import { useMemo } from 'react'
import { rootReducer, useAppDispatch, useAppSelector, type RootState } from '#shared/lib/store'

/** Keys of the items that were chosen to act on all of them; the same in every way of looking. */
const chosen = createSlice({
  name: 'chosen',
  initialState: [] as string[],
  reducers: {
    itemToggled: (state, action: PayloadAction<string>) => {
      const at = state.indexOf(action.payload)
      if (at < 0) state.push(action.payload)
      else state.splice(at, 1)
    },
    itemsChosen: (state, action: PayloadAction<readonly string[]>) => [...new Set([...state, ...action.payload])],
    noneChosen: () => [],
  },
})
const { itemToggled, itemsChosen, noneChosen } = chosen.actions
const injected = chosen.injectInto(rootReducer)

/** The chosen items, and how more or fewer are chosen. */
export function useChosen(): {
  keys: ReadonlySet<string>
  toggle: (key: string) => void
  add: (...keys: string[]) => void
  clear: () => void
} {
  const dispatch = useAppDispatch()
  const list = useAppSelector((state) => injected.selectSlice(state as RootState & WithSlice<typeof chosen>))
  return useMemo(
    () => ({
      keys: new Set(list),
      toggle: (key) => void dispatch(itemToggled(key)),
      add: (...keys) => void dispatch(itemsChosen(keys)),
      clear: () => void dispatch(noneChosen()),
    }),
    [list, dispatch],
  )
}
