import { Dialog as Radix } from 'radix-ui'
import type { ReactNode } from 'react'

/** A dialog above the page; Escape and a click beside it close it, the keyboard stays inside. */
export function Dialog({
  title,
  isOpen,
  onClose,
  children,
  hideTitle = false,
}: {
  title: string
  isOpen: boolean
  onClose: () => void
  children: ReactNode
  hideTitle?: boolean
}) {
  return (
    <Radix.Root
      open={isOpen}
      onOpenChange={(open) => {
        if (!open) onClose()
      }}
    >
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 bg-black/30" />
        <Radix.Content
          aria-describedby={undefined}
          // React passes events on to the components around, though in the page the dialog stands apart: a form there would be submitted
          // too.
          onSubmit={(event) => event.stopPropagation()}
          className="fixed top-[12vh] left-1/2 max-h-[80vh] w-[min(620px,94vw)] -translate-x-1/2 overflow-y-auto rounded-[4px]
            border border-edge bg-sheet shadow-2xl"
        >
          <Radix.Title className={hideTitle ? 'sr-only' : 'border-b border-edge px-4 py-2.5 text-[15px] font-bold'}>{title}</Radix.Title>
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  )
}
