import type { Body } from '#shared/lib/api'

/** What the forms that connect or move a repository hold. */
export interface RepositoryForm {
  url: string
  /** `kept`: as it is read already. */
  kind: 'kept' | 'none' | 'login' | 'key'
  userName: string
  secret: string
  keyId: string
}
/** A form in which nothing is said yet. */
export const EMPTY_REPOSITORY_FORM: RepositoryForm = { url: '', kind: 'none', userName: '', secret: '', keyId: '' }

/** How the repository is read, as the server takes it; undefined where that stays as it is. */
export function accessOfForm({ kind, userName, secret, keyId }: RepositoryForm): Body<'connectRepository'>['access'] {
  switch (kind) {
    case 'kept':
      return undefined
    case 'none':
      return { kind }
    case 'login':
      return { kind, userName, secret }
    case 'key':
      return { kind, keyId }
  }
}

/** An address by ssh needs a key, one by http may need a login; what fits is offered first. */
export function accessFor(url: string): 'none' | 'key' {
  return /^ssh:\/\/|^\w[\w.-]*@\w[\w.-]*:(?!\/\/)/.test(url.trim()) ? 'key' : 'none'
}
