import { api, request, type Answer, type Body } from '#shared/lib/api'

/** What can be set up in a project: the operations that answer with all of its set-up. */
type SetupOperation =
  | 'defineType'
  | 'defineOwnField'
  | 'orderOwnFields'
  | 'setStageRule'
  | 'setPublicForm'
  | 'setMilestone'
  | 'colourLabel'
  | 'setLimit'
  | 'setComponent'
export type SetupChange = { [Name in SetupOperation]: { what: Name; body: Body<Name> } }[SetupOperation]
export type SetupThing = 'types' | 'fields' | 'milestones' | 'components'

export const setupApi = api.injectEndpoints({
  endpoints: (build) => ({
    setup: build.query<Answer<'readSetup'>, string>({
      query: (project) => request('readSetup', { params: { project } }),
      providesTags: ['Me'],
    }),
    changeSetup: build.mutation<Answer<'readSetup'>, SetupChange & { project: string }>({
      query: ({ project, what, body }) => request(what, { params: { project }, body } as never),
      invalidatesTags: ['Me'],
    }),
    removeFromSetup: build.mutation<Answer<'readSetup'>, { project: string; what: SetupThing; name: string }>({
      query: ({ project, what, name }) => {
        if (what === 'types') return request('removeType', { params: { project, type: name } })
        if (what === 'fields') return request('removeOwnField', { params: { project, fieldId: name } })
        if (what === 'components') return request('removeComponent', { params: { project, name } })
        return request('removeMilestone', { params: { project, name } })
      },
      invalidatesTags: ['Me'],
    }),
  }),
})

export const { useSetupQuery, useChangeSetupMutation, useRemoveFromSetupMutation } = setupApi
