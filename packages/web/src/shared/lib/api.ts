import { printValues } from '@dystracer/core/looking/value-list'
import { createApi, type BaseQueryFn } from '@reduxjs/toolkit/query/react'
import type { Build, Commit, CommitSummary, PullRequest, PullRequestDetail, Repository } from '@dystracer/core/code/wire'
import type { BuildDetail } from '@dystracer/core/builds/wire'
import type { Release, ReleaseBoard } from '@dystracer/core/releases/wire'
import type { Requirement, RequirementDetail } from '@dystracer/core/requirements/wire'
import type { AddLink, BulkDone, ChangeItem, Item, LogItem, Started } from '@dystracer/core/items/wire'
import type { Attachment, Comment, TimeEntry, TimeSums } from '@dystracer/core/talk/wire'
import type { Found, ItemCounts, OutlineEntry } from '@dystracer/core/looking/wire'
import type { HistoryEntry, ItemSummary } from '@dystracer/core/records/wire'
import type { LookAlike } from '@dystracer/core/likeness/wire'
import type { ProjectSetup } from '@dystracer/core/setup/wire'
import type { AcceptItem, AskReporter, DecideMany, MergeItem, Proposals, RejectItem, TriagePage, TriageWeeks } from '@dystracer/core/triage/wire'
import type { ReportState } from '@dystracer/core/incoming/wire'
import type { RoutingRules } from '@dystracer/core/routing/wire'
import type { Import } from '@dystracer/core/imports/wire'
import type { SaveView, View } from '@dystracer/core/looking/wire'
import type { Hand } from '@dystracer/core/hand/wire'
import type { NoticeChoices, NoticeGroup } from '@dystracer/core/inbox/wire'
import type { Desk, Me, Places, SearchHit } from '@dystracer/core/desk/wire'
import type { ThreadAnswer } from '@dystracer/core/threads/wire'
import type { ProblemDetails } from '@dystracer/core/basics/wire'

export interface ApiRequest {
  url: string
  method?: 'GET' | 'POST' | 'PATCH' | 'PUT' | 'DELETE'
  body?: unknown
  headers?: Record<string, string>
}
export interface Page<Row> {
  rows: Row[]
  nextCursor: string | null
  total?: number
}

const KEPT_ALIVE_MAX = 20_000
export interface ItemsArgs {
  filter: string
  sort: string
  groupBy?: string | undefined
  folded?: readonly string[] | undefined
}
let csrfToken = ''

/** One way to the server; failures come back as problem details. */
const baseQuery: BaseQueryFn<ApiRequest, unknown, ProblemDetails> = async ({ url, method = 'GET', body, headers }) => {
  const text = body === undefined ? '' : JSON.stringify(body)
  try {
    const response = await fetch(`/api/v1${url}`, {
      method,
      headers: {
        ...(body !== undefined && { 'content-type': 'application/json' }),
        ...(method !== 'GET' && { 'x-dystracer-csrf': csrfToken }),
        ...headers,
      },
      ...(body !== undefined && { body: text }),
      // What was sent is not lost when the page is left at once; browsers allow this up to 64 KiB.
      keepalive: method !== 'GET' && text.length < KEPT_ALIVE_MAX,
    })
    const data: unknown = response.status === 204 ? {} : await response.json()
    if (!response.ok) return { error: data as ProblemDetails }
    if (typeof data === 'object' && data !== null && 'csrfToken' in data) csrfToken = String(data.csrfToken)
    return { data }
  } catch (error) {
    return {
      error: {
        type: '/problems/unreachable',
        title: 'The server did not answer',
        status: 0,
        code: 'unreachable',
        detail: error instanceof Error ? error.message : String(error),
      },
    }
  }
}

/** A path's parts with everything escaped; `repository/rest` keeps its slash. */
export function path(...parts: string[]): string {
  return `/${parts.map((part) => part.split('/').map(encodeURIComponent).join('/')).join('/')}`
}

