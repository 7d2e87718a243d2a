import { writeReqif } from '@dystracer/core/requirements/reqif/write-reqif'
import { serveCalls } from '#platform/threads/serve-calls'
import type { ExchangeMethods, ReadResult } from './exchange.protocol.js'
import { readRequirementFile, UnreadableFile } from './read-file.js'

serveCalls(
  {
    read: (input: ExchangeMethods['read']['input']): ReadResult => {
      try {
        return { isRead: true, file: readRequirementFile(input) }
      } catch (error) {
        if (error instanceof UnreadableFile) return { isRead: false, why: error.message }
        throw error
      }
    },
    write: (input: ExchangeMethods['write']['input']): string => writeReqif(input),
  },
  () => {},
)
