import type { ComponentProps, ReactNode, SelectHTMLAttributes } from 'react'

const BOX = 'min-h-6 w-full rounded-[3px] border border-edge bg-sheet px-2 py-1.5 text-ink'

export function Field({
  label,
  error,
  isNeeded = false,
  children,
}: {
  label: string
  error?: string | undefined
  /** Whether the form is refused without it. */
  isNeeded?: boolean
  children: ReactNode
}) {
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the control comes as the child
    <label className="block text-[12px] text-ink-2">
      <span>
        {label}
        {isNeeded && <b> · needed</b>}
      </span>
      <span className="mt-0.5 block text-[13px]">{children}</span>
      {error && (
        <span role="alert" className="text-fault">
          {error}
        </span>
      )}
    </label>
  )
}
export function TextInput(props: ComponentProps<'input'>) {
  return <input {...props} className={`${BOX} ${props.className ?? ''}`} />
}
export function TextArea(props: ComponentProps<'textarea'>) {
  return <textarea {...props} className={`${BOX} ${props.className ?? ''}`} />
}
export interface Choice<Value extends string = string> {
  value: Value
  label: string
}
type ChooseProps<Value extends string> = Omit<SelectHTMLAttributes<HTMLSelectElement>, 'value' | 'onChange'> & {
  choices: readonly Choice<Value>[]
  value?: Value | '' | undefined
  none?: string
  onChange?: (event: { target: { value: Value } }) => void
}
/** One of several; the first choice is "none" when `none` names it, with an empty value. */
export function Choose<Value extends string>({ choices, none, onChange, ...rest }: ChooseProps<Value>) {
  return (
    <select
      {...rest}
      className={`${BOX} text-ellipsis ${rest.className ?? ''}`}
      onChange={(event) => onChange?.(event as typeof event & { target: { value: Value } })}
    >
      <Options choices={choices} none={none} />
    </select>
  )
}
/** What can be chosen, for a `select`: the empty choice first, where `none` names it. */
export function Options({ choices, none }: { choices: readonly Choice[]; none: string | undefined }) {
  return (
    <>
      {none !== undefined && <option value="">{none}</option>}
      {choices.map((choice) => (
        <option key={choice.value} value={choice.value}>
          {choice.label}
        </option>
      ))}
    </>
  )
}
