import { usePeople } from '#features/people/index'
import { PaneLink } from '#shared/ui/PaneLink'
import { Button } from '#shared/ui/parts'
import { tellRefusal } from '#shared/lib/tell-refusal'
import { useAgreementQuery, useAgreementsQuery, useAgreeToMutation } from './agreements.api'

/** What somebody is asked about a requirement that stands open: to agree to it, within which set. */
export function AskedHere({ requirement }: { requirement: string }) {
  const { me } = usePeople()
  const project = me?.project.prefix ?? ''
  const personId = me?.person?.personId
  const { data } = useAgreementsQuery(project, { skip: project === '' || personId === undefined })
  const mine = (data?.rows ?? []).filter((row) => row.ended === null && row.people.some((one) => one.personId === personId))
  return mine.map((row) => (
    <Asked key={row.agreementId} project={project} agreementId={row.agreementId} requirement={requirement} personId={personId ?? ''} />
  ))
}

function Asked({
  project,
  agreementId,
  requirement,
  personId,
}: {
  project: string
  agreementId: string
  requirement: string
  personId: string
}) {
  const { data } = useAgreementQuery({ project, agreementId })
  const [agree, { isLoading }] = useAgreeToMutation()
  const row = data?.rows.find(({ key }) => key === requirement)
  if (!data || !row || row.agreedBy.includes(personId)) return null
  return (
    <p className="mx-4 mt-3 bg-ochre-soft px-2 py-1.5">
      You are asked to agree to it in <PaneLink to={{ kind: 'agreement', id: `${project}/${agreementId}` }}>{data.name}</PaneLink>
      {row.outdatedBy.includes(personId) && ', anew since its text changed'}.{' '}
      <Button
        look="line"
        disabled={isLoading}
        onClick={() => void agree({ project, agreementId, verdicts: [{ key: requirement, revision: row.revision }] }).then(tellRefusal)}
      >
        I agree to revision {row.revision}
      </Button>
    </p>
  )
}
