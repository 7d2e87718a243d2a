import { api, BY_CURSOR, request, type Answer, type Body } from '#shared/lib/api'

/** An incident by its project. */
interface Of {
  project: string
  number: string
}

export const incidentsApi = api.injectEndpoints({
  endpoints: (build) => ({
    incidents: build.infiniteQuery<Answer<'listIncidents'>, string, string | null>({
      infiniteQueryOptions: BY_CURSOR,
      query: ({ queryArg: project, pageParam }) =>
        request('listIncidents', { params: { project }, query: { limit: 60, ...(pageParam !== null && { cursor: pageParam }) } }),
      providesTags: ['Incident', 'Items'],
    }),
    incident: build.query<Answer<'readIncident'>, Of>({
      query: (params) => request('readIncident', { params }),
      providesTags: ['Incident', 'Items', 'Fault', 'Release', 'Code'],
    }),
    openIncident: build.mutation<Answer<'openIncident'>, { project: string } & Body<'openIncident'>>({
      query: ({ project, ...body }) => request('openIncident', { params: { project }, body }),
      invalidatesTags: ['Incident', 'Overview'],
    }),
    changeIncident: build.mutation<Answer<'changeIncident'>, Of & Body<'changeIncident'>>({
      query: ({ project, number, ...body }) => request('changeIncident', { params: { project, number }, body }),
      invalidatesTags: ['Incident'],
    }),
    noteIncident: build.mutation<Answer<'noteIncident'>, Of & Body<'noteIncident'>>({
      query: ({ project, number, ...body }) => request('noteIncident', { params: { project, number }, body }),
      invalidatesTags: ['Incident'],
    }),
    removeIncidentNote: build.mutation<Answer<'removeIncidentNote'>, Of & { note: string }>({
      query: (params) => request('removeIncidentNote', { params }),
      invalidatesTags: ['Incident'],
    }),
    endIncident: build.mutation<Answer<'endIncident'>, Of & Body<'endIncident'>>({
      query: ({ project, number, ...body }) => request('endIncident', { params: { project, number }, body }),
      invalidatesTags: ['Incident', 'Overview'],
    }),
    tieIncidentItem: build.mutation<Answer<'tieIncidentItem'>, Of & { key: string } & Body<'tieIncidentItem'>>({
      query: ({ project, number, key, ...body }) => request('tieIncidentItem', { params: { project, number, key }, body }),
      invalidatesTags: ['Incident'],
    }),
  }),
})

export const {
  useIncidentsInfiniteQuery,
  useIncidentQuery,
  useOpenIncidentMutation,
  useChangeIncidentMutation,
  useNoteIncidentMutation,
  useRemoveIncidentNoteMutation,
  useEndIncidentMutation,
  useTieIncidentItemMutation,
} = incidentsApi
