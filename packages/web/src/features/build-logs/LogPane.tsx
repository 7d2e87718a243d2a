import type { BuildLog } from '@dystracer/core/build-logs/wire'
import { buildLogsOperations } from '@dystracer/core/build-logs/wire'
import { addressOf } from '@dystracer/core/people/operation'
import { useDeferredValue, useState, type KeyboardEvent } from 'react'
import { useBuildQuery } from '#features/builds/builds.api'
import { FileLink } from '#features/files/index'
import { plural } from '#shared/lib/format'
import { actionOf, KEYS } from '#shared/lib/keys'
import { usePaneTrail } from '#shared/lib/use-trail'
import { Pane } from '#shared/ui/Pane'
import { Button, Pending, Quiet } from '#shared/ui/parts'
import { useBuildLogs, useFoundInLogQuery, useLazyFoundInLogQuery } from './build-logs.api'
import { LogLines } from './LogLines'
import { logId, placeOfLog, type LogPlace } from './log-id'

/** What one step of a build printed, line by line; it grows while the build runs. */
export function LogPane({ id }: { id: string }) {
  const place = placeOfLog(id)
  const { repository, number, step, attempt } = place
  const build = useBuildQuery(`${repository}/${number}`)
  const isRunning = build.data?.state === 'running'
  const { data, error, isLoading } = useBuildLogs({ repository, number }, isRunning)
  const log = data?.rows.find((row) => row.step === step && row.attempt === attempt)
  const name = build.data?.name ?? number
  return log ? (
    <Log key={logId({ ...place, line: null })} place={place} log={log} name={name} isRunning={isRunning} />
  ) : (
    <Pane label={`Log ${step}`} title={step || 'Log'}>
      <Pending error={error} isLoading={isLoading} />
      {data && <Quiet>No log of this step is here: none was sent, or it was removed because it is old.</Quiet>}
    </Pane>
  )
}

function Log({ place, log, name, isRunning }: { place: LogPlace; log: BuildLog; name: string; isRunning: boolean }) {
  const trail = usePaneTrail()
  const { line: _, ...which } = place
  const [text, setText] = useState('')
  const sought = useDeferredValue(text.trim())
  const found = useFoundInLogQuery({ ...which, text: sought, upTo: log.lines }, { skip: sought === '' })
  const foundLines = sought === '' ? [] : (found.data?.lines ?? [])
  const [look] = useLazyFoundInLogQuery()
  // Whoever strikes Enter at once goes to the first line, too, as soon as it is found.
  const linesWith = async () => {
    if (text.trim() === '') return []
    return (await look({ ...which, text: text.trim(), upTo: log.lines }, true)).data?.lines ?? []
  }
  const errorLines = log.marks.filter((mark) => mark.kind === 'error').map((mark) => mark.line)
  const goTo = (line: number | undefined) => {
    if (line !== undefined) trail.rename(logId({ ...place, line }))
  }
  const from = place.line ?? 0
  const deeds = {
    nextError: () => goTo(errorLines.find((line) => line > from) ?? errorLines[0]),
    previousError: () => goTo(errorLines.findLast((line) => line < from) ?? errorLines.at(-1)),
    nextFound: async () => {
      const lines = await linesWith()
      goTo(lines.find((line) => line > from) ?? lines[0])
    },
    previousFound: async () => {
      const lines = await linesWith()
      goTo(lines.findLast((line) => line < from) ?? lines.at(-1))
    },
  }
  const onKeys = (event: KeyboardEvent<HTMLElement>) => {
    const action = actionOf('log', event)
    if (!action) return
    event.preventDefault()
    void deeds[action]()
  }
  const chosen = log.marks.find((mark) => mark.line === place.line)
  const address = addressOf(buildLogsOperations.readLogText, {
    params: { repository: place.repository, number: place.number },
    query: { step: log.step, attempt: log.attempt },
  })
  return (
    <Pane
      label={`Log ${log.step}`}
      title={
        <>
          {log.step} <span className="text-[13px] font-normal text-ink-2">of build {name}</span>
        </>
      }
      note={isRunning ? 'it is running' : undefined}
      aside={
        <a className="link" href={`/api/v1${address}`} download>
          as text
        </a>
      }
      onKeys={onKeys}
      foot={
        chosen?.place && (
          <p className="m-0 leading-6">
            Line {chosen.line} speaks of <FileLink repository={place.repository} {...chosen.place} />{' '}
            <span className="text-ink-2">line {chosen.place.line}</span>
          </p>
        )
      }
    >
      <div className="flex h-full flex-col">
        <div className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-edge px-4 py-1.5">
          <input
            type="search"
            aria-label="Find in the log"
            placeholder="find in the log"
            className="h-7 w-[180px] rounded-[3px] border border-edge bg-sheet px-2"
            value={text}
            onChange={(event) => setText(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') void deeds[event.shiftKey ? 'previousFound' : 'nextFound']()
            }}
          />
          {sought !== '' && found.data && (
            <span role="status" className="text-ink-2">
              {foundWords(foundLines, found.data.isMore, place.line)}
            </span>
          )}
          <Tally log={log} line={place.line} errorLines={errorLines} onNext={deeds.nextError} />
          <span className="ml-auto text-ink-2">
            {plural(log.lines, 'line')}
            {log.isCut && ', the rest is not kept'}
          </span>
        </div>
        <LogLines
          place={place}
          total={log.lines}
          marks={log.marks}
          found={foundLines}
          isFollowed={isRunning && place.line === null}
          onLine={goTo}
        />
      </div>
    </Pane>
  )
}

function Tally({ log, line, errorLines, onNext }: { log: BuildLog; line: number | null; errorLines: number[]; onNext: () => void }) {
  if (log.errors === 0) return log.warnings === 0 ? null : <span className="text-ochre">{plural(log.warnings, 'warning')}</span>
  const at = line === null ? -1 : errorLines.indexOf(line)
  return (
    <span>
      <span className="font-bold text-fault">{at >= 0 ? `error ${at + 1} of ${log.errors}` : plural(log.errors, 'error')}</span>{' '}
      <Button look="text" onClick={onNext} aria-keyshortcuts={KEYS.log.nextError.shown}>
        next
      </Button>{' '}
      {log.warnings > 0 && <span className="text-ochre">{plural(log.warnings, 'warning')}</span>}
    </span>
  )
}

function foundWords(found: readonly number[], isMore: boolean, line: number | null): string {
  if (found.length === 0) return 'nowhere'
  const at = line === null ? -1 : found.indexOf(line)
  const count = `${found.length}${isMore ? ' and more' : ''}`
  return at >= 0 ? `${at + 1} of ${count}` : `${count} ${found.length === 1 ? 'line' : 'lines'}`
}
