import type { ComponentProps } from 'react'
import { Field, TextInput } from '#shared/ui/fields'

/** Whether an account wants a code beside its password, which was right. */
export function isCodeWanted(error: unknown): boolean {
  return typeof error === 'object' && error !== null && 'code' in error && error.code === 'second-factor-needed'
}

/** The code beside a password. */
export function CodeField(props: ComponentProps<typeof TextInput>) {
  return (
    <Field label="The code that your authenticator shows, or one for a lost device">
      <TextInput autoFocus autoComplete="one-time-code" maxLength={20} {...props} />
    </Field>
  )
}
