import { api, request, type Answer } from '#shared/lib/api'

/** Two states of a file by the hashes of their contents, and how they are read. */
export interface MeaningOf {
  repository: string
  form: 'json' | 'table'
  before: string
  after: string
}

const meaningApi = api.injectEndpoints({
  endpoints: (build) => ({
    // Contents are named by their hashes: what differs between two never changes.
    meaning: build.query<Answer<'readMeaning'>, MeaningOf>({
      query: ({ repository, ...query }) => request('readMeaning', { params: { repository }, query }),
    }),
  }),
})

export const { useMeaningQuery } = meaningApi
