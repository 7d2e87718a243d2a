import { combineSlices, configureStore, createSlice, type PayloadAction } from '@reduxjs/toolkit'
import { useDispatch, useSelector } from 'react-redux'
import { api } from './api'

interface ShellState {
  dialog: 'none' | 'log' | 'find' | 'sign-in' | 'keys' | 'past'
  live: 'connecting' | 'live' | 'lost'
  theme: 'system' | 'light' | 'dark'
  hasSingleKeys: boolean
  unfoldedAt: number | null
  changedKeys: Record<string, number>
}
const initialState: ShellState = {
  dialog: 'none',
  live: 'connecting',
  theme: readTheme(),
  hasSingleKeys: localStorage.getItem('single-keys') !== 'off',
  unfoldedAt: null,
  changedKeys: {},
}

function readTheme(): ShellState['theme'] {
  const stored = localStorage.getItem('theme')
  return stored === 'light' || stored === 'dark' ? stored : 'system'
}

/** State of the interface alone; server data lives in the API cache. */
const shell = createSlice({
  name: 'shell',
  initialState,
  reducers: {
    dialogOpened: (state, action: PayloadAction<ShellState['dialog']>) => {
      state.dialog = action.payload
    },
    liveChanged: (state, action: PayloadAction<ShellState['live']>) => {
      state.live = action.payload
    },
    themeChosen: (state, action: PayloadAction<ShellState['theme']>) => {
      state.theme = action.payload
    },
    singleKeysSwitched: (state, action: PayloadAction<boolean>) => {
      state.hasSingleKeys = action.payload
    },
    paneUnfolded: (state, action: PayloadAction<number | null>) => {
      state.unfoldedAt = action.payload
    },
    /** The newest event of each item, by its key. */
    itemsChanged: (state, action: PayloadAction<Record<string, number>>) => {
      Object.assign(state.changedKeys, action.payload)
    },
  },
})
export const { dialogOpened, liveChanged, themeChosen, singleKeysSwitched, paneUnfolded, itemsChanged } = shell.actions

/** A feature puts its slice in when it is loaded, and selects from it by its own type. */
export const rootReducer = combineSlices(api, shell)
export const store = configureStore({
  reducer: rootReducer,
  middleware: (defaults) => defaults().concat(api.middleware),
})
export type RootState = ReturnType<typeof store.getState>
export const useAppDispatch = useDispatch.withTypes<typeof store.dispatch>()
export const useAppSelector = useSelector.withTypes<RootState>()
