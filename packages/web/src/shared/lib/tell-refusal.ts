import { toast } from 'sonner'
import { problemText } from './problem-text'

/** Says what became of an act that was refused; one that went well shows for itself. */
export function tellRefusal({ error }: { error?: unknown }): void {
  if (error) toast.error(problemText(error))
}
