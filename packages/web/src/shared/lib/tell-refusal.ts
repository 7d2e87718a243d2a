import { toast } from 'sonner'
import { problemText } from './problem-text'

/** Says what became of an act that was refused; one that went well shows for itself. */
export function tellRefusal({ error }: { error?: unknown }): void {
  if (error) toast.error(problemText(error))
}

/** Says what came of an act: why it was refused, else what it did. */
export function tellResult({ error }: { error?: unknown }, said: string): void {
  if (error) toast.error(problemText(error))
  else toast.success(said)
}
