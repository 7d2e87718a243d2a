import { resolve } from 'node:path'
import type { Env } from './env.js'

export interface CommandOptions {
  port?: string | undefined
  data?: string | undefined
  host?: string | undefined
  /** A file of variables. */
  config?: string | undefined
}

export interface Config {
  kind: 'demo' | 'real'
  host: string
  port: number
  dataDir: string
  /** Where the stand-ins answer; null outside the demo. */
  outsideUrl: string | null
  /**
   * The adapter of a code host: where it answers, and how the addresses of repositories begin that live
   * there; null where there is none.
   */
  codeHost: { url: string; serves: string } | null
  /** The adapter of a deployer; null where there is none. */
  deployerUrl: string | null
  /** What adapters are asked with; null where they ask for nothing. */
  adapterToken: string | null
  /** The mail server that mail for people is handed over to (`smtp:`, or `smtps:` with TLS); null where nobody gets any. */
  smtpUrl: string | null
  /** The address that mail comes from. */
  mailFrom: string
  /** How many proxies stand in front, whose word about the client's address is believed. */
  proxies: number
  /** Files of certificate and key, where TLS is spoken here; null behind a proxy that does. */
  tls: { certPath: string; keyPath: string } | null
  /** Where mail to Dystracer is taken by SMTP; null where it is not. */
  mailPort: number | null
  mailDomain: string
  /** Mail servers whose word counts that a mail comes from the domain of its sender. */
  mailTrustedHosts: readonly string[]
  /** How links in mails begin, without a slash at the end. */
  publicUrl: string
  /** News for one person about one item is gathered so long before it is mailed. */
  digestIntervalMs: number
  /** What stands below the sign-in form. */
  signInHint: string | null
  /** Places that a newcomer is led to; none for real use. */
  tour: readonly { title: string; why: string; path: string }[]
  /** Whether people may read without signing in. */
  mayReadUnsigned: boolean
  /** The folder whose repositories may be connected by their path; null where only those on the net may. */
  repositoriesDir: string | null
  /** Hosts of one's own network from which repositories may be read; others must be of the open net. */
  allowedHosts: readonly string[]
  /** With less than this left on the disk, uploads, imports, telemetry and fetches are refused; what people write by hand is not. */
  minFreeBytes: number
  pollIntervalMs: number
  judgeIntervalMs: number
  /** How long occurrences are kept, and how many of each fault. */
  keepDays: number
  keepPerFault: number
  /** How many requests one person, token or (unsigned) address may make of the API in a minute, that many at once; 0 for no limit. */
  requestsPerMinute: number
  keepPerMinute: number
  /** What happens with an answer that does not fit the schema that promises it. */
  answersThatDoNotFit: 'log' | 'throw'
  /** Threads that start with the server spare the first question the wait; on first use spares them where nothing is asked. */
  threadsStart: 'with-the-server' | 'on-first-use'
  logLevel: Env['DYSTRACER_LOG']
  day: string | null
}