/** A list of more pages than these is not read again for every item that is logged. */
export const LONG_LIST_PAGES = 10

const ITEM_TAGS = (key: string) => [{ type: 'Item' as const, id: key }, 'Items' as const, 'Triage' as const, 'Overview' as const]

/** Sends a file with progress from 0 to 1; the answer is the attachment, the failure a problem. `fetch` tells no progress of what it sends. */
export function uploadFile(
  key: string,
  file: File,
  onProgress: (share01: number) => void,
  signal?: AbortSignal,
): Promise<{ data: Attachment } | { error: ProblemDetails }> {
  return new Promise((resolve) => {
    const request = new XMLHttpRequest()
    const broken = {
      error: {
        type: '/problems/unreachable',
        title: 'The upload broke off',
        status: 0,
        code: 'unreachable',
        detail: `${file.name} was not stored. Send it again.`,
      },
    }
    request.open('POST', `/api/v1${path('items', key, 'attachments')}?name=${encodeURIComponent(file.name || 'clipboard.png')}`)
    request.setRequestHeader('content-type', 'application/octet-stream')
    request.setRequestHeader('x-dystracer-csrf', csrfToken)
    request.upload.onprogress = (event) => onProgress(event.lengthComputable ? event.loaded / event.total : 0)
    request.onload = () => {
      const body = JSON.parse(request.responseText || '{}') as Attachment & ProblemDetails
      resolve(request.status < 300 ? { data: body } : { error: body })
    }
    request.onerror = () => resolve(broken)
    request.onabort = () => resolve(broken)
    signal?.addEventListener('abort', () => request.abort())
    request.send(file)
  })
}

/** Sends a file of items to be read; nothing is logged by that. */
export async function uploadImport(project: string, file: File): Promise<{ data: Import } | { error: ProblemDetails }> {
  const url = `/api/v1${path('projects', project, 'imports')}?name=${encodeURIComponent(file.name)}`
  const response = await fetch(url, {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream', 'x-dystracer-csrf': csrfToken },
    body: file,
  })
  const body = (await response.json()) as Import & ProblemDetails
  return response.ok ? { data: body } : { error: body }
}

export function fileUrl(key: string, attachmentId: string, kind: 'file' | 'thumbnail' = 'file'): string {
  return `/api/v1${path('items', key, 'attachments', attachmentId, kind)}`
}

export type SetupPart = 'types' | 'fields' | 'field-order' | 'stage-rules' | 'public-form' | 'milestones' | 'labels' | 'limits' | 'components'

export interface DeedPreview {
  deeds: { kind: string; [field: string]: unknown }[]
  refused: { trailer: string; code: string }[]
  mentions: { personId: string; maySee: boolean }[]
}

