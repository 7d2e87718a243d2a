import { Link } from 'react-router'
import { usePlacesQuery } from '#features/desk/desk.api'
import { dialogOpened, themeChosen, useAppDispatch, useAppSelector } from '#shared/lib/store'
import { pastAt } from '#shared/lib/past'
import { usePeople } from '#features/people/index'
import { Button, Initials } from '#shared/ui/parts'

const NEXT_THEME = { system: 'dark', dark: 'light', light: 'system' } as const

export function TopBar() {
  const { me, isArchivedProject } = usePeople()
  const dispatch = useAppDispatch()
  const theme = useAppSelector((state) => state.shell.theme)
  const { data: places } = usePlacesQuery()
  return (
    <header className="flex h-[44px] items-center gap-5 border-b border-edge px-4">
      <span className="flex w-[122px] items-center gap-2 text-[15px] font-bold">
        <svg aria-hidden="true" width="16" height="16" viewBox="0 0 16 16">
          <path d="M1 13h4V9h4V5h5" fill="none" stroke="currentColor" strokeWidth="2" />
          <circle cx="2.5" cy="13" r="2" fill="var(--fault)" />
        </svg>
        Dystracer
      </span>
      <Link to="/settings" className="font-bold max-[900px]:hidden" title="Settings">
        {me?.project.name}
        {isArchivedProject(me?.project.prefix) && <span className="ml-2 text-[12px] font-normal text-ochre">archived</span>}
      </Link>
      <button
        type="button"
        onClick={() => dispatch(dialogOpened('find'))}
        className="ml-auto flex h-7 w-[min(460px,40vw)] items-center justify-between rounded-[3px] border border-edge bg-sheet
          px-3 text-left text-ink-2"
      >
        <span className="truncate">Find anything, or type what to do</span>
        <kbd className="rounded-[2px] border border-edge px-1.5 text-[11px]">/</kbd>
      </button>
      <span className="ml-auto flex items-center gap-3">
        {pastAt === null && (
          <Button look="main" onClick={() => dispatch(dialogOpened('log'))}>
            Log a defect
          </Button>
        )}
        <button
          type="button"
          className="text-[12px] text-ink-2 max-[900px]:hidden"
          onClick={() => dispatch(themeChosen(NEXT_THEME[theme]))}
          aria-label={`Theme: ${theme}. Change it`}
        >
          {theme}
        </button>
        {me?.person && (
          <Link to="/inbox" className="text-ink-2">
            Inbox {places && places.inbox > 0 && pastAt === null && <b className="text-fault">{places.inbox}</b>}
          </Link>
        )}
        {me?.person ? (
          <Link to="/you" title={`${me.person.name}: your account`}>
            <span className="sr-only">Signed in as {me.person.name}. Your account</span>
            <span aria-hidden="true">
              <Initials text={me.person.initials} />
            </span>
          </Link>
        ) : (
          <Button onClick={() => dispatch(dialogOpened('sign-in'))}>Sign in</Button>
        )}
      </span>
    </header>
  )
}
