import Bowser from 'bowser'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { toChoices } from '#shared/lib/choices'
import { forgetDrafts } from '#shared/lib/drafts'
import { fieldProblem, problemText } from '#shared/lib/problem-text'
import { usePaneTrail } from '#shared/lib/use-trail'
import { singleKeysSwitched, themeChosen, useAppDispatch, useAppSelector } from '#shared/lib/store'
import { Choose, Field, TextInput } from '#shared/ui/fields'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Refusal, SectionHead, When } from '#shared/ui/parts'
import {
  useChangePasswordMutation,
  useEndSessionMutation,
  useProfileQuery,
  useChangeMeMutation,
  useSessionsQuery,
  useSignOutMutation,
} from './people.api'
import { Addresses } from './Addresses'
import { SecondFactor } from './SecondFactor'
import { Tokens } from './Tokens'

/** One's own account: the name, the password, where one is signed in, tokens for scripts of one's own, and the way out. */
export function ProfilePane() {
  const { data, error, isLoading } = useProfileQuery()
  const [signOut] = useSignOutMutation()
  const trail = usePaneTrail()
  return (
    <Pane label="You" title={data?.name ?? 'You'}>
      <Pending error={error} isLoading={isLoading} />
      {data && (
        <div className="space-y-5 px-4 py-3">
          <NameForm key={data.name} name={data.name} email={data.email} />
          <ZoneForm timeZone={data.timeZone} />
          <Addresses profile={data} />
          <PasswordForm />
          <SecondFactor />
          <Sessions />
          <Tokens project={null} />
          <ThisDevice />
          <section aria-label="More" className="flex gap-4">
            <Button look="line" onClick={() => trail.open({ kind: 'choices', id: '' })}>
              How you are told of things
            </Button>
            <Button
              look="line"
              onClick={() =>
                void signOut().then((result) => {
                  if (result.error) toast.error(problemText(result.error))
                  else forgetDrafts()
                })
              }
            >
              Sign out
            </Button>
          </section>
        </div>
      )}
    </Pane>
  )
}

const THEMES = { system: 'as the system has it', light: 'light', dark: 'dark' } as const

/** What holds in this browser alone. */
function ThisDevice() {
  const { theme, hasSingleKeys } = useAppSelector((state) => state.shell)
  const dispatch = useAppDispatch()
  return (
    <section aria-label="In this browser">
      <SectionHead>In this browser</SectionHead>
      <div className="flex flex-wrap items-end gap-5">
        <Field label="Light or dark">
          <Choose
            value={theme}
            choices={Object.entries(THEMES).map(([value, label]) => ({ value, label }))}
            onChange={({ target }) => dispatch(themeChosen(target.value as keyof typeof THEMES))}
          />
        </Field>
        <label className="flex items-center gap-2 pb-1.5">
          <input type="checkbox" checked={hasSingleKeys} onChange={({ target }) => dispatch(singleKeysSwitched(target.checked))} />
          Single letters, digits and signs do something in lists
        </label>
      </div>
      <p className="mt-1 text-[12px] text-ink-2">Arrows, Enter and chords such as Alt+N and Ctrl+K work in any case.</p>
    </section>
  )
}

function NameForm({ name, email }: { name: string; email: string }) {
  const [rename, { error, isLoading }] = useChangeMeMutation()
  const { register, handleSubmit } = useForm({ defaultValues: { name } })
  const submit = handleSubmit(async (input) => {
    const result = await rename(input)
    if (!result.error) toast.success(`You are called ${result.data.name}`)
  })
  return (
    <section aria-label="Account">
      <SectionHead>Account</SectionHead>
      <p className="mb-1 text-ink-2">You sign in as {email}. Commits from this address are yours.</p>
      <form aria-label="Your name" className="flex items-start gap-2" onSubmit={(event) => void submit(event)}>
        <Field label="Name" error={fieldProblem(error, 'name')}>
          <TextInput maxLength={100} autoComplete="name" {...register('name', { required: true })} />
        </Field>
        <Button type="submit" className="mt-[21px]" disabled={isLoading}>
          Change the name
        </Button>
      </form>
    </section>
  )
}

