import type { FirstStep } from '@dystracer/core/desk/wire'
import { lazy, Suspense } from 'react'
import { Link } from 'react-router'
import { dialogOpened, useAppDispatch } from '#shared/lib/store'
import { SectionHead } from '#shared/ui/parts'

/** Comes with the panes of builds, once the step is shown. */
const ReportBuilds = lazy(() => import('#features/builds/index').then((feature) => ({ default: feature.ReportBuilds })))

/** Where each step is taken. An item is logged in the dialog; builds are reported from where they run. */
const STEPS: Record<FirstStep, { to: string | null; name: string; why: string }> = {
  item: { to: null, name: 'Log the first item', why: 'a defect that you know of, or something to be done' },
  code: { to: '/code', name: 'Connect your code', why: 'commits and branches then move items by themselves' },
  requirement: { to: '/requirements', name: 'Begin a requirement', why: 'what is asked for, so that each fix can be traced to it' },
  people: { to: '/settings~people', name: 'Invite people', why: 'they can be given items at once' },
  builds: { to: null, name: 'Report builds', why: 'after the tests, wherever they run:' },
  program: { to: '/faults/connect', name: 'Connect the running program', why: 'its errors become faults, and faults become items' },
}

/** What a new project still misses, for whoever sets it up; each step goes once it was taken by anybody. */
export function FirstSteps({ missing }: { missing: readonly FirstStep[] }) {
  const dispatch = useAppDispatch()
  return (
    <section aria-label="First steps" className="border-b border-edge px-4 py-3">
      <SectionHead>What is still missing</SectionHead>
      <ul className="m-0 list-none p-0">
        {missing.map((step) => {
          const { to, name, why } = STEPS[step]
          return (
            <li key={step} className="py-1">
              {to !== null ? (
                <Link className="link" to={to}>
                  {name}
                </Link>
              ) : step === 'item' ? (
                <button type="button" className="link" onClick={() => dispatch(dialogOpened('log'))}>
                  {name}
                </button>
              ) : (
                <b>{name}</b>
              )}
              <span className="text-ink-2">: {why}</span>
              {step === 'builds' && (
                <Suspense>
                  <ReportBuilds />
                </Suspense>
              )}
            </li>
          )
        })}
      </ul>
    </section>
  )
}
