import type { PlaceGate } from '@dystracer/core/places/gates'
import { useState } from 'react'
import { usePeople } from '#features/people/index'
import { tellResult } from '#shared/lib/tell-refusal'
import { Button, Pending, SectionHead } from '#shared/ui/parts'
import { gateSentence } from './gate-words'
import { GateDialog } from './GateDialog'
import { usePlaceGatesQuery, useSetPlaceGatesMutation } from './places.api'

/** What has to hold before a release may come to each environment; set up by who may. */
export function PlaceGates({ environments, canEdit }: { environments: readonly string[]; canEdit: boolean }) {
  const { data, error, isLoading } = usePlaceGatesQuery()
  if (environments.length === 0) return null
  return (
    <section aria-label="Gates of environments">
      <SectionHead>What has to hold before a release comes there</SectionHead>
      <Pending error={error} isLoading={isLoading} />
      {data &&
        environments.map((environment) => (
          <Place
            key={environment}
            environment={environment}
            gates={data.rows.find((row) => row.environment === environment)?.gates ?? []}
            canEdit={canEdit}
          />
        ))}
    </section>
  )
}

function Place({ environment, gates, canEdit }: { environment: string; gates: readonly PlaceGate[]; canEdit: boolean }) {
  const { nameOf } = usePeople()
  const [set, { isLoading }] = useSetPlaceGatesMutation()
  const [isAdding, setIsAdding] = useState(false)
  const remove = async (at: number) =>
    tellResult(await set({ environment, gates: gates.filter((_, index) => index !== at) }), `One gate less before ${environment}`)
  return (
    <div className="mb-2">
      <h4 className="font-bold">{environment}</h4>
      {gates.length === 0 && <p className="text-ink-3">Nothing further.</p>}
      <ul aria-label={`Gates of ${environment}`} className="m-0 list-none p-0">
        {gates.map((gate, at) => {
          const sentence = gateSentence(gate, (personId) => nameOf(`person:${personId}`))
          return (
            <li key={sentence} className="flex items-baseline gap-2 border-b border-edge-soft py-0.5">
              <span className="min-w-0 flex-1">{sentence}</span>
              {canEdit && (
                <Button
                  look="line"
                  disabled={isLoading}
                  aria-label={`Remove from ${environment}: ${sentence}`}
                  onClick={() => void remove(at)}
                >
                  remove
                </Button>
              )}
            </li>
          )
        })}
      </ul>
      {canEdit && (
        <Button look="line" aria-label={`Another gate before ${environment}`} onClick={() => setIsAdding(true)}>
          another…
        </Button>
      )}
      {isAdding && <GateDialog environment={environment} gates={gates} onClose={() => setIsAdding(false)} />}
    </div>
  )
}
