import { differingParts, type DifferPart } from '@dystracer/core/builds/expected-actual'
import type { FailureDetail as Detail } from '@dystracer/core/builds/wire'
import { FileLink } from '#features/files/index'
import { useState } from 'react'
import { Button } from '#shared/ui/parts'
import { ThingLink } from '#shared/ui/ThingLink'
import { useFailureQuery } from './builds.api'

const PART_LOOK: Record<DifferPart['kind'], string> = {
  same: '',
  expected: 'bg-proof-soft text-proof',
  actual: 'bg-fault-soft text-fault line-through decoration-1',
}

/** One failed test read closely; what it said stands whole behind, and alone where nothing more is known. */
export function FailureDetail({
  id,
  repository,
  test,
  isReadAtOnce,
}: {
  id: string
  repository: string
  test: { suite: string; name: string; message: string }
  /** Whether it is read without being asked for: of very many failures each takes git. */
  isReadAtOnce: boolean
}) {
  const { suite, name, message } = test
  const [isAsked, setIsAsked] = useState(isReadAtOnce)
  const { data } = useFailureQuery({ id, suite, name }, { skip: !isAsked })
  const isRead = data !== undefined && (data.expected !== null || data.frames.length > 0)
  const said = message && (
    <pre tabIndex={0} className="my-1 max-h-[220px] overflow-auto bg-fault-soft p-2 font-mono text-[12px] whitespace-pre-wrap">
      {message}
    </pre>
  )
  if (!isAsked)
    return (
      <>
        {said}
        <Button look="text" aria-label={`read it closely: ${name}`} onClick={() => setIsAsked(true)}>
          read it closely
        </Button>
      </>
    )
  if (!isRead) return said || null
  return (
    <>
      {data.expected !== null && data.actual !== null && <Difference expected={data.expected} actual={data.actual} />}
      {data.frames.map(({ function: where, path, line, source }) => (
        <figure key={`${path}:${line}`} className="m-0 my-1">
          <figcaption className="text-[12px] text-ink-2">
            {where && `${where}, `}
            <span className="font-mono">
              <FileLink repository={repository} path={path} />:{line}
            </span>
          </figcaption>
          <Code {...source} marked={line} />
        </figure>
      ))}
      {data.code && <TestCode repository={repository} code={data.code} />}
      {said && (
        <details className="text-[12px]">
          <summary className="min-h-6 text-ink-2">all that it said</summary>
          {said}
        </details>
      )}
      {data.attempts.length > 0 && (
        <p className="my-1 text-[12px] text-ink-2">
          Of the same commit:{' '}
          {data.attempts.map(({ number, name: build, outcome }, at) => (
            <span key={number}>
              {at > 0 && ', '}
              <ThingLink to={{ kind: 'build', id: `${repository}/${number}` }}>build {build}</ThingLink> {outcome}
            </span>
          ))}
        </p>
      )}
    </>
  )
}

/** What was expected and came not, and what came in its place, within what both have; two that share nothing stand below each other. */
function Difference({ expected, actual }: { expected: string; actual: string }) {
  const parts = differingParts({ expected, actual })
  if (!parts.some(({ kind, text }) => kind === 'same' && text.trim() !== ''))
    return (
      <dl className="m-0 my-1 grid grid-cols-[max-content_1fr] gap-x-3 border-l-2 border-edge px-2 py-1 text-[12px]">
        <dt className="text-ink-2">expected</dt>
        <dd className="m-0 max-h-[110px] overflow-auto font-mono whitespace-pre-wrap text-proof">{expected || '(nothing)'}</dd>
        <dt className="text-ink-2">got</dt>
        <dd className="m-0 max-h-[110px] overflow-auto font-mono whitespace-pre-wrap text-fault">{actual || '(nothing)'}</dd>
      </dl>
    )
  return (
    <figure className="m-0 my-1">
      <figcaption className="text-[12px] text-ink-2">
        <span className={PART_LOOK.expected}>expected</span>, <span className={PART_LOOK.actual}>got instead</span>
      </figcaption>
      <pre
        tabIndex={0}
        className="m-0 max-h-[220px] overflow-auto border-l-2 border-edge px-2 py-1 font-mono text-[12px] whitespace-pre-wrap"
      >
        {placed(parts).map(({ text, kind, key }) => {
          if (kind === 'expected')
            return (
              <ins key={key} className={`no-underline ${PART_LOOK.expected}`}>
                {text}
              </ins>
            )
          return kind === 'actual' ? (
            <del key={key} className={PART_LOOK.actual}>
              {text}
            </del>
          ) : (
            <span key={key}>{text}</span>
          )
        })}
      </pre>
    </figure>
  )
}

/** Parts have no identity but where they begin. */
function placed(parts: readonly DifferPart[]): (DifferPart & { key: string })[] {
  let at = 0
  return parts.map((part) => {
    at += part.text.length
    return { ...part, key: `${at}${part.kind}` }
  })
}

function TestCode({ repository, code: { path, from, lines } }: { repository: string; code: NonNullable<Detail['code']> }) {
  return (
    <details className="text-[12px]">
      <summary className="min-h-6 text-ink-2">the code of the test</summary>
      <span className="font-mono leading-6">
        <FileLink repository={repository} path={path} />:{from}
      </span>
      <Code from={from} lines={lines} marked={null} />
    </details>
  )
}

function Code({ from, lines, marked }: { from: number; lines: readonly string[]; marked: number | null }) {
  return (
    <pre tabIndex={0} className="m-0 overflow-x-auto font-mono text-[12px] leading-5">
      {lines.map((line, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: lines have no identity but their number.
        <div key={from + at} className={from + at === marked ? 'bg-fault-soft' : ''}>
          <span aria-hidden="true" className="mr-3 inline-block w-[34px] text-right text-ink-2 select-none">
            {from + at}
          </span>
          {line}
        </div>
      ))}
    </pre>
  )
}
