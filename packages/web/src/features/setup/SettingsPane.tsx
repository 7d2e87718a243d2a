import { useSetupQuery } from './setup.api'
import { type ReactNode, useState } from 'react'
import { Repositories } from '#features/code/index'
import { BuildDescriptions, BuildMachines } from '#features/build-machines/index'
import { Badges, ReportBuilds } from '#features/builds/index'
import { MergeGates } from '#features/reviews/index'
import { QualityRules } from '#features/quality/index'
import { ScrubRules } from '#features/faults/index'
import { IntakeRules } from '#features/intake/index'
import { Hooks, WebhookSettings } from '#features/incoming/index'
import { AuditTrail, Health } from '#features/operating/index'
import { Members, Tokens, usePeople } from '#features/people/index'
import { Projects } from '#features/projects/index'
import { Environments } from '#features/releases/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { TextInput } from '#shared/ui/fields'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, SectionHead } from '#shared/ui/parts'
import { Components } from './Components'
import { Labels } from './Labels'
import { Milestones } from './Milestones'
import { OwnFields } from './OwnFields'
import type { Part } from './part'
import { type Room, ROOMS, roomsFor } from './rooms'
import { StageRules, Types } from './Types'
import { useSetupPart } from './use-setup-part'

/**
 * How the project is set up, in rooms: one is open, the others are a word away, found by what one wants to change. Leads change it,
 * everybody may read it. The open room stands in the address.
 */
export function SettingsPane({ id }: { id: string }) {
  const { me, may } = usePeople()
  const trail = usePaneTrail()
  const [wanted, setWanted] = useState('')
  const project = me?.project.prefix ?? ''
  const { data, error, isLoading } = useSetupQuery(project, { skip: project === '' })
  const part = useSetupPart(project)
  const room = ROOMS.find((known) => known.id === id) ?? ROOMS[0]
  const found = roomsFor(wanted, { isAdmin: may('audit.read') })
  return (
    <Pane label="Settings" title={`Settings of ${me?.project.name ?? ''}`}>
      <div className="grid h-full grid-cols-[190px_minmax(0,1fr)]">
        <nav aria-label="Rooms of the settings" className="overflow-y-auto border-r border-edge px-3 py-3">
          <TextInput
            type="search"
            aria-label="What do you want to change?"
            placeholder="what to change"
            className="mb-2 py-1!"
            value={wanted}
            onChange={(event) => setWanted(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter' && found[0]) trail.rename(found[0].id)
            }}
          />
          {found.length === 0 && <p className="text-[12px] text-ink-2">Nothing is called so. Try another word.</p>}
          <ul className="m-0 list-none p-0">
            {found.map((known) => (
              <li key={known.id}>
                <button
                  type="button"
                  aria-current={known.id === room.id ? 'page' : undefined}
                  onClick={() => trail.rename(known.id)}
                  className={`w-full py-1 text-left ${known.id === room.id ? 'font-bold' : 'text-ink-2 hover:text-ink'}`}
                >
                  {known.name}
                  <span className="block text-[12px] font-normal text-ink-3">{known.about}</span>
                </button>
              </li>
            ))}
          </ul>
        </nav>
        <div tabIndex={0} className="space-y-5 overflow-y-auto px-4 py-3">
          <Pending error={error} isLoading={isLoading} />
          {data && !part.canEdit && !room.isForAdmins && <p className="text-ochre">A lead changes these; you may read them.</p>}
          {data && <RoomOf room={room.id} part={{ setup: data, ...part }} project={project} mayColour={may('labels.colour')} />}
        </div>
      </div>
    </Pane>
  )
}

function RoomOf({ room, part, project, mayColour }: { room: Room['id']; part: Part; project: string; mayColour: boolean }): ReactNode {
  const trail = usePaneTrail()
  const { may } = usePeople()
  switch (room) {
    case 'project':
      return (
        <>
          <Projects />
          <Components {...part} />
          <Milestones {...part} />
          <PublicForm part={part} project={project} />
          <section aria-label="Bring items in">
            <SectionHead>Bring items in</SectionHead>
            <Button look="line" onClick={() => trail.open({ kind: 'import', id: '' })}>
              Items from a CSV or JSON Lines file
            </Button>
          </section>
        </>
      )
    case 'people':
      return <Members />
    case 'code':
      return (
        <>
          <Repositories />
          <MergeGates />
          <WebhookSettings />
          <Hooks />
        </>
      )
    case 'builds':
      return (
        <>
          <BuildDescriptions />
          <BuildMachines />
          <QualityRules />
          <section aria-label="Builds that run elsewhere">
            <SectionHead>Builds that run elsewhere</SectionHead>
            <ReportBuilds />
          </section>
          <Badges />
        </>
      )
    case 'environments':
      return <Environments />
    case 'errors':
      return (
        <>
          <IntakeRules />
          <ScrubRules />
          <Button look="line" onClick={() => trail.open({ kind: 'connect', id: '' })}>
            Connect a program, and see which are heard
          </Button>
        </>
      )
    case 'fields':
      return (
        <>
          <Types {...part} />
          <OwnFields {...part} />
          <Labels {...part} canEdit={mayColour} />
          <StageRules {...part} />
        </>
      )
    case 'routing':
      return (
        <section aria-label="Routing and duty">
          <SectionHead>Routing and duty</SectionHead>
          <p className="mb-1 text-ink-2">What is filled in on new items by itself, and who has the duty in which week.</p>
          <Button look="line" onClick={() => trail.open({ kind: 'routing', id: '' })}>
            Open the rules and the duty
          </Button>
        </section>
      )
    case 'health':
      return may('audit.read') ? <Health /> : <p className="text-ink-2">An administrator sees how the installation stands.</p>
    case 'audit':
      return may('audit.read') ? <AuditTrail /> : <p className="text-ink-2">An administrator reads the audit trail.</p>
    case 'tokens':
      return may('tokens.manage') ? <Tokens project={project} /> : <p className="text-ink-2">A lead makes tokens and takes them back.</p>
  }
}

function PublicForm({ part, project }: { part: Part; project: string }) {
  return (
    <section aria-label="Public form">
      <SectionHead>Public form</SectionHead>
      <label className="block">
        <input
          type="checkbox"
          className="mr-2"
          disabled={!part.canEdit}
          checked={part.setup.hasPublicForm}
          onChange={(event) =>
            void part.save(
              'setPublicForm',
              { isOn: event.target.checked },
              event.target.checked ? 'The form is open' : 'The form is closed',
            )
          }
        />
        People without an account may report at{' '}
        <a className="link" href={`/report/${project}`}>
          /report/{project}
        </a>
        ; their reports wait in Triage
      </label>
    </section>
  )
}
