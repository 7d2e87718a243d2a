import type { QueryIn } from '@dystracer/core/people/operation'
import { type exchangeOperations, REQUIREMENT_FORMATS, type RequirementFormat } from '@dystracer/core/requirements/exchange-wire'
import type { GapCode } from '@dystracer/core/requirements/gaps-wire'
import type { Requirement } from '@dystracer/core/requirements/wire'
import { api, request, type Answer, type Body } from '#shared/lib/api'

/** What may be said of how a file is to be understood. */
export type ImportWishes = Omit<QueryIn<typeof exchangeOperations.importRequirements>, 'format' | 'trial'>

/** What a file is by how its name ends; a table where that says nothing. */
export function formatOf(name: string): RequirementFormat {
  const ending = name.slice(name.lastIndexOf('.') + 1).toLowerCase()
  return REQUIREMENT_FORMATS.find((format) => format === ending) ?? (ending === 'xml' ? 'reqif' : ending === 'zip' ? 'reqifz' : 'csv')
}

export const requirementsApi = api.injectEndpoints({
  endpoints: (build) => ({
    requirements: build.query<Answer<'listRequirements'>, void>({
      query: () => request('listRequirements', {}),
      providesTags: ['Requirement'],
    }),
    requirement: build.query<Answer<'readRequirement'>, string>({
      query: (key) => request('readRequirement', { params: { key } }),
      providesTags: ['Requirement'],
    }),
    beginRequirement: build.mutation<Answer<'beginRequirement'>, { project: string } & Body<'beginRequirement'>>({
      query: ({ project, ...body }) => request('beginRequirement', { params: { project }, body }),
      invalidatesTags: ['Requirement', 'Overview'],
    }),
    splitRequirement: build.mutation<Answer<'splitRequirement'>, { key: string } & Body<'splitRequirement'>>({
      query: ({ key, ...body }) => request('splitRequirement', { params: { key }, body }),
      invalidatesTags: ['Requirement', 'Thread', 'Overview'],
    }),
    joinRequirement: build.mutation<Answer<'joinRequirement'>, { key: string } & Body<'joinRequirement'>>({
      query: ({ key, ...body }) => request('joinRequirement', { params: { key }, body }),
      invalidatesTags: ['Requirement', 'Thread', 'Overview'],
    }),
    importRequirements: build.mutation<Answer<'importRequirements'>, { project: string; file: File; trial: boolean } & ImportWishes>({
      query: ({ project, file, trial, ...wishes }) => ({
        ...request('importRequirements', { params: { project }, query: { format: formatOf(file.name), trial: String(trial), ...wishes } }),
        // A picked file is read by its browser when it is sent, and sent as what the path takes.
        body: file.slice(0, file.size, 'application/octet-stream'),
      }),
      invalidatesTags: (_, __, { trial }) => (trial ? [] : ['Requirement', 'Thread', 'Overview']),
    }),
    requirementAttributes: build.query<Answer<'listRequirementAttributes'>, string>({
      query: (project) => request('listRequirementAttributes', { params: { project } }),
      providesTags: ['Requirement'],
    }),
    defineAttributes: build.mutation<Answer<'defineRequirementAttributes'>, { project: string } & Body<'defineRequirementAttributes'>>({
      query: ({ project, ...body }) => request('defineRequirementAttributes', { params: { project }, body }),
      invalidatesTags: ['Requirement'],
    }),
    describeRequirement: build.mutation<Answer<'describeRequirement'>, { key: string } & Body<'describeRequirement'>>({
      query: ({ key, ...body }) => request('describeRequirement', { params: { key }, body }),
      invalidatesTags: ['Requirement'],
    }),
    relateRequirement: build.mutation<Answer<'relateRequirement'>, { key: string } & Body<'relateRequirement'>>({
      query: ({ key, ...body }) => request('relateRequirement', { params: { key }, body }),
      invalidatesTags: ['Requirement', 'Thread'],
    }),
    unrelateRequirement: build.mutation<Answer<'unrelateRequirement'>, { key: string; relationId: string }>({
      query: (params) => request('unrelateRequirement', { params }),
      invalidatesTags: ['Requirement', 'Thread'],
    }),
    acceptedWriting: build.query<Answer<'listAcceptedWriting'>, string>({
      query: (project) => request('listAcceptedWriting', { params: { project } }),
      providesTags: ['Requirement'],
    }),
    acceptWriting: build.mutation<Answer<'acceptWriting'>, { project: string } & Body<'acceptWriting'>>({
      query: ({ project, ...body }) => request('acceptWriting', { params: { project }, body }),
      invalidatesTags: ['Requirement'],
    }),
    addRequirementPicture: build.mutation<Answer<'addRequirementPicture'>, { project: string; file: File }>({
      query: ({ project, file }) => ({
        ...request('addRequirementPicture', { params: { project }, query: { path: file.name } }),
        body: file.slice(0, file.size, 'application/octet-stream'),
      }),
    }),
    writeRequirement: build.mutation<Answer<'writeRequirement'>, { key: string } & Body<'writeRequirement'>>({
      query: ({ key, ...body }) => request('writeRequirement', { params: { key }, body }),
      invalidatesTags: ['Requirement', 'Item', 'Thread'],
    }),
    confirmLinks: build.mutation<Answer<'confirmLinks'>, { key: string } & Body<'confirmLinks'>>({
      query: ({ key, ...body }) => request('confirmLinks', { params: { key }, body }),
      invalidatesTags: ['Requirement', 'Item', 'Items', 'Thread'],
    }),
    gaps: build.query<Answer<'listGaps'>, string>({
      query: (project) => request('listGaps', { params: { project } }),
      providesTags: ['Requirement', 'Items', 'Build'],
    }),
    agreeGap: build.mutation<Answer<'agreeGap'>, { project: string } & Body<'agreeGap'>>({
      query: ({ project, ...body }) => request('agreeGap', { params: { project }, body }),
      invalidatesTags: ['Requirement'],
    }),
    reopenGap: build.mutation<Answer<'reopenGap'>, { project: string; code: GapCode; id: string }>({
      query: ({ project, ...query }) => request('reopenGap', { params: { project }, query }),
      invalidatesTags: ['Requirement'],
    }),
    baselines: build.query<Answer<'listBaselines'>, string>({
      query: (project) => request('listBaselines', { params: { project } }),
      providesTags: ['Requirement'],
    }),
    makeBaseline: build.mutation<Answer<'makeBaseline'>, { project: string } & Body<'makeBaseline'>>({
      query: ({ project, ...body }) => request('makeBaseline', { params: { project }, body }),
      invalidatesTags: ['Requirement'],
    }),
    compareBaseline: build.query<Answer<'compareBaseline'>, { project: string; baselineId: string; with?: string }>({
      query: ({ with: other, ...params }) => request('compareBaseline', { params, query: { with: other } }),
      providesTags: ['Requirement'],
    }),
    agreeBaseline: build.mutation<Answer<'agreeBaseline'>, { project: string; baselineId: string }>({
      query: (params) => request('agreeBaseline', { params }),
      invalidatesTags: ['Requirement'],
    }),
    withdrawBaseline: build.mutation<Answer<'withdrawBaseline'>, { project: string; baselineId: string } & Body<'withdrawBaseline'>>({
      query: ({ project, baselineId, ...body }) => request('withdrawBaseline', { params: { project, baselineId }, body }),
      invalidatesTags: ['Requirement'],
    }),
    placeRequirement: build.mutation<Answer<'placeRequirement'>, { key: string } & Body<'placeRequirement'>>({
      query: ({ key, ...body }) => request('placeRequirement', { params: { key }, body }),
      invalidatesTags: ['Requirement'],
    }),
    retireRequirement: build.mutation<Answer<'retireRequirement'>, { key: string } & Body<'retireRequirement'>>({
      query: ({ key, ...body }) => request('retireRequirement', { params: { key }, body }),
      invalidatesTags: ['Requirement', 'Thread', 'Overview'],
    }),
    restoreRequirement: build.mutation<Answer<'restoreRequirement'>, string>({
      query: (key) => request('restoreRequirement', { params: { key } }),
      invalidatesTags: ['Requirement', 'Thread', 'Overview'],
    }),
  }),
})

