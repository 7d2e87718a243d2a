import type { PullRequestDetail } from '@dystracer/core/code/wire'
import { useState } from 'react'
import { toast } from 'sonner'
import {
  useChangePullRequestMutation,
  useCommitDiffQuery,
  useCommitQuery,
  useMergeMutation,
  useOpenPullRequestMutation,
  usePullRequestDiffQuery,
  usePullRequestQuery,
  usePullRequestsQuery,
  useRepositoriesQuery,
} from './code.api'
import { ChangePullRequestDialog, OpenPullRequestDialog } from './PullRequestDialog'
import { problemText } from '#shared/lib/problem-text'
import { usePeople } from '#features/people/index'
import { usePaneTrail } from '#shared/lib/use-trail'
import { DiffView } from '#shared/ui/DiffView'
import { Markdown } from '#shared/ui/Markdown'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, SectionHead, When } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'

function Items({ keys }: { keys: readonly string[] }) {
  return (
    <>
      {keys.length > 0 ? (
        keys.map((key) => <ThingLink key={key} to={{ kind: 'item', id: key }} className="mr-2" />)
      ) : (
        <span className="text-ochre">no item: nothing says why</span>
      )}
    </>
  )
}

export function CommitPane({ id }: { id: string }) {
  const { data, error, isLoading } = useCommitQuery(id)
  const diff = useCommitDiffQuery(id)
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
        <p className="mt-2">
          Items: <Items keys={data.items} />
        </p>
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
      {diff.data ? <DiffView {...diff.data} /> : <Pending error={diff.error} isLoading={diff.isLoading} />}
    </Pane>
  )
}

export function PullRequestPane({ id }: { id: string }) {
  const { data, error, isLoading } = usePullRequestQuery(id)
  const diff = usePullRequestDiffQuery({ id, headSha: data?.headSha ?? '' }, { skip: !data })
  const { may } = usePeople()
  if (!data)
    return (
      <Pane label="Pull request" title={id}>
        <Pending error={error} isLoading={isLoading} />
      </Pane>
    )
  return (
    <Pane
      label={`Pull request ${data.number}`}
      title={
        <>
          Pull request {data.number} <span className="text-[13px] font-normal text-ink-2">{data.repository}</span>
        </>
      }
      aside={<span className={data.state === 'open' ? 'font-bold' : ''}>{data.state}</span>}
      foot={data.state !== 'merged' && may('code.contribute') && <PullRequestDeeds id={id} row={data} />}
    >
      <div className="px-4 py-3">
        <h3 className="text-[15px] font-bold">{data.title}</h3>
        <p className="text-ink-2">
          {data.author}, <When atMs={data.createdAtMs} /> ·{' '}
          <span className="font-mono text-[12px]">
            {data.head} → {data.base}
          </span>
        </p>
        <div className="mt-2">
          <Markdown text={data.body} />
        </div>
        <p>
          Items: <Items keys={data.items} />
        </p>
        {data.build && (
          <p>
            Newest build: <ThingLink to={{ kind: 'build', id: `${data.repository}/${data.build.number}` }} />{' '}
            <span className={data.build.state === 'broke' ? 'font-bold text-fault' : ''}>{data.build.state}</span>
          </p>
        )}
        <div className="mt-2">
          <SectionHead>Commits</SectionHead>
          {data.commits.map((commit) => (
            <p key={commit.sha}>
              <ThingLink to={{ kind: 'commit', id: `${data.repository}/${commit.sha}` }} /> {commit.subject}
            </p>
          ))}
        </div>
      </div>
      {diff.data ? <DiffView {...diff.data} /> : <Pending error={diff.error} isLoading={diff.isLoading} />}
    </Pane>
  )
}

/** What can be done with a pull request: merged once nothing is missing; changed, closed and opened again where it lives here. */
function PullRequestDeeds({ id, row }: { id: string; row: PullRequestDetail }) {
  const [merge, { isLoading: isMerging }] = useMergeMutation()
  const [change, { isLoading: isChanging }] = useChangePullRequestMutation()
  const [isWriting, setIsWriting] = useState(false)
  const told = (result: { error?: unknown }, words: string) =>
    result.error ? toast.error(problemText(result.error)) : toast.success(words)
  const isOpen = row.state === 'open'
  return (
    <div className="flex flex-wrap items-baseline gap-3">
      {isOpen && (
        <Button
          look="main"
          disabled={isMerging || row.missing !== null}
          onClick={() => void merge(id).then((result) => told(result, 'Merged'))}
        >
          {isMerging ? 'Merging …' : 'Merge'}
        </Button>
      )}
      {isOpen && row.missing && <span className="text-ink-2">{row.missing}</span>}
      {row.isOurs && (
        <>
          <Button look="line" onClick={() => setIsWriting(true)}>
            Change what it says…
          </Button>
          <Button
            look="line"
            disabled={isChanging}
            onClick={() =>
              void change({ id, state: isOpen ? 'closed' : 'open' }).then((result) => told(result, isOpen ? 'Closed' : 'Open again'))
            }
          >
            {isOpen ? 'Close it' : 'Open it again'}
          </Button>
        </>
      )}
      {isWriting && <ChangePullRequestDialog id={id} words={{ title: row.title, text: row.body }} onClose={() => setIsWriting(false)} />}
    </div>
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
          <p>
            Items: <Items keys={branch.items} />
          </p>
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
