import { Link } from 'react-router'
import { Button, Refusal } from '#shared/ui/parts'
import { useConfirmAddressMutation } from './people.api'

/** The page behind the link to a further address, for who is signed in. */
export function AddressPage({ secret }: { secret: string }) {
  const [confirm, { data, error, isLoading }] = useConfirmAddressMutation()
  return (
    <main className="mx-auto mt-[12vh] w-[min(420px,94vw)] rounded-[4px] border border-edge bg-sheet p-5">
      <h1 className="mb-3 text-[17px] font-bold">Is this address yours?</h1>
      {data ? (
        <p role="status">
          Commits and mails from {data.email} are yours from now on.{' '}
          <Link className="link" to="/you">
            Your account
          </Link>
        </p>
      ) : (
        <div className="space-y-3">
          <p className="text-ink-2">The mail names who claimed it. Say yes only if that is you.</p>
          <Refusal error={error} />
          <Button look="main" disabled={isLoading} onClick={() => void confirm({ secret })}>
            It is mine
          </Button>
        </div>
      )}
    </main>
  )
}
