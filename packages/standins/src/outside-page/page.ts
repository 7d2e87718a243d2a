import type { CodeHost, Status } from '#code-host/code-host'
import type { Deployer } from '#deployer/deployer'
import type { Mail, Mailbox } from '#mailbox/mailbox'
import { PREPARED_CHANGES } from './changes.js'

const STYLE =
  `body{font:14px/1.5 system-ui,sans-serif;background:#F4F1EA;color:#1E2421;margin:0 auto;max-width:960px;` +
  `padding:24px}h1{font-size:20px}h2{font-size:15px;border-top:1px solid #DED8CA;padding-top:14px;margin-top:22px}
form{display:flex;gap:8px;flex-wrap:wrap;align-items:end;margin:6px 0}label{display:grid;font-size:12px;color:#59615B}` +
  `input,select,textarea{font:inherit;padding:4px 6px;border:1px solid #DED8CA;border-radius:3px;background:#FFFEFA}
button{font:inherit;padding:5px 12px;border:0;border-radius:3px;background:#1E2421;color:#FFFEFA;cursor:pointer}` +
  `table{border-collapse:collapse;width:100%}td,th{text-align:left;padding:4px 8px;border-bottom:1px solid #EDE8DC;` +
  `vertical-align:top}a{color:#1E6E62}pre{white-space:pre-wrap;margin:0}`

