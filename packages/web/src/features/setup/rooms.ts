/** One room of the settings. */
export interface Room {
  id: 'project' | 'people' | 'code' | 'builds' | 'environments' | 'errors' | 'fields' | 'routing' | 'tokens' | 'health' | 'audit'
  name: string
  about: string
  /** What somebody might look for who wants something that is changed there. */
  words: string
  isForAdmins?: true
}

/** The rooms of the settings in their order. */
export const ROOMS: readonly [Room, ...Room[]] = [
  {
    id: 'project',
    name: 'Project',
    about: 'projects, components, milestones',
    words: 'new project prefix name archive component keeper milestone due start public form report import csv json lines bring items in',
  },
  {
    id: 'people',
    name: 'People',
    about: 'who belongs here, as what',
    words: 'invite invitation member role lead admin administrator reader leave remove password reset link account user team',
  },
  {
    id: 'code',
    name: 'Code',
    about: 'repositories, webhooks, hooks',
    words: 'repository git connect branch main line webhook hook json mapping secret signature address code host push',
  },
  {
    id: 'builds',
    name: 'Builds',
    about: 'how it is built, build machines',
    words:
      'build description machine yml yaml steps shards artefact start stop ci badge test report include suggest rule ' +
      'failing finding coverage quality automatic defect',
  },
  {
    id: 'environments',
    name: 'Environments',
    about: 'where releases run, approval',
    words: 'production staging test approval approve deploy deployment order release builds report curl',
  },
  {
    id: 'errors',
    name: 'Runtime errors',
    about: 'intake rules, what is taken out',
    words: 'fault error rule threshold automatic defect scrub privacy mask personal data telemetry opentelemetry service connect',
  },
  {
    id: 'fields',
    name: 'Types and fields',
    about: 'types, own fields, labels, stages',
    words: 'type template field required hidden own custom label colour color stage needs priority severity points estimate',
  },
  {
    id: 'routing',
    name: 'Routing',
    about: 'who gets what, duty',
    words: 'rule owner assign duty week rota component path words',
  },
  {
    id: 'tokens',
    name: 'Tokens',
    about: 'access for programs',
    words: 'token api access key secret program ci build scope expire revoke rotate renew',
  },
  {
    id: 'health',
    name: 'Health',
    about: 'what was last heard, threads, room',
    words: 'backup disk full size thread worker queue mail fetch status monitor journal head',
    isForAdmins: true,
  },
  {
    id: 'audit',
    name: 'Audit trail',
    about: 'who came in, what was given',
    words: 'security sign-in refused locked log export history token role',
    isForAdmins: true,
  },
]

/** The rooms in which something is changed, by words of it; all of them while nothing is asked. */
export function roomsFor(wanted: string, { isAdmin }: { isAdmin: boolean }): readonly Room[] {
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean)
  return ROOMS.filter((room) => {
    if (room.isForAdmins && !isAdmin) return false
    const text = `${room.name} ${room.about} ${room.words}`.toLowerCase()
    return words.every((word) => text.includes(word))
  })
}
