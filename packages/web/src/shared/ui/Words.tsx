import type { ComponentProps } from 'react'
import { type Choice, Options } from './fields'

const WORD =
  'field-sizing-content min-h-6 max-w-full leading-[22px] cursor-pointer rounded-none border-b border-proof bg-transparent ' +
  'px-0.5 py-0 font-bold text-ink hover:bg-mark disabled:cursor-default disabled:border-edge'

/** A word of a sentence that is chosen from several. It is as wide as what it says. */
export function WordChoice({
  label,
  choices,
  none,
  ...rest
}: ComponentProps<'select'> & { label: string; choices: readonly Choice[]; none?: string }) {
  return (
    <select aria-label={label} {...rest} className={`${WORD} appearance-none text-ellipsis`}>
      <Options choices={choices} none={none} />
    </select>
  )
}

/** A word of a sentence that is typed. */
export function WordInput({ label, ...rest }: ComponentProps<'input'> & { label: string }) {
  return (
    <input
      aria-label={label}
      autoComplete="off"
      {...rest}
      className={`${WORD} min-w-8 cursor-text placeholder:font-normal placeholder:text-ink-3`}
    />
  )
}