/** By which zone days begin: what is overdue, and the day that time is booked on. */
function ZoneForm({ timeZone }: { timeZone: string | null }) {
  const [change, { isLoading }] = useChangeMeMutation()
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone
  const choose = (zone: string | null) =>
    void change({ timeZone: zone }).then((result) =>
      result.error ? toast.error(problemText(result.error)) : toast.success(`Your days begin by ${zone ?? 'UTC'}`),
    )
  return (
    <section aria-label="Time zone">
      <SectionHead>Time zone</SectionHead>
      <div className="flex flex-wrap items-end gap-3">
        <Field label="Your days begin by (what is overdue, the day that time is booked on)">
          <Choose
            value={timeZone ?? ''}
            disabled={isLoading}
            choices={[{ value: '', label: 'UTC' }, ...toChoices(Intl.supportedValuesOf('timeZone').filter((zone) => zone !== 'UTC'))]}
            onChange={({ target }) => choose(target.value === '' ? null : target.value)}
          />
        </Field>
        {here !== (timeZone ?? 'UTC') && (
          <Button className="mb-0.5" disabled={isLoading} onClick={() => choose(here)}>
            Take this browser’s: {here}
          </Button>
        )}
      </div>
    </section>
  )
}

function PasswordForm() {
  const [change, { error, isLoading }] = useChangePasswordMutation()
  const { register, handleSubmit, reset } = useForm({ defaultValues: { current: '', next: '' } })
  const submit = handleSubmit(async (input) => {
    const result = await change(input)
    if (result.error) return
    reset()
    toast.success('Your password is changed; everywhere else you are signed out')
  })
  const isFieldWrong = fieldProblem(error, 'current') ?? fieldProblem(error, 'next')
  return (
    <section aria-label="Password">
      <SectionHead>Password</SectionHead>
      <form aria-label="Your password" className="flex flex-wrap items-start gap-2" onSubmit={(event) => void submit(event)}>
        <Field label="The one you have" error={fieldProblem(error, 'current')}>
          <TextInput type="password" autoComplete="current-password" {...register('current', { required: true })} />
        </Field>
        <Field label="A new one (at least 10 characters)" error={fieldProblem(error, 'next')}>
          <TextInput type="password" autoComplete="new-password" {...register('next', { required: true })} />
        </Field>
        <Button type="submit" className="mt-[21px]" disabled={isLoading}>
          Change the password
        </Button>
      </form>
      {!isFieldWrong && <Refusal error={error} />}
    </section>
  )
}

/** “Chrome on Linux at 10.1.2.3” of what a browser says of itself at length; a program that is none says its own name. */
function placeWords(place: string): string {
  if (place === '') return 'from before this was noted'
  const [, agent = place, address = ''] = /^(.*) at (\S+)$/.exec(place) ?? []
  const { browser, os } = Bowser.parse(agent || ' ')
  const program = browser.name ? `${browser.name}${os.name ? ` on ${os.name}` : ''}` : agent
  return address === '' ? program : `${program} at ${address}`
}

function Sessions() {
  const { data, error, isLoading } = useSessionsQuery()
  const [end] = useEndSessionMutation()
  const stop = (sessionId: string, said: string) =>
    void end(sessionId).then((result) => (result.error ? toast.error(problemText(result.error)) : toast.success(said)))
  return (
    <section aria-label="Sessions">
      <SectionHead>Where you are signed in</SectionHead>
      <Pending error={error} isLoading={isLoading} />
      <ul className="m-0 list-none p-0">
        {data?.rows.map((row) => (
          <li key={row.sessionId} className="flex items-baseline gap-3 border-b border-edge-soft py-1">
            <span className="min-w-0 flex-1 truncate" title={row.place}>
              {placeWords(row.place)}
            </span>
            <span className="shrink-0 text-[12px] text-ink-2">
              used <When atMs={row.usedAtMs} />
            </span>
            {row.isThis ? (
              <span className="w-[52px] text-right text-[12px] text-ink-3">here</span>
            ) : (
              <Button look="line" className="w-[52px]" onClick={() => stop(row.sessionId, 'That session is over')}>
                end it
              </Button>
            )}
          </li>
        ))}
      </ul>
      {(data?.rows.length ?? 0) > 1 && (
        <Button look="line" onClick={() => stop('others', 'All others are over')}>
          End all others
        </Button>
      )}
    </section>
  )
}
