import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { printXml, readXml } from '#text/xml-tree'
import { markdownToXhtml, xhtmlToMarkdown } from './rich-text.js'

const markdownOf = (xhtml: string) => xhtmlToMarkdown(readXml(`<v>${xhtml}</v>`))

describe('marked-up text', () => {
  test.each([
    ['<div>The lid\n  shall close.</div>', 'The lid shall close.'],
    ['<div><p>One.</p><p>Two.</p></div>', 'One.\n\nTwo.'],
    ['<x:div xmlns:x="http://www.w3.org/1999/xhtml">A <x:b>bold</x:b> <x:i>word</x:i></x:div>', 'A **bold** _word_'],
    ['<table><tr><th>a</th></tr><tr><td>1</td></tr></table>', '| a |\n| - |\n| 1 |'],
    ['<p>5 * 3 = 15, a_b, [x]</p>', '5 \\* 3 = 15, a_b, \\[x]'],
    ['<p>a<script>alert(1)</script></p>', 'a'],
    ['<object data="a.png" type="image/png">a curve</object>', '![a curve](a.png)'],
  ])('%s is %s', (xhtml, markdown) => {
    expect(markdownOf(xhtml)).toBe(markdown)
  })

  test('never holds markup that somebody wrote into Markdown', () => {
    expect(printXml(markdownToXhtml('a <script>x</script> **b**'))).toContain('a &lt;script&gt;x&lt;/script&gt; <strong>b</strong>')
  })

  test('comes back as it was: words, paragraphs, and what looks like markup', () => {
    const word = fc.stringMatching(/^[A-Za-z0-9.,;:*_[\]<>#|~&@+=(){}!?'"-]{1,8}$/)
    const paragraph = fc.array(word, { minLength: 1, maxLength: 6 }).map((words) => words.join(' '))
    fc.assert(
      fc.property(fc.array(paragraph, { minLength: 1, maxLength: 3 }), (paragraphs) => {
        const xhtml = readXml('<v><div/></v>')
        xhtml.children = paragraphs.map((text) => ({ name: 'p', attributes: {}, children: [text], line: 0 }))
        const markdown = xhtmlToMarkdown(xhtml)
        const again = markdownToXhtml(markdown)
        expect(xhtmlToMarkdown({ ...xhtml, children: [again] })).toBe(markdown)
        const said = again.children.flatMap((child) => (typeof child === 'string' ? [] : [wordsOf(child)])).filter((text) => text !== '')
        expect(said).toEqual(paragraphs)
      }),
      { examples: [[['a@-.A: A', '@']]] },
    )
  })
})

function wordsOf(node: { children: (object | string)[] }): string {
  return node.children.map((child) => (typeof child === 'string' ? child : wordsOf(child as { children: string[] }))).join('')
}