export const api = createApi({
  reducerPath: 'api',
  baseQuery,
  tagTypes: [
    'Me',
    'Hand',
    'Triage',
    'Routing',
    'Views',
    'Import',
    'Notice',
    'Time',
    'Overview',
    'Items',
    'LongItems',
    'Item',
    'Fault',
    'Code',
    'Build',
    'Release',
    'Requirement',
    'Thread',
  ],
  keepUnusedDataFor: 120,
  endpoints: (build) => ({
    me: build.query<Me, void>({ query: () => ({ url: '/me' }), providesTags: ['Me'] }),
    signIn: build.mutation<Me, { email: string; password: string }>({
      query: (body) => ({ url: '/session', method: 'POST', body }),
      invalidatesTags: ['Me', 'Hand', 'Views', 'Notice', 'Triage', 'Overview', 'Items', 'LongItems', 'Item'],
    }),
    signUp: build.mutation<Me, { secret: string; name: string; email: string; password: string }>({
      query: (body) => ({ url: '/sign-up', method: 'POST', body }),
      invalidatesTags: ['Me', 'Overview', 'Items', 'LongItems'],
    }),
    invited: build.query<{ name: string; email: string }, string>({ query: (secret) => ({ url: path('sign-up', secret) }) }),
    createProject: build.mutation<{ prefix: string; firstItem: string | null; repository: string | null }, object>({
      query: (body) => ({ url: '/projects', method: 'POST', body }),
      invalidatesTags: ['Me', 'Overview', 'Items', 'LongItems', 'Code', 'Release', 'Triage'],
    }),
    invite: build.mutation<{ personId: string }, { project: string; body: object }>({
      query: ({ project, body }) => ({ url: path('projects', project, 'people'), method: 'POST', body }),
      invalidatesTags: ['Me'],
    }),
    signOut: build.mutation<object, void>({
      query: () => ({ url: '/session', method: 'DELETE' }),
      invalidatesTags: ['Me', 'Hand', 'Views', 'Notice', 'Triage', 'Overview', 'Items', 'LongItems', 'Item'],
    }),
    places: build.query<Places, void>({ query: () => ({ url: '/places' }), providesTags: ['Overview'] }),
    desk: build.query<Desk, void>({ query: () => ({ url: '/desk' }), providesTags: ['Overview'] }),
    search: build.query<{ hits: SearchHit[] }, string>({ query: (q) => ({ url: `/search?q=${encodeURIComponent(q)}` }) }),
    items: build.infiniteQuery<Page<ItemSummary>, ItemsArgs, string | null>({
      infiniteQueryOptions: { initialPageParam: null, getNextPageParam: (last) => last.nextCursor ?? undefined },
      query: ({ queryArg: { filter, sort, groupBy, folded = [] }, pageParam }) => ({
        url: `/items?${new URLSearchParams({ filter, sort, limit: '200', withTotal: 'false', ...(groupBy && { groupBy }), ...(folded.length > 0 && { folded: printValues(folded) }), ...(pageParam !== null && { cursor: pageParam }) })}`,
      }),
      // Reading a list again reads all of its pages. One of many pages is patched as changes come, and read again only when somebody asks or much has changed.
      providesTags: (result) => [(result?.pages.length ?? 0) > LONG_LIST_PAGES ? 'LongItems' : 'Items'],
    }),
    itemCounts: build.query<ItemCounts, { filter: string; groupBy?: string | undefined }>({
      query: ({ filter, groupBy }) => ({ url: `/items-counts?${new URLSearchParams({ filter, ...(groupBy && { groupBy }) })}` }),
      providesTags: ['Items'],
    }),
    found: build.query<{ rows: Found[] }, { filter: string; keys: string }>({
      query: (input) => ({ url: `/items-found?${new URLSearchParams(input)}` }),
      providesTags: ['Items'],
    }),
    outline: build.query<{ rows: OutlineEntry[]; total: number }, { filter: string; sort: string }>({
      query: (input) => ({ url: `/items-outline?${new URLSearchParams(input)}` }),
      providesTags: ['Items'],
    }),
    setParent: build.mutation<Item, { key: string; parent: string | null }>({
      query: ({ key, parent }) => ({ url: path('items', key, 'parent'), method: 'POST', body: { parent } }),
      invalidatesTags: (_result, _error, { key }) => ITEM_TAGS(key),
    }),
    boardItems: build.query<Page<ItemSummary>, { filter: string; sort: string; limit: number }>({
      query: ({ filter, sort, limit }) => ({ url: `/items?${new URLSearchParams({ filter, sort, limit: String(limit) })}` }),
      providesTags: ['Items'],
    }),
    item: build.query<Item, string>({
      query: (key) => ({ url: path('items', key) }),
      providesTags: (_result, _error, key) => [{ type: 'Item', id: key }],
    }),
    history: build.query<Page<HistoryEntry>, string>({
      query: (key) => ({ url: `${path('items', key, 'history')}?limit=80` }),
      providesTags: (_result, _error, key) => [{ type: 'Item', id: key }],
    }),
    comments: build.query<Page<Comment>, { key: string; cursor?: string }>({
      query: ({ key, cursor }) => ({ url: `${path('items', key, 'comments')}?limit=100${cursor ? `&cursor=${cursor}` : ''}` }),
      providesTags: (_result, _error, { key }) => [{ type: 'Item', id: key }],
    }),
    time: build.query<Page<TimeEntry>, string>({
      query: (key) => ({ url: path('items', key, 'time') }),
      providesTags: (_result, _error, key) => [{ type: 'Item', id: key }],
    }),
    proposals: build.query<Proposals, string>({
      query: (key) => ({ url: path('items', key, 'proposals') }),
      providesTags: (_result, _error, key) => [{ type: 'Item', id: key }],
    }),
    logItem: build.mutation<Item, { input: LogItem; idempotencyKey: string }>({
      query: ({ input, idempotencyKey }) => ({ url: '/items', method: 'POST', body: input, headers: { 'idempotency-key': idempotencyKey } }),
      invalidatesTags: ['Items', 'Triage', 'Overview'],
    }),
    changeItem: build.mutation<Item, { key: string; change: ChangeItem; revision?: number }>({
      query: ({ key, change, revision }) => ({
        url: path('items', key),
        method: 'PATCH',
        body: change,
        ...(revision !== undefined && { headers: { 'if-match': `"${revision}"` } }),
      }),
      invalidatesTags: (_result, _error, { key }) => ITEM_TAGS(key),
    }),
    act: build.mutation<
      Item,
      {
        key: string
        act:
          | 'accept'
          | 'reject'
          | 'reopen'
          | 'verify'
          | 'claims'
          | 'links'
          | 'comments'
          | 'time'
          | 'move'
          | 'copy'
          | 'follow'
          | 'reports'
          | 'merge'
          | 'split'
          | 'ask'
        body: AcceptItem | RejectItem | MergeItem | AskReporter | AddLink | object
      }
    >({
      query: ({ key, act, body }) => ({ url: path('items', key, act), method: 'POST', body }),
      invalidatesTags: (_result, _error, { key }) => ITEM_TAGS(key),
    }),
    start: build.mutation<Started, { key: string; repository: string }>({
      query: ({ key, repository }) => ({ url: path('items', key, 'start'), method: 'POST', body: { repository } }),
      invalidatesTags: (_result, _error, { key }) => [...ITEM_TAGS(key), 'Hand'],
    }),
    untie: build.mutation<Item, { key: string; linkId: string }>({
      query: ({ key, linkId }) => ({ url: path('items', key, 'links', linkId), method: 'DELETE' }),
      invalidatesTags: (_result, _error, { key }) => ITEM_TAGS(key),
    }),
    previewComment: build.mutation<DeedPreview, { key: string; text: string }>({
      query: ({ key, text }) => ({ url: path('items', key, 'comments', 'preview'), method: 'POST', body: { text } }),
    }),
    editComment: build.mutation<object, { key: string; commentId: string; text: string; before: string }>({
      query: ({ key, commentId, text, before }) => ({ url: path('items', key, 'comments', commentId), method: 'PATCH', body: { text, before } }),
      invalidatesTags: (_result, _error, { key }) => [{ type: 'Item', id: key }],
    }),
    commentRevisions: build.query<{ rows: { text: string; atMs: number }[] }, { key: string; commentId: string }>({
      query: ({ key, commentId }) => ({ url: path('items', key, 'comments', commentId, 'revisions') }),
      providesTags: (_result, _error, { key }) => [{ type: 'Item', id: key }],
    }),
    react: build.mutation<object, { key: string; commentId: string; reaction: string; isOn: boolean }>({
      query: ({ key, commentId, reaction, isOn }) => ({
        url: path('items', key, 'comments', commentId, 'reactions'),
        method: 'POST',
        body: { reaction, isOn },
      }),
      invalidatesTags: (_result, _error, { key }) => [{ type: 'Item', id: key }],
    }),
    attachments: build.query<{ rows: Attachment[] }, string>({
      query: (key) => ({ url: path('items', key, 'attachments') }),
      providesTags: (_result, _error, key) => [{ type: 'Item', id: key }],
    }),
    removeAttachment: build.mutation<object, { key: string; attachmentId: string }>({
      query: ({ key, attachmentId }) => ({ url: path('items', key, 'attachments', attachmentId), method: 'DELETE' }),
      invalidatesTags: (_result, _error, { key }) => [{ type: 'Item', id: key }],
    }),
    takeTimeBack: build.mutation<object, { key: string; entryId: string }>({
      query: ({ key, entryId }) => ({ url: path('items', key, 'time', entryId), method: 'DELETE' }),
      invalidatesTags: (_result, _error, { key }) => [{ type: 'Item', id: key }, 'Time'],
    }),
    timeSums: build.query<TimeSums, { by: string; from?: string; to?: string }>({
      query: ({ by, from, to }) => ({ url: `/time?${new URLSearchParams({ by, ...(from && { from }), ...(to && { to }) })}` }),
      providesTags: ['Time', 'Items'],
    }),
    lookAlikes: build.query<{ rows: LookAlike[] }, { title: string; text: string; project: string; component?: string }>({
      query: ({ component, ...rest }) => ({ url: `/look-alikes?${new URLSearchParams({ ...rest, ...(component && { component }) })}` }),
    }),
    inbox: build.query<Page<NoticeGroup>, { view: string; limit: number }>({
      query: ({ view, limit }) => ({ url: `/inbox?${new URLSearchParams({ view, limit: String(limit) })}` }),
      providesTags: ['Notice'],
    }),
    readNotices: build.mutation<object, { noticeIds?: string[]; keys?: string[] }>({
      query: (body) => ({ url: '/inbox/read', method: 'POST', body }),
      invalidatesTags: ['Notice', 'Overview'],
    }),
    snooze: build.mutation<object, { key: string; untilMs: number | null }>({
      query: (body) => ({ url: '/inbox/snooze', method: 'POST', body }),
      invalidatesTags: ['Notice', 'Overview'],
    }),
    noticeChoices: build.query<NoticeChoices, void>({ query: () => ({ url: '/me/notice-choices' }), providesTags: ['Me'] }),
    chooseWay: build.mutation<NoticeChoices, { why: string; way: string }>({
      query: (body) => ({ url: '/me/notice-choices', method: 'PUT', body }),
      invalidatesTags: ['Me'],
    }),
    hand: build.query<Hand, void>({ query: () => ({ url: '/me/hand' }), providesTags: ['Hand'] }),
    takeInHand: build.mutation<Hand, { key: string }>({
      query: (body) => ({ url: '/me/hand', method: 'POST', body }),
      invalidatesTags: ['Hand'],
    }),
    changeHand: build.mutation<Hand, { key: string; act: 'park' | 'time'; body?: object }>({
      query: ({ key, act, body }) => ({ url: path('me', 'hand', key, act), method: 'POST', ...(body && { body }) }),
      invalidatesTags: (_result, _error, { key }) => ['Hand', 'Time', { type: 'Item', id: key }],
    }),
    putDown: build.mutation<Hand, string>({ query: (key) => ({ url: path('me', 'hand', key), method: 'DELETE' }), invalidatesTags: ['Hand'] }),
    note: build.query<{ text: string; atMs: number | null }, string>({
      query: (key) => ({ url: path('items', key, 'note') }),
      providesTags: (_result, _error, key) => [{ type: 'Item', id: `note of ${key}` }],
    }),
    writeNote: build.mutation<object, { key: string; text: string }>({
      query: ({ key, text }) => ({ url: path('items', key, 'note'), method: 'PUT', body: { text } }),
      invalidatesTags: (_result, _error, { key }) => [{ type: 'Item', id: `note of ${key}` }],
    }),
    bulk: build.mutation<BulkDone, { keys: string[]; change: ChangeItem }>({
      query: (body) => ({ url: '/items-bulk', method: 'POST', body }),
      invalidatesTags: ['Items', 'LongItems', 'Item', 'Overview'],
    }),
    undoBulk: build.mutation<BulkDone, { seqs: readonly number[] }>({
      query: (body) => ({ url: '/items-bulk/undo', method: 'POST', body }),
      invalidatesTags: ['Items', 'LongItems', 'Item', 'Overview'],
    }),
    undo: build.mutation<{ key: string; said: string }, { seq?: number }>({
      query: (body) => ({ url: '/undo', method: 'POST', body }),
      invalidatesTags: ['Items', 'LongItems', 'Item', 'Triage', 'Overview'],
    }),
    setup: build.query<ProjectSetup, string>({ query: (project) => ({ url: path('projects', project, 'setup') }), providesTags: ['Me'] }),
    changeSetup: build.mutation<ProjectSetup, { project: string; what: SetupPart; body: object }>({
      query: ({ project, what, body }) => ({ url: path('projects', project, what), method: 'PUT', body }),
      invalidatesTags: ['Me'],
    }),
    removeFromSetup: build.mutation<ProjectSetup, { project: string; what: 'types' | 'fields' | 'milestones'; name: string }>({
      query: ({ project, what, name }) => ({ url: path('projects', project, what, name), method: 'DELETE' }),
      invalidatesTags: ['Me'],
    }),
    publicForm: build.query<{ name: string; components: string[] }, string>({ query: (project) => ({ url: path('public', project, 'form') }) }),
    reportState: build.query<ReportState, string>({ query: (token) => ({ url: path('public', 'reports', token) }), providesTags: ['Me'] }),
    answerReport: build.mutation<object, { token: string; text: string }>({
      query: ({ token, text }) => ({ url: path('public', 'reports', token, 'answers'), method: 'POST', body: { text } }),
      invalidatesTags: ['Me'],
    }),
    sendPublicReport: build.mutation<
      { token: string },
      { project: string; title: string; description: string; address: string; component: string | null }
    >({
      query: ({ project, ...body }) => ({ url: path('public', project, 'reports'), method: 'POST', body }),
    }),
    triage: build.query<TriagePage, { source?: string | undefined; limit: number }>({
      query: ({ source, limit }) => ({ url: `/triage?${new URLSearchParams({ limit: String(limit), ...(source && { source }) })}` }),
      providesTags: ['Triage'],
    }),
    decideMany: build.mutation<{ decided: number; refused: { key: string; why: string }[] }, DecideMany>({
      query: (body) => ({ url: '/triage/decisions', method: 'POST', body }),
      invalidatesTags: ['Triage', 'Items', 'LongItems', 'Item', 'Overview'],
    }),
    routing: build.query<RoutingRules, string>({ query: (project) => ({ url: path('projects', project, 'routing') }), providesTags: ['Routing'] }),
    setRouting: build.mutation<RoutingRules, { project: string; rule: object }>({
      query: ({ project, rule }) => ({ url: path('projects', project, 'routing'), method: 'PUT', body: rule }),
      invalidatesTags: ['Routing'],
    }),
    removeRouting: build.mutation<RoutingRules, { project: string; ruleId: string }>({
      query: ({ project, ruleId }) => ({ url: path('projects', project, 'routing', ruleId), method: 'DELETE' }),
      invalidatesTags: ['Routing'],
    }),
    setDuty: build.mutation<RoutingRules, { project: string; weekOn: string; personId: string | null }>({
      query: ({ project, ...body }) => ({ url: path('projects', project, 'duty'), method: 'PUT', body }),
      invalidatesTags: ['Routing', 'Overview'],
    }),
    views: build.query<{ rows: View[] }, string>({ query: (project) => ({ url: path('projects', project, 'views') }), providesTags: ['Views'] }),
    saveView: build.mutation<{ rows: View[] }, { project: string; view: SaveView }>({
      query: ({ project, view }) => ({ url: path('projects', project, 'views'), method: 'PUT', body: view }),
      invalidatesTags: ['Views'],
    }),
    removeView: build.mutation<{ rows: View[] }, { project: string; viewId: string }>({
      query: ({ project, viewId }) => ({ url: path('projects', project, 'views', viewId), method: 'DELETE' }),
      invalidatesTags: ['Views'],
    }),
    pinView: build.mutation<{ rows: View[] }, { project: string; viewId: string; isPinned: boolean }>({
      query: ({ project, viewId, isPinned }) => ({ url: path('projects', project, 'views', viewId, 'pin'), method: 'POST', body: { isPinned } }),
      invalidatesTags: ['Views'],
    }),
    import: build.query<Import, string>({ query: (importId) => ({ url: path('imports', importId) }), providesTags: ['Import'] }),
    runImport: build.mutation<Import, { importId: string; mapping: object; values: object; isTrial: boolean }>({
      query: ({ importId, ...body }) => ({ url: path('imports', importId, 'run'), method: 'POST', body }),
      invalidatesTags: ['Import'],
    }),
    cancelImport: build.mutation<Import, string>({
      query: (importId) => ({ url: path('imports', importId), method: 'DELETE' }),
      invalidatesTags: ['Import'],
    }),
    feedLinks: build.query<{ calendar: string; activity: string }, string>({
      query: (filter) => ({ url: `/feed-links?${new URLSearchParams({ filter })}` }),
    }),
    triageWeeks: build.query<TriageWeeks, { project: string; weeks: number }>({
      query: ({ project, weeks }) => ({ url: `${path('projects', project, 'triage-weeks')}?weeks=${weeks}` }),
      providesTags: ['Triage'],
    }),
    repositories: build.query<{ rows: Repository[] }, void>({ query: () => ({ url: '/repositories' }), providesTags: ['Code'] }),
    commits: build.query<Page<CommitSummary>, { cursor?: string }>({
      query: ({ cursor }) => ({ url: `/commits?limit=100${cursor ? `&cursor=${cursor}` : ''}` }),
      providesTags: ['Code'],
    }),
    commit: build.query<Commit, string>({ query: (id) => ({ url: path('commits', id) }), providesTags: ['Code'] }),
    commitDiff: build.query<{ diff: string; isCut: boolean }, string>({ query: (id) => ({ url: `${path('commits', id)}/diff` }) }),
    pullRequests: build.query<Page<PullRequest>, { state?: string }>({
      query: ({ state }) => ({ url: `/pull-requests?limit=60${state ? `&state=${state}` : ''}` }),
      providesTags: ['Code', 'Build'],
    }),
    pullRequest: build.query<PullRequestDetail, string>({ query: (id) => ({ url: path('pull-requests', id) }), providesTags: ['Code', 'Build'] }),
    pullRequestDiff: build.query<{ diff: string; isCut: boolean }, { id: string; headSha: string }>({
      query: ({ id }) => ({ url: `${path('pull-requests', id)}/diff` }),
    }),
    openPullRequest: build.mutation<{ number: number }, { repository: string; head: string }>({
      query: (body) => ({ url: '/pull-requests', method: 'POST', body }),
      invalidatesTags: ['Code'],
    }),
    merge: build.mutation<object, string>({
      query: (id) => ({ url: `${path('pull-requests', id)}/merge`, method: 'POST' }),
      invalidatesTags: ['Code'],
    }),
    builds: build.query<Page<Build>, { cursor?: string }>({
      query: ({ cursor }) => ({ url: `/builds?limit=100${cursor ? `&cursor=${cursor}` : ''}` }),
      providesTags: ['Build'],
    }),
    build: build.query<BuildDetail, string>({ query: (id) => ({ url: path('builds', id) }), providesTags: ['Build'] }),
    releases: build.query<ReleaseBoard, void>({ query: () => ({ url: '/releases' }), providesTags: ['Release'] }),
    release: build.query<Release, string>({ query: (id) => ({ url: path('releases', id) }), providesTags: ['Release'] }),
    deploy: build.mutation<ReleaseBoard, { service: string; release: string; environment: string }>({
      query: (body) => ({ url: '/deployments', method: 'POST', body }),
      invalidatesTags: ['Release', 'Overview'],
    }),
    approve: build.mutation<ReleaseBoard, string>({
      query: (id) => ({ url: `${path('deployments', id)}/approve`, method: 'POST' }),
      invalidatesTags: ['Release', 'Overview'],
    }),
    requirements: build.query<{ rows: Requirement[] }, void>({ query: () => ({ url: '/requirements' }), providesTags: ['Requirement'] }),
    requirement: build.query<RequirementDetail, string>({ query: (key) => ({ url: path('requirements', key) }), providesTags: ['Requirement'] }),
    writeRequirement: build.mutation<RequirementDetail, { key: string; title: string; text: string }>({
      query: ({ key, ...body }) => ({ url: path('requirements', key), method: 'PUT', body }),
      invalidatesTags: ['Requirement', 'Item', 'Thread'],
    }),
    thread: build.query<ThreadAnswer, string>({ query: (id) => ({ url: path('threads', id) }), providesTags: ['Thread'] }),
  }),
})

