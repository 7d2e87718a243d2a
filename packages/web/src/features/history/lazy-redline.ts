import { lazy } from 'react'

/** The redline of a text, loaded when it is unfolded. */
export const Redline = lazy(() => import('./Redline').then((module) => ({ default: module.Redline })))
