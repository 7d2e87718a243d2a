import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { renderToStaticMarkup } from 'react-dom/server'
import { Redline } from './Redline'

describe('what changed between two texts', () => {
  const textOf = (html: string, tag: string) =>
    html
      .replaceAll(new RegExp(`<${tag}>[^]*?</${tag}>`, 'g'), '')
      .replaceAll(/<[^>]+>/g, '')
      .replaceAll('&lt;', '<')
      .replaceAll('&gt;', '>')
      .replaceAll('&quot;', '"')
      .replaceAll('&#x27;', "'")
      .replaceAll('&amp;', '&')

  test('holds both: without what was put in it is the old one, without what was taken out the new one', () => {
    const words = fc
      .array(fc.constantFrom('the', 'kiln', '3', '<b>', '&', ' ', '\n', 'door'), { maxLength: 14 })
      .map((list) => list.join(' '))
    fc.assert(
      fc.property(words, words, (before, after) => {
        const html = renderToStaticMarkup(<Redline before={before} after={after} />)
        expect(textOf(html, 'ins')).toBe(before)
        expect(textOf(html, 'del')).toBe(after)
      }),
    )
  })
})