export const {
  useMeQuery,
  useSignInMutation,
  useSignUpMutation,
  useInvitedQuery,
  useCreateProjectMutation,
  useInviteMutation,
  useSignOutMutation,
  usePlacesQuery,
  useDeskQuery,
  useSearchQuery,
  useItemsInfiniteQuery,
  useBoardItemsQuery,
  useItemCountsQuery,
  useLazyFoundQuery,
  useOutlineQuery,
  useSetParentMutation,
  useItemQuery,
  useHistoryQuery,
  useCommentsQuery,
  useTimeQuery,
  useProposalsQuery,
  useLogItemMutation,
  useChangeItemMutation,
  useActMutation,
  useStartMutation,
  useUntieMutation,
  useTriageQuery,
  usePreviewCommentMutation,
  useEditCommentMutation,
  useCommentRevisionsQuery,
  useReactMutation,
  useAttachmentsQuery,
  useRemoveAttachmentMutation,
  useTakeTimeBackMutation,
  useTimeSumsQuery,
  useLookAlikesQuery,
  useInboxQuery,
  useReadNoticesMutation,
  useSnoozeMutation,
  useNoticeChoicesQuery,
  useChooseWayMutation,
  useHandQuery,
  useTakeInHandMutation,
  useChangeHandMutation,
  usePutDownMutation,
  useNoteQuery,
  useWriteNoteMutation,
  useReportStateQuery,
  useAnswerReportMutation,
  useDecideManyMutation,
  useRoutingQuery,
  useSetRoutingMutation,
  useRemoveRoutingMutation,
  useSetDutyMutation,
  useTriageWeeksQuery,
  useViewsQuery,
  useImportQuery,
  useRunImportMutation,
  useCancelImportMutation,
  useSaveViewMutation,
  useRemoveViewMutation,
  usePinViewMutation,
  useLazyFeedLinksQuery,
  useBulkMutation,
  useUndoBulkMutation,
  useUndoMutation,
  useSetupQuery,
  useChangeSetupMutation,
  useRemoveFromSetupMutation,
  usePublicFormQuery,
  useSendPublicReportMutation,
  useRepositoriesQuery,
  useCommitsQuery,
  useCommitQuery,
  useCommitDiffQuery,
  usePullRequestsQuery,
  usePullRequestQuery,
  usePullRequestDiffQuery,
  useOpenPullRequestMutation,
  useMergeMutation,
  useBuildsQuery,
  useBuildQuery,
  useReleasesQuery,
  useReleaseQuery,
  useDeployMutation,
  useApproveMutation,
  useRequirementsQuery,
  useRequirementQuery,
  useWriteRequirementMutation,
  useThreadQuery,
} = api