/** Settings of one run: options win over variables, variables over defaults. */
export function makeConfig(kind: Config['kind'], env: Env, options: CommandOptions = {}): Config {
  const port = options.port === undefined ? (env.DYSTRACER_PORT ?? 4310) : Number(options.port)
  if (!Number.isInteger(port) || port < 1 || port > 65532) throw new Error(`--port must be a number from 1 to 65532, not ${options.port}`)
  const isDemo = kind === 'demo'
  const host = options.host ?? env.DYSTRACER_HOST ?? '127.0.0.1'
  return {
    kind,
    port,
    host,
    dataDir: resolve(options.data ?? env.DYSTRACER_DATA ?? (isDemo ? '.data/demo' : '.data/main')),
    outsideUrl: isDemo ? `http://127.0.0.1:${port + 1}` : null,
    codeHost: codeHostOf(env) ?? (isDemo ? { url: `http://127.0.0.1:${port + 1}`, serves: 'outside:' } : null),
    deployerUrl: env.DYSTRACER_DEPLOYER ?? (isDemo ? `http://127.0.0.1:${port + 1}` : null),
    adapterToken: env.DYSTRACER_ADAPTER_TOKEN ?? null,
    smtpUrl: env.DYSTRACER_SMTP_URL ?? smtpHere(env.DYSTRACER_SMTP_PORT ?? (isDemo ? port + 2 : null)),
    mailFrom: env.DYSTRACER_MAIL_FROM ?? `dystracer@${env.DYSTRACER_MAIL_DOMAIN ?? 'dystracer.example'}`,
    proxies: env.DYSTRACER_PROXIES ?? 0,
    tls: tlsOf(env),
    mailPort: env.DYSTRACER_MAIL_PORT ?? (isDemo ? port + 3 : null),
    mailDomain: env.DYSTRACER_MAIL_DOMAIN ?? 'dystracer.example',
    mailTrustedHosts: namesIn(env.DYSTRACER_MAIL_TRUSTED ?? (isDemo ? 'outside.dystracer.example' : '')),
    publicUrl: (env.DYSTRACER_PUBLIC_URL ?? `${env.DYSTRACER_TLS_CERT ? 'https' : 'http'}://${host}:${port}`).replace(/\/+$/, ''),
    digestIntervalMs: isDemo ? 3_000 : 300_000,
    signInHint: null,
    tour: [],
    mayReadUnsigned: isDemo,
    repositoriesDir: env.DYSTRACER_REPOSITORIES ?? null,
    allowedHosts: namesIn(env.DYSTRACER_ALLOWED_HOSTS ?? (isDemo ? '127.0.0.1' : '')),
    minFreeBytes: (env.DYSTRACER_MIN_FREE_MB ?? 200) * 2 ** 20,
    pollIntervalMs: (env.DYSTRACER_POLL_SECONDS ?? (isDemo ? 10 : 60)) * 1000,
    judgeIntervalMs: isDemo ? 1_000 : 60_000,
    keepDays: env.DYSTRACER_KEEP_DAYS ?? 90,
    keepPerFault: env.DYSTRACER_KEEP_PER_FAULT ?? 10_000,
    requestsPerMinute: env.DYSTRACER_REQUESTS_PER_MINUTE ?? 6_000,
    keepPerMinute: env.DYSTRACER_KEEP_PER_MINUTE ?? 1_000,
    answersThatDoNotFit: 'log',
    threadsStart: 'with-the-server',
    logLevel: env.DYSTRACER_LOG,
    day: env.DYSTRACER_DAY ?? null,
  }
}

/** Both the adapter and what it serves, or neither; throws where one is missing. */
function codeHostOf({ DYSTRACER_CODE_HOST: url, DYSTRACER_CODE_HOST_SERVES: serves }: Env): Config['codeHost'] {
  if (url === undefined && serves === undefined) return null
  if (url === undefined || serves === undefined) throw new Error('DYSTRACER_CODE_HOST and DYSTRACER_CODE_HOST_SERVES go together')
  return { url, serves }
}

/** Names that stand in one text with commas between them. */
function namesIn(text: string): string[] {
  return text
    .split(',')
    .map((name) => name.trim())
    .filter(Boolean)
}

/** A mail server on this machine, which takes mail without TLS. */
function smtpHere(port: number | null): string | null {
  return port === null ? null : `smtp://127.0.0.1:${port}`
}

/** Both files or none; throws where one is missing. */
function tlsOf({ DYSTRACER_TLS_CERT: certPath, DYSTRACER_TLS_KEY: keyPath }: Env): Config['tls'] {
  if (certPath === undefined && keyPath === undefined) return null
  if (certPath === undefined || keyPath === undefined) throw new Error('DYSTRACER_TLS_CERT and DYSTRACER_TLS_KEY go together')
  return { certPath: resolve(certPath), keyPath: resolve(keyPath) }
}
