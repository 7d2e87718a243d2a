import { afterAll, beforeAll, expect, test } from '@jest/globals'
import Database from 'better-sqlite3'
import type { Db } from './open.js'
import { preparedTexts, sql } from './statements.js'

let db: Db
beforeAll(() => {
  db = new Database(':memory:')
  db.exec('CREATE TABLE thing (thing_id TEXT PRIMARY KEY, space TEXT NOT NULL, size INTEGER) STRICT')
})
afterAll(() => {
  db.close()
})

const INSERT = 'INSERT INTO thing (thing_id, space, size) VALUES (@thingId, @space, @size)'
const LIST = 'SELECT thing_id, size FROM thing WHERE space = @space AND (@least IS NULL OR size >= @least) ORDER BY thing_id'

test('a statement takes what its text names and gives rows of the type asked for; it is prepared once', () => {
  sql(db, INSERT).run({ thingId: 'a', space: 'kiln', size: 1 })
  sql(db, INSERT).run({ thingId: 'b', space: 'kiln', size: null })
  expect(
    sql(db, LIST)
      .all<{ thing_id: string; size: number | null }>({ space: 'kiln', least: null })
      .map((row) => row.thing_id),
  ).toEqual(['a', 'b'])
  expect(sql(db, LIST).get<{ thing_id: string }>({ space: 'kiln', least: 1 })?.thing_id).toBe('a')
  expect([...sql(db, LIST).iterate({ space: 'elsewhere', least: null })]).toEqual([])
  expect(preparedTexts(db).toSorted()).toEqual([INSERT, LIST])
})

test('a misspelt, a forgotten and a wrongly typed bind do not compile', () => {
  // @ts-expect-error the text says thingId
  expect(() => sql(db, INSERT).run({ thingID: 'c', space: 'kiln', size: 1 })).toThrow('Missing named parameter')
  // @ts-expect-error size is missing
  expect(() => sql(db, INSERT).run({ thingId: 'c', space: 'kiln' })).toThrow('Missing named parameter')
  // @ts-expect-error SQLite has no booleans
  expect(() => sql(db, INSERT).run({ thingId: 'c', space: 'kiln', size: true })).toThrow('can only bind')
  // @ts-expect-error a value that may be missing is to be null
  expect(() => sql(db, LIST).all({ space: 'kiln', least: undefined as number | undefined })).not.toThrow()
})

test('of texts in many shapes those asked for last are kept, and one that was let go is prepared again', () => {
  for (let shape = 0; shape < 2500; shape++) sql(db, `SELECT ${shape} AS shape` as string).get({})
  expect(preparedTexts(db)).toHaveLength(1500)
  expect(preparedTexts(db)).not.toContain('SELECT 7 AS shape')
  expect(sql(db, 'SELECT 7 AS shape' as string).get({})).toEqual({ shape: 7 })
})
