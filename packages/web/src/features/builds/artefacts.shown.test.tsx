import { expect, test } from '@jest/globals'
import { show } from '#shared/test/shown'
import { Artefacts } from './Artefacts'

test('what a release was built into is listed with its package URL and its bill of materials; what is gone is struck out', async () => {
  const row = {
    purl: 'pkg:oci/kiln@1.2.0',
    name: 'kiln',
    version: '1.2.0',
    state: 'published',
    sbomUrl: 'https://files.example.org/k',
    atMs: 0,
  }
  const { findByText, getByText, getByRole, queryAllByRole } = show(<Artefacts release="kiln@1.2.0" />, {
    answers: {
      listArtefacts: ({ params }) => {
        expect(params.release).toBe('kiln@1.2.0')
        return { rows: [row, { ...row, purl: 'pkg:oci/old@1.2.0', name: 'old', state: 'deleted', sbomUrl: null }], total: 7 }
      },
    },
  })
  await findByText('pkg:oci/kiln@1.2.0')
  expect(getByRole('link', { name: 'what it is made of' }).getAttribute('rel')).toContain('noopener')
  expect(queryAllByRole('link')).toHaveLength(1)
  expect(getByText('old').className).toContain('line-through')
  getByText(/The newest 2 of 7/)
})

test('where nothing was told it says how it would be', async () => {
  const { findByText } = show(<Artefacts release="kiln@1.2.0" />, { answers: { listArtefacts: () => ({ rows: [], total: 0 }) } })
  await findByText(/by CDEvents of artefacts/)
})
