import { useState } from 'react'
import { toast } from 'sonner'
import { useCommitDiffQuery, useCommitQuery, useOpenPullRequestMutation, usePullRequestsQuery, useRepositoriesQuery } from './code.api'
import { FileLink } from '#features/files/index'
import { TiesOf } from '#features/ties/index'
import { CommitRemarks, useRemarksOnLines } from './CommitRemarks'
import { CarryActs } from './CarryActs'
import { OpenPullRequestDialog } from './PullRequestDialog'
import { problemText } from '#shared/lib/problem-text'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { DiffView } from '#shared/diff/DiffView'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'

const FILES_SHOWN = 8

export function CommitPane({ id }: { id: string }) {
  const { data, error, isLoading } = useCommitQuery(id)
  const diff = useCommitDiffQuery(id)
  const withLines = useRemarksOnLines(id)
  if (!data)
    return (
      <Pane label="Commit" title={id}>
        <Pending error={error} isLoading={isLoading} />
      </Pane>
    )
  const [subject, ...body] = data.message.split('\n')
  return (
    <Pane
      label={`Commit ${data.sha.slice(0, 7)}`}
      title={
        <>
          <span className="font-mono text-[13px]">{data.sha.slice(0, 7)}</span>{' '}
          <span className="text-[13px] font-normal text-ink-2">{data.repository}</span>
        </>
      }
    >
      <div className="px-4 py-3">
        <h3 className="text-[15px] font-bold">{subject}</h3>
        <p className="text-ink-2">
          {data.author}, <When atMs={data.atMs} />
        </p>
        {body.join('\n').trim() && <pre className="mt-2 font-mono text-[12px] whitespace-pre-wrap">{body.join('\n').trim()}</pre>}
        <TiesOf to={{ kind: 'commit', id: `${data.repository}/${data.sha}` }} />
        <p>
          On {data.branches.join(', ') || 'no branch that is still there'}; in{' '}
          {data.releases.length > 0 ? data.releases.join(', ') : 'no release'}
          {data.pullRequests.map((number) => (
            <span key={number}>
              ; <ThingLink to={{ kind: 'pull-request', id: `${data.repository}/${number}` }} />
            </span>
          ))}
        </p>
      </div>
      <p className="m-0 flex gap-4 px-4 pb-2">
        <CarryActs repository={data.repository} sha={data.sha} />
      </p>
      {data.files.length > 0 && (
        <p className="m-0 flex flex-wrap gap-x-3 border-t border-edge-soft px-4 py-1">
          {data.files.slice(0, FILES_SHOWN).map(({ path }) => (
            <FileLink key={path} repository={data.repository} path={path} />
          ))}
          {data.files.length > FILES_SHOWN && <span className="text-[12px] text-ink-3">and {data.files.length - FILES_SHOWN} more</span>}
        </p>
      )}
      <CommitRemarks id={id} paths={data.files.map(({ path }) => path)} />
      {diff.data ? (
        <DiffView {...diff.data} repository={data.repository} withLines={withLines} />
      ) : (
        <Pending error={diff.error} isLoading={diff.isLoading} />
      )}
    </Pane>
  )
}

export function BranchPane({ id }: { id: string }) {
  const { data, error, isLoading } = useRepositoriesQuery()
  const trail = usePaneTrail()
  const people = usePeople()
  const [open, { isLoading: isOpening }] = useOpenPullRequestMutation()
  const [isAsking, setIsAsking] = useState(false)
  const repository = id.slice(0, id.indexOf('/'))
  const name = id.slice(id.indexOf('/') + 1)
  const home = data?.rows.find((row) => row.repository === repository)
  const branch = home?.branches.find((entry) => entry.name === name)
  const pullRequests = usePullRequestsQuery({ repository })
  const asked = pullRequests.data?.rows.find((row) => row.head === name)
  // One that is open, or brought just this commit, is all that can be asked for.
  const isAsked = asked?.state === 'open' || (asked?.state === 'merged' && asked.headSha === branch?.sha)
  const show = (number: number) => trail.open({ kind: 'pull-request', id: `${repository}/${number}` })
  const onOpen = async () => {
    // Where it lives here its words are asked for; elsewhere its host asks for them.
    if (home?.keepsPullRequests) return setIsAsking(true)
    const result = await open({ repository, source: name })
    if (result.error) toast.error(problemText(result.error))
    else if (result.data) show(result.data.number)
  }
  return (
    <Pane label={`Branch ${name}`} title={<span className="font-mono text-[13px]">{name}</span>} aside={repository}>
      {!data && <Pending error={error} isLoading={isLoading} />}
      {data && !branch && (
        <p className="px-4 py-3 text-ink-2">This branch is not there any more. Its commits, where they were merged, still are.</p>
      )}
      {branch && (
        <div className="space-y-2 px-4 py-3">
          <p>
            Newest commit <ThingLink to={{ kind: 'commit', id: `${repository}/${branch.sha}` }} />, moved <When atMs={branch.atMs} />
          </p>
          {branch.forcedAtMs && (
            <p className="text-ochre">
              Its history was rewritten <When atMs={branch.forcedAtMs} />; what was there before is kept here.
            </p>
          )}
          <TiesOf to={{ kind: 'branch', id }} />
          {asked && (
            <p>
              <ThingLink to={{ kind: 'pull-request', id: `${repository}/${asked.number}` }} /> {asked.state}
            </p>
          )}
          {!branch.isMain && !isAsked && people.may('code.contribute') && (
            <Button look="main" disabled={isOpening} onClick={() => void onOpen()}>
              {home?.keepsPullRequests ? 'Open a pull request…' : 'Open a pull request'}
            </Button>
          )}
          {isAsking && (
            <OpenPullRequestDialog
              repository={repository}
              branch={name}
              onClose={() => setIsAsking(false)}
              onOpened={(number) => {
                setIsAsking(false)
                show(number)
              }}
            />
          )}
        </div>
      )}
    </Pane>
  )
}
