import type { FailureGroup, Failures } from '@dystracer/core/builds/wire'
import { useState } from 'react'
import { toast } from 'sonner'
import { FindByBuilding } from '#features/bisecting/index'
import { SuspectList } from '#features/code/index'
import { usePeople } from '#features/people/index'
import { plural } from '#shared/lib/format'
import { problemText } from '#shared/lib/problem-text'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Button, SectionHead, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useLogFailureMutation, useTakeFailureMutation } from './builds.api'
import { FailureDetail } from './FailureDetail'
import { TestStrip } from './Strip'
import { useBuildKeys } from './use-build-keys'
import { TestLink } from './TestLink'

/** What broke, told by cause: each with one example opened, since when, perhaps by which commit, and who is on it. */
export function FailureGroups({ id, repository, failures }: { id: string; repository: string; failures: Failures }) {
  const [isMine, setIsMine] = useState(false)
  const mine = failures.groups.filter((group) => group.isMine).length
  useBuildKeys({ mine: () => setIsMine((was) => !was && mine > 0) })
  return (
    <>
      {failures.groups.length > 1 && (
        <p className="m-0 border-t border-edge px-4 py-2 text-[12px] text-ink-2">
          <Button look="line" aria-pressed={isMine} disabled={mine === 0} onClick={() => setIsMine(!isMine)}>
            {isMine ? 'all that broke' : 'only what my commits may have broken'}
          </Button>{' '}
          {mine === 0 ? 'none of it, as far as is known' : `${mine} of ${failures.groups.length}`}
        </p>
      )}
      {failures.groups.map(
        (group, at) =>
          (!isMine || group.isMine) && (
            <Group key={`${group.tests[0]?.suite}/${group.tests[0]?.name}`} id={id} repository={repository} group={group} number={at + 1} />
          ),
      )}
      {failures.aside.length > 0 && (
        <section aria-label="Set aside" className="border-t border-edge px-4 py-3">
          <SectionHead>Fail, and are set aside</SectionHead>
          <ul className="m-0 list-none p-0">
            {failures.aside.map((test) => (
              <li key={`${test.suite}/${test.name}`} className="flex flex-wrap items-baseline gap-3 py-1">
                <span className="min-w-0 flex-1">
                  <TestLink repository={repository} test={test} />
                </span>
                <span className="text-ink-2">
                  until {test.until}: {test.why}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {failures.flaky.length > 0 && (
        <section aria-label="Both passed and failed" className="border-t border-edge px-4 py-3">
          <SectionHead>Both passed and failed: no proof, and no breach</SectionHead>
          <ul className="m-0 list-none p-0">
            {failures.flaky.map((test) => (
              <li key={`${test.suite}/${test.name}`} className="flex flex-wrap items-baseline gap-3 py-1">
                <b className="text-ochre">flaky</b>{' '}
                <span className="min-w-0 flex-1">
                  <TestLink repository={repository} test={test} />
                </span>{' '}
                <TestStrip strip={test.strip} />
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  )
}

const IN_WORDS: Record<number, string> = { 2: 'Two', 3: 'Three', 4: 'Four', 5: 'Five', 6: 'Six', 7: 'Seven', 8: 'Eight', 9: 'Nine' }

/** So many groups are read closely at once; the rest when somebody asks. */
const READ_AT_ONCE = 8

function headOf({ tests, place }: FailureGroup): string {
  const where = place ? ` in ${place.function ?? place.file}` : ''
  return tests.length === 1
    ? `One fails${where || ' alone'}: ${tests[0]?.name ?? ''}`
    : `${IN_WORDS[tests.length] ?? tests.length} fail alike${where}`
}

function Group({ id, repository, group, number }: { id: string; repository: string; group: FailureGroup; number: number }) {
  const { nameOf } = usePeople()
  const [isAll, setIsAll] = useState(false)
  const [example, ...others] = group.tests
  if (!example) return null
  const verifies = [...new Set(group.tests.flatMap((test) => test.verifies))]
  const { since } = group
  return (
    <section aria-label={`Reason ${number}`} className="border-t border-edge px-4 py-3">
      <div className="flex flex-wrap items-baseline gap-3">
        <h3 className="m-0 min-w-0 flex-1 text-[14px] font-bold">
          <span className="mr-2 text-ink-2">{number}</span>
          {headOf(group)}
        </h3>
        <GroupDeeds id={id} group={group} />
      </div>
      {group.onIt && (
        <p className="my-1">
          {nameOf(group.onIt.personId)} is on it, since <When atMs={group.onIt.atMs} />
          {group.onIt.note && `: ${group.onIt.note}`}
        </p>
      )}
      <p className="my-1 text-ink-2">
        <b>
          <TestLink repository={repository} test={example} />
        </b>
        {others.length > 0 && (
          <>
            {' '}
            and{' '}
            <Button look="text" aria-expanded={isAll} onClick={() => setIsAll(!isAll)}>
              {others.length} more
            </Button>
          </>
        )}
      </p>
      {isAll && (
        <ul className="m-0 list-disc pl-5">
          {others.map((test) => (
            <li key={`${test.suite}/${test.name}`}>
              <TestLink repository={repository} test={test} />
            </li>
          ))}
        </ul>
      )}
      <FailureDetail id={id} repository={repository} test={example} isReadAtOnce={number <= READ_AT_ONCE} />
      <p className="my-1">
        <TestStrip strip={group.strip} />{' '}
        <span className="text-ink-2">
          fails since <ThingLink to={{ kind: 'build', id: `${repository}/${since.number}` }}>build {since.name}</ThingLink>,{' '}
          {since.passedBefore > 0 ? `passed in ${plural(since.passedBefore, 'build')} before` : 'and passed in none of those looked at'}
        </span>
      </p>
      {group.suspects.length > 0 && (
        <>
          <SectionHead>Perhaps brought in by</SectionHead>
          <SuspectList repository={repository} suspects={group.suspects} />
        </>
      )}
      <FindByBuilding repository={repository} build={Number(id.slice(id.indexOf('/') + 1))} test={example} canBegin={group.canBisect} />
      {verifies.length > 0 && (
        <p className="my-1 text-ink-2">
          Without proof here:{' '}
          {verifies.map((key) => (
            <ThingLink key={key} to={{ kind: 'requirement', id: key }} className="mr-2" />
          ))}
        </p>
      )}
    </section>
  )
}

function GroupDeeds({ id, group }: { id: string; group: FailureGroup }) {
  const { me, may } = usePeople()
  const trail = usePaneTrail()
  const [take, { isLoading: isTaking }] = useTakeFailureMutation()
  const [log, { isLoading: isLogging }] = useLogFailureMutation()
  const test = { suite: group.tests[0]?.suite ?? '', name: group.tests[0]?.name ?? '' }
  const isMine = group.onIt !== null && group.onIt.personId === me?.person?.personId
  if (!may('items.change') || !me?.person) return null
  return (
    <>
      <Button disabled={isTaking} onClick={() => void take({ id, ...test, isOn: !isMine }).then(tellRefusal)}>
        {isMine ? 'I am not on it' : 'I am on it'}
      </Button>
      <Button
        look="line"
        disabled={isLogging}
        onClick={() =>
          void log({ id, ...test }).then((result) => {
            if (result.error) toast.error(problemText(result.error))
            else trail.open({ kind: 'item', id: result.data.key })
          })
        }
      >
        {isLogging ? 'Logging …' : 'Log it'}
      </Button>
    </>
  )
}
