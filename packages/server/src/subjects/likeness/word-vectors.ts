import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { WordVectors } from '@dystracer/core/likeness/word-vectors'

const DATA = join(import.meta.dirname, '../../../data')

/** The word vectors that ship with the server (scripts/make-word-vectors.mjs made them); read once, about 4 MB. */
export function readWordVectors(): WordVectors {
  const bytes = readFileSync(join(DATA, 'word-vectors.bin'))
  return new WordVectors({
    words: readFileSync(join(DATA, 'words.txt'), 'utf8').split('\n'),
    data: new Int8Array(bytes.buffer, bytes.byteOffset, bytes.length),
  })
}
