import { PackageURL } from 'packageurl-js'

/** The kinds of packages that lock files name, as the Package URL specification calls them. */
export const PACKAGE_TYPES = ['npm', 'pypi', 'cargo', 'golang', 'composer', 'gem', 'nuget', 'maven', 'pub', 'generic'] as const
/** One of these kinds. */
export type PackageType = (typeof PACKAGE_TYPES)[number]

/** A package in one version; `name` is whole, with its group or scope: `@babel/core`, `org.slf4j/slf4j-api`. */
export interface PackageRef {
  type: string
  name: string
  version: string
}

/** The order of packages: by name, then by version and kind as texts. */
export function byNameAndVersion(a: PackageRef, b: PackageRef): number {
  const [one, other] = [`${a.name}\n${a.version}\n${a.type}`, `${b.name}\n${b.version}\n${b.type}`]
  return one < other ? -1 : Number(one > other)
}

/**
 * The package as a Package URL (https://github.com/package-url/purl-spec); of the kind `generic` where its name or version is none that its
 * own kind allows.
 *
 * @example purlOf({ type: 'npm', name: '@babel/core', version: '7.26.0' }) // 'pkg:npm/%40babel/core@7.26.0'
 */
export function purlOf({ type, name, version }: PackageRef): string {
  const slash = name.lastIndexOf('/')
  const [namespace, own] = slash < 0 ? [undefined, name] : [name.slice(0, slash), name.slice(slash + 1)]
  const print = (kind: string) => new PackageURL(kind, namespace, own, version, undefined, undefined).toString()
  try {
    return print(type)
  } catch (error) {
    // The library says with a plain error what a kind does not allow; what is generic may be called anything.
    if (error instanceof Error) return print('generic')
    throw error
  }
}

/**
 * The package that a Package URL names; null for what is none, or says no version. Qualifiers and
 * subpath tell no other version, and are left out.
 */
export function packageOf(purl: string): PackageRef | null {
  try {
    const { type, namespace, name, version } = PackageURL.fromString(purl)
    return type && name && version ? { type, name: namespace ? `${namespace}/${name}` : name, version } : null
  } catch (error) {
    // The library says with a plain error what is no Package URL.
    if (error instanceof Error) return null
    throw error
  }
}

/**
 * What is looked for when somebody asks for `name` or `name@version`; the `@` of a scope is part of the name. A Package URL does as well.
 *
 * @example askedPackage('@babel/core@7.26.0') // { name: '@babel/core', version: '7.26.0' }
 */
export function askedPackage(text: string): { name: string; version: string | null } {
  const asked = text.trim()
  const known = asked.startsWith('pkg:') ? packageOf(asked) : null
  if (known) return { name: known.name, version: known.version }
  const at = asked.lastIndexOf('@')
  return at <= 0 ? { name: asked, version: null } : { name: asked.slice(0, at).trim(), version: asked.slice(at + 1).trim() || null }
}
