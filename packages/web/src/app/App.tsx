import { lazy, Suspense, useEffect } from 'react'
import { BrowserRouter, useLocation } from 'react-router'
import { toast, Toaster } from 'sonner'
import { FindDialog } from '#features/desk/index'
import { AddressPage, ProofDialog, ResetPage, SignInDialog, SignInForm, SignUpPage } from '#features/people/index'
import { useMeQuery } from '#features/people/people.api'
import { LookBackDialog, PastBand } from '#features/past/index'
import { useUndoMutation } from '#features/undo/undo.api'
import { followLive } from './live'
import { pageRoot, pastAt } from '#shared/lib/past'
import { problemText } from '#shared/lib/problem-text'
import { dialogOpened, paneUnfolded, useAppDispatch, useAppSelector } from '#shared/lib/store'
import { keyPlaceOf, parseTrail } from '#shared/lib/trail'
import { Pending } from '#shared/ui/parts'
import { actionOf, allowSingleKeys, KEYS } from '#shared/lib/keys'
import { KeysDialog } from './KeysDialog'
import { FootLine } from './FootLine'
import { PlaceIndex } from './PlaceIndex'
import { TopBar } from './TopBar'
import { TrailView } from './TrailView'

const LogDialog = lazy(() => import('#features/logging/index').then((module) => ({ default: module.LogDialog })))
const FollowPage = lazy(() => import('#features/incoming/index').then((module) => ({ default: module.FollowPage })))
const PublishedNotesPage = lazy(() => import('#features/releases/index').then((module) => ({ default: module.PublishedNotesPage })))
const PublicReportPage = lazy(() => import('#features/incoming/index').then((module) => ({ default: module.PublicReportPage })))

export function App() {
  return (
    <BrowserRouter basename={pageRoot || '/'}>
      <Page />
      <ProofDialog />
      <Toaster position="top-center" offset={50} />
    </BrowserRouter>
  )
}

function Page() {
  const { pathname } = useLocation()
  const { data: me, error, isLoading } = useMeQuery()
  const secret = /^\/sign-up\/([\w-]+)$/.exec(pathname)?.[1]
  const reported = /^\/report\/([A-Z][A-Z0-9]*)$/.exec(pathname)?.[1]
  const followed = /^\/follow\/([\w.-]+)$/.exec(pathname)?.[1]
  const reset = /^\/reset\/([\w-]+)$/.exec(pathname)?.[1]
  const noted = /^\/notes\/([^/]+)$/.exec(pathname)?.[1]
  if (secret) return <SignUpPage secret={secret} />
  if (reset) return <ResetPage secret={reset} />
  if (reported)
    return (
      <Suspense fallback={null}>
        <PublicReportPage project={reported} />
      </Suspense>
    )
  if (noted)
    return (
      <Suspense fallback={null}>
        <PublishedNotesPage service={decodeURIComponent(noted)} />
      </Suspense>
    )
  if (followed)
    return (
      <Suspense fallback={null}>
        <FollowPage token={followed} />
      </Suspense>
    )
  if (!me) return <Pending error={error} isLoading={isLoading} />
  const address = /^\/address\/([\w.-]+)$/.exec(pathname)?.[1]
  if (address && me.person) return <AddressPage secret={address} />
  if (!me.person && (address || !me.mayReadUnsigned))
    return (
      <main className="mx-auto mt-[12vh] w-[min(420px,94vw)] rounded-[4px] border border-edge bg-sheet">
        <h1 className="px-4 pt-4 text-[17px] font-bold">Sign in to Dystracer</h1>
        <SignInForm hint={me.signInHint} onDone={() => {}} />
      </main>
    )
  return <Shell outsideUrl={me.outsideUrl} signInHint={me.signInHint} />
}

function Shell({ outsideUrl, signInHint }: { outsideUrl: string | null; signInHint: string | null }) {
  const { pathname } = useLocation()
  const segments = parseTrail(pathname)
  const dispatch = useAppDispatch()
  const { dialog, theme, hasSingleKeys } = useAppSelector((state) => state.shell)
  const [undo] = useUndoMutation()
  const close = () => dispatch(dialogOpened('none'))
  const place = segments[0]?.kind ?? 'desk'
  // The pane that was opened last, where it has keys of its own.
  const last = segments.at(-1)?.kind ?? place
  const keysOf = last in KEYS ? last : keyPlaceOf(segments[0])
  // Speaks with the server's live stream.
  useEffect(() => (pastAt === null ? followLive() : undefined), [])
  // The theme is a mark on the document.
  useEffect(() => {
    if (theme === 'system') delete document.documentElement.dataset.theme
    else document.documentElement.dataset.theme = theme
    localStorage.setItem('theme', theme)
  }, [theme])
  // Every handler asks the table of keys, which knows no store.
  useEffect(() => {
    allowSingleKeys(hasSingleKeys)
    localStorage.setItem('single-keys', hasSingleKeys ? 'on' : 'off')
  }, [hasSingleKeys])
  // A pane that is opened is the one to see.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the address is what it reacts to
  useEffect(() => {
    dispatch(paneUnfolded(null))
  }, [pathname, dispatch])
  // Keys that work anywhere.
  useEffect(() => {
    const onKey = (event: globalThis.KeyboardEvent) => {
      const isTyping =
        event.target instanceof HTMLElement && (event.target.isContentEditable || /^(?:INPUT|TEXTAREA|SELECT)$/.test(event.target.tagName))
      const action = actionOf('everywhere', event)
      // A chord works also while one types; single keys would be lost to the text.
      if (action === null || (isTyping && action !== 'log')) return
      // Nothing is logged or taken back in the past.
      if (pastAt !== null && (action === 'log' || action === 'undo')) return
      event.preventDefault()
      if (action === 'undo')
        void undo({}).then((result) =>
          result.error
            ? toast.error(problemText(result.error))
            : toast.success(`Your last change of ${result.data?.key ?? ''} is taken back`),
        )
      else dispatch(dialogOpened(action === 'help' ? 'keys' : action))
    }
    window.addEventListener('keydown', onKey)
    return () => window.removeEventListener('keydown', onKey)
  }, [dispatch, undo])
  return (
    <div className="flex h-full flex-col">
      <TopBar />
      <PastBand />
      <div className="flex min-h-0 flex-1">
        <PlaceIndex current={place} />
        <main className="flex min-w-0 flex-1">
          <h1 className="sr-only">Dystracer</h1>
          <TrailView segments={segments} />
        </main>
      </div>
      <FootLine place={keysOf} outsideUrl={outsideUrl} />
      <KeysDialog place={keysOf} isOpen={dialog === 'keys'} onClose={close} />
      <FindDialog isOpen={dialog === 'find'} onClose={close} />
      {dialog === 'log' && (
        <Suspense fallback={null}>
          <LogDialog isOpen onClose={close} />
        </Suspense>
      )}
      {dialog === 'past' && <LookBackDialog onClose={close} />}
      <SignInDialog isOpen={dialog === 'sign-in'} onClose={close} hint={signInHint} />
    </div>
  )
}