/** Requirements as something to choose: what only gathers others, or holds no more, is not offered. */
export function requirementChoices(rows: readonly Requirement[] | undefined): { value: string; label: string }[] {
  return (rows ?? []).filter((row) => !row.isHeading && !row.isRetired).map((row) => ({ value: row.key, label: `${row.key} ${row.title}` }))
}

export const {
  useRequirementsQuery,
  useRequirementQuery,
  useWriteRequirementMutation,
  useConfirmLinksMutation,
  useGapsQuery,
  useBaselinesQuery,
  useMakeBaselineMutation,
  useCompareBaselineQuery,
  useAgreeBaselineMutation,
  useWithdrawBaselineMutation,
  useAgreeGapMutation,
  useReopenGapMutation,
  useBeginRequirementMutation,
  useSplitRequirementMutation,
  useJoinRequirementMutation,
  useImportRequirementsMutation,
  useRequirementAttributesQuery,
  useDefineAttributesMutation,
  useDescribeRequirementMutation,
  useRelateRequirementMutation,
  useUnrelateRequirementMutation,
  useAddRequirementPictureMutation,
  useAcceptedWritingQuery,
  useAcceptWritingMutation,
  usePlaceRequirementMutation,
  useRetireRequirementMutation,
  useRestoreRequirementMutation,
} = requirementsApi