function escapeHtml(text: string): string {
  return text.replace(/[&<>"']/g, (char) => `&#${char.charCodeAt(0)};`)
}

function shell(title: string, body: string): string {
  return (
    `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>${escapeHtml(title)}</title>` +
    `<style>${STYLE}</style></head><body>${body}</body></html>`
  )
}

function options(values: readonly string[]): string {
  return values.map((value) => `<option>${escapeHtml(value)}</option>`).join('')
}

/** The page "Outside": what a person can make happen in the services around Dystracer. */
export async function outsidePage({
  codeHost,
  deployer,
  message,
}: {
  codeHost: CodeHost
  deployer: Deployer
  message: string
}): Promise<string> {
  const branches = (
    await Promise.all(
      codeHost.repositories.map(async (repository) =>
        [...(await codeHost.readTips(repository)).keys()]
          .filter((ref) => ref.startsWith('refs/heads/'))
          .map((ref) => `${repository}: ${ref.slice(11)}`),
      ),
    )
  ).flat()
  const open = codeHost.list().filter((pr) => pr.state === 'open')
  return shell(
    'Outside',
    `<h1>Outside</h1><p>The services around Dystracer, small and simulated: what you do here reaches it over the wire. <a ` +
      `href="/mail">Mailbox</a></p>${message ? `<p role="status"><b>${escapeHtml(message)}</b></p>` : ''}
<h2>Studio</h2>${[1, 2, 3]
        .map(
          (kiln) =>
            `<form method="post" ` +
            `action="/do/${deployer.unplugged.has(String(kiln)) ? 'plug' : 'unplug'}"><input type="hidden" name="kiln" ` +
            `value="${kiln}"><button>${deployer.unplugged.has(String(kiln)) ? 'Plug in' : 'Unplug'} the sensor of kiln ` +
            `${kiln}</button></form>`,
        )
        .join('')}
<h2>Push a change</h2><form method="post" action="/do/push"><label>Branch of kiln-controller<input name="branch" required ` +
      `size="40" placeholder="fix/EMB-1-..."></label><label>Change<select name="change">${Object.entries(PREPARED_CHANGES)
        .map(([name, change]) => `<option value="${name}">${escapeHtml(change.label)}</option>`)
        .join('')}</select></label>
<label>Message<textarea name="message" required rows="3" cols="50"></textarea></label><button>Push</button></form>
<h2>Pull requests</h2><form method="post" action="/do/open"><label>Branch<select ` +
      `name="branch">${options(branches.filter((name) => !name.endsWith(': main')))}</select></label>
<button>Open a pull request</button></form>
<table>${open
        .map(
          (pr) =>
            `<tr><td>${escapeHtml(pr.repository)} ${pr.number}</td><td>${escapeHtml(pr.title)}` +
            `${statusHtml(codeHost.statusOf(pr))}</td><td>` +
            `<form method="post" action="/do/merge"><input type="hidden" name="repository" value="${escapeHtml(pr.repository)}">` +
            `<input type="hidden" name="number" value="${pr.number}"><select name="method" aria-label="method">` +
            `<option>merge</option><option>squash</option></select><button>Merge</button></form></td></tr>`,
        )
        .join('')}</table>
<h2>Releases</h2><form method="post" action="/do/tag"><label>Repository<select ` +
      `name="repository">${options(codeHost.repositories)}</select></label><label>Release<input name="name" ` +
      `placeholder="4.1.4" required></label><button>Tag main</button></form>
<table><tr><th>Service</th><th>Environment</th><th>Release</th><th></th></tr>${deployer
        .list()
        .map(
          (row) =>
            `<tr><td>${escapeHtml(row.service)}</td><td>${escapeHtml(row.environment)}</td>` +
            `<td>${escapeHtml(row.release)}</td><td>${row.isUp ? 'running' : 'down'}</td></tr>`,
        )
        .join('')}</table>`,
  )
}

/** What Dystracer says of a pull request, with links back to it. */
function statusHtml(status: Status | undefined): string {
  if (!status) return ''
  const links = [{ key: status.state, url: status.url }, ...status.items]
    .filter(({ url }) => /^https?:/.test(url))
    .map(({ key, url }) => `<a href="${escapeHtml(url)}">${escapeHtml(key)}</a>`)
  return `<br><small>Dystracer: ${escapeHtml(status.summary)} · ${links.join(' · ')}</small>`
}

/**
 * The mailbox: threads, the one with the newest mail first, each mail as text or HTML and with a way to answer it. A mail's HTML stands in
 * a frame that runs nothing.
 */
export function mailPage(mailbox: Mailbox, message = ''): string {
  const threads = new Map<string, Mail[]>()
  for (const mail of mailbox.mails) {
    const thread = `${mail.to} ${mail.threadId}`
    threads.set(thread, [...(threads.get(thread) ?? []), mail])
  }
  const rows = [...threads.values()]
    .map(([newest, ...older]) =>
      newest
        ? `<article><h2>${escapeHtml(newest.subject)}</h2>${mailHtml(newest, true)}` +
          `${older.map((mail) => mailHtml(mail, false)).join('')}</article>`
        : '',
    )
    .join('')
  return shell(
    'Mailbox',
    `<h1>Mailbox</h1><p><a href="/">Outside</a></p>${message ? `<p role="status"><b>${escapeHtml(message)}</b></p>` : ''}${
      rows || '<p>Mail that Dystracer sends will stand here; give somebody an item to see one.</p>'
    }${lookAgain(mailbox.mails[0]?.id ?? 0)}`,
  )
}

/**
 * Shows new mail when it comes, but for somebody who is writing an answer. A letter gets its frame when it is opened: hundreds of frames
 * keep a page waiting.
 */
function lookAgain(newestId: number): string {
  return `<script>setInterval(async () => {
  const [newest] = await (await fetch('/api/mail?limit=1')).json()
  const isWriting = [...document.querySelectorAll('textarea')].some((field) => field.value !== '' || field === document.activeElement)
  if ((newest?.id ?? 0) !== ${newestId} && !isWriting) location.replace('/mail')
}, 2000)
addEventListener('toggle', ({ target }) => {
  const frame = target.querySelector('iframe')
  if (target.open && !frame.srcdoc) frame.srcdoc = frame.dataset.letter
}, true)</script>`
}

function mailHtml(mail: Mail, isNewest: boolean): string {
  const at = new Date(mail.atMs).toISOString().slice(0, 16).replace('T', ' ')
  const letter = mail.html
    ? `<details><summary>as HTML</summary><iframe sandbox title="Mail ${mail.id}" style="width:100%;height:300px;` +
      `border:1px solid #DED8CA" data-letter="${escapeHtml(mail.html)}"></iframe></details>`
    : ''
  const answer =
    `<form method="post" action="/do/answer"><input type="hidden" name="id" value="${mail.id}"><label>Answer ` +
    `as ${escapeHtml(mail.to)}<textarea name="text" required rows="3" cols="60"></textarea></label><button>Send the answer</button></form>`
  return `<p>${escapeHtml(at)} to ${escapeHtml(mail.to)}</p><pre>${escapeHtml(mail.text)}</pre>${letter}${isNewest ? answer : ''}`
}
