import { useState } from 'react'
import { TokenInPlace } from '#features/people/index'
import { toChoices } from '#shared/lib/choices'
import { Copyable } from '#shared/ui/Copyable'
import { Choose } from '#shared/ui/fields'
import { RUNNERS, reportSnippet, type Runner } from './report-snippets'

/** How builds are reported from wherever they run: lines to copy, and the token that they need. */
export function ReportBuilds() {
  const [runner, setRunner] = useState<Runner>('shell script')
  return (
    <>
      <p className="m-0 flex items-center gap-2 text-ink-2">
        from a
        <Choose
          aria-label="Where the tests run"
          className="w-auto! py-0.5!"
          value={runner}
          choices={toChoices(RUNNERS)}
          onChange={({ target }) => setRunner(target.value)}
        />
      </p>
      <Copyable label="Command that reports a build" text={reportSnippet(runner, window.location.origin)} />
      <p className="my-1 text-[12px] text-ink-3">
        Any of JUnit, TAP, CTRF, LCOV, Cobertura, JaCoCo, Clover and SARIF is taken. <span className="font-mono">dys.mjs</span> is this
        server’s companion: one file, run by Node.js 20 or newer.
      </p>
      <TokenInPlace scope="evidence" name="builds" />
    </>
  )
}
