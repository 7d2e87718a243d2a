import { toast } from 'sonner'
import { Button } from '#shared/ui/parts'

/** A text to be taken elsewhere, with a button that copies it. */
export function Copyable({ text, label }: { text: string; label?: string }) {
  return (
    <span className="relative mt-1 block">
      <pre
        tabIndex={0}
        aria-label={label}
        className="m-0 max-h-[420px] overflow-auto rounded-[3px] bg-paper p-2 pr-14 font-mono text-[12px] whitespace-pre"
      >
        {text}
      </pre>
      <Button
        className="absolute top-1 right-1 text-[12px]"
        onClick={() =>
          void navigator.clipboard.writeText(text).then(
            () => toast.success('Copied'),
            () => toast.error('The browser does not allow it; mark the text and copy it'),
          )
        }
      >
        Copy
      </Button>
    </span>
  )
}
