import type { ReactNode } from 'react'

/** A heading, alone or with how wide it is or which way it leans. */
type Heading = string | { label: string; className: string }

/** A table whose rows are changed where they stand: its headings, and a last column for what can be done with a row. */
export function DeedTable({ headings, children }: { headings: readonly Heading[]; children: ReactNode }) {
  return (
    <table className="w-full text-left">
      <thead>
        <tr className="text-[12px] text-ink-3">
          {headings.map((heading) => {
            const { label, className } = typeof heading === 'string' ? { label: heading, className: '' } : heading
            return (
              <th key={label} className={`font-normal ${className}`}>
                {label}
              </th>
            )
          })}
          <th>
            <span className="sr-only">What can be done</span>
          </th>
        </tr>
      </thead>
      <tbody>{children}</tbody>
    </table>
  )
}
