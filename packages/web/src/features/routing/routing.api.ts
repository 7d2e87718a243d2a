import { api, request, type Answer, type Body } from '#shared/lib/api'

export const routingApi = api.injectEndpoints({
  endpoints: (build) => ({
    routing: build.query<Answer<'readRouting'>, string>({
      query: (project) => request('readRouting', { params: { project } }),
      providesTags: ['Routing'],
    }),
    setRouting: build.mutation<Answer<'setRoutingRule'>, { project: string; rule: Body<'setRoutingRule'> }>({
      query: ({ project, rule }) => request('setRoutingRule', { params: { project }, body: rule }),
      invalidatesTags: ['Routing'],
    }),
    removeRouting: build.mutation<Answer<'removeRoutingRule'>, { project: string; ruleId: string }>({
      query: (params) => request('removeRoutingRule', { params }),
      invalidatesTags: ['Routing'],
    }),
    setDuty: build.mutation<Answer<'setDuty'>, { project: string } & Body<'setDuty'>>({
      query: ({ project, ...body }) => request('setDuty', { params: { project }, body }),
      invalidatesTags: ['Routing', 'Overview'],
    }),
  }),
})

export const { useRoutingQuery, useSetRoutingMutation, useRemoveRoutingMutation, useSetDutyMutation } = routingApi
