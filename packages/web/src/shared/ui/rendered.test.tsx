import '#shared/test/browser-globals'
import { describe, expect, test } from '@jest/globals'
import { STAGES } from '@dystracer/core/ladder/ladder'
import fc from 'fast-check'
import { renderToStaticMarkup } from 'react-dom/server'
import { Choose, Field, TextInput } from './fields'
import { MarkdownRendered } from './MarkdownRendered'
import { Initials, Severity } from './parts'
import { Stair } from './Stair'

/** As it stands in the page; on a server React would have a browser fetch the images early, by links that no page here has. */
const rendered = (text: string) =>
  renderToStaticMarkup(<MarkdownRendered text={text} />).replaceAll(/<link rel="preload" as="image"[^>]*>/g, '')
/** Markup without what stands in quotes, but for addresses: there a hostile text is just text. */
const withoutTexts = (html: string) => html.replaceAll(/\s((?!href|src)[\w-]+)="[^"]*"/g, ' $1=""')
/** What runs, loads or looks like the page itself, as it would stand in the markup of an element. */
const HOSTILE = new RegExp(
  String.raw`<(?:script|iframe|object|embed|form|style|link|meta|svg|base|textarea|button)\b|<[^>]+\s(?:on\w+|style|srcdoc|` +
    String.raw`formaction)\s*=|<[^>]+\s(?:href|src)\s*=\s*["']?\s*(?:javascript|data|vbscript|file):`,
  'i',
)

describe('Markdown', () => {
  test('is shown with its structure', () => {
    const html = rendered(
      '# Steps\n\n1. open *the* door\n2. `wait`\n\n| a | b |\n|---|---|\n| 1 | 2 |\n\n- [x] done\n\n' +
        '~~no~~ <https://emberwick.example/a?b=c>',
    )
    for (const piece of [
      '<h1',
      '<ol>',
      '<em>the</em>',
      '<code>wait</code>',
      '<table>',
      'type="checkbox"',
      '<del>no</del>',
      'href="https://emberwick.example/a?b=c"',
    ])
      expect(html).toContain(piece)
  })

  test('shows a picture that is kept for texts of a project, and takes no other path for one', () => {
    expect(rendered('![panel](pictures/EMB/0193-ab)')).toContain('src="/api/v1/projects/EMB/pictures/0193-ab"')
    for (const path of ['pictures/EMB/../../me', 'pictures/emb/x', 'pictures/EMB/x?y', 'pictures/EMB/x/y'])
      expect(rendered(`![panel](${path})`)).not.toContain('/api/v1')
  })

  test('colours code that says its language', () => {
    expect(rendered('```js\nconst kiln = 1\n```')).toContain('hljs-keyword')
    expect(rendered('```\nconst kiln = 1\n```')).not.toContain('hljs-keyword')
  })

  test.each([
    '<script>alert(1)</script>',
    '<img src=x onerror=alert(1)>',
    '<svg/onload=alert(1)>',
    '<iframe src="javascript:alert(1)"></iframe>',
    '[press](javascript:alert(1))',
    '[press](JaVaScRiPt:alert(1))',
    '[press](java\nscript:alert(1))',
    '[press](&#106;avascript:alert(1))',
    '[press](data:text/html;base64,PHNjcmlwdD4=)',
    '![x](javascript:alert(1))',
    '![x](data:image/svg+xml;base64,PHN2Zz4=)',
    '<a href="vbscript:x">press</a>',
    '[a]: javascript:alert(1)\n\n[a]',
    '<javascript:alert(1)>',
    '<form action="/api/v1/items"><button>Log in</button></form>',
    '```"><script>alert(1)</script>\nx\n```',
    '| <img src=x onerror=alert(1)> |\n|---|\n| x |',
    '[x](https://a.example "\\" onmouseover=\\"alert(1)")',
    '<style>*{display:none}</style>',
    '<base href="https://elsewhere.example">',
  ])('runs and loads nothing: %j', (text) => {
    expect(withoutTexts(rendered(text))).not.toMatch(HOSTILE)
  })

  test('runs and loads nothing, however its pieces are put together', () => {
    const piece = fc.constantFrom(
      '<',
      '>',
      '"',
      "'",
      '`',
      '\n',
      ' ',
      '(',
      ')',
      '[',
      ']',
      '!',
      '&#x6A;',
      'javascript:',
      'data:text/html,',
      '<script>',
      '</script>',
      '<img src=x onerror=',
      'onload=',
      '<svg',
      '<a href=',
      '](',
      '![',
      '```',
      '| ',
      '\\',
      '<!--',
      '-->',
      '\u0000',
      '\u202E',
      'a',
    )
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 24 }), (pieces) => {
        expect(withoutTexts(rendered(pieces.join('')))).not.toMatch(HOSTILE)
      }),
      { numRuns: 400 },
    )
  })

  test('takes hostile nesting in its stride', () => {
    for (const text of ['> '.repeat(400), '*'.repeat(3000), '['.repeat(3000), '- '.repeat(400), '`'.repeat(3001), '<'.repeat(5000)])
      expect(withoutTexts(rendered(text))).not.toMatch(HOSTILE)
  })
})

describe('the stair', () => {
  const labelOf = (html: string) => /aria-label="([^"]*)"/.exec(html)?.[1]

  test('names the stage that was reached, and what it is to be read with', () => {
    expect(labelOf(renderToStaticMarkup(<Stair stair="pwwwwww" />))).toBe('logged')
    expect(labelOf(renderToStaticMarkup(<Stair stair="ppppwww" />))).toBe('in review')
    expect(labelOf(renderToStaticMarkup(<Stair stair="pppppww" isRejected />))).toBe('rejected')
    expect(labelOf(renderToStaticMarkup(<Stair stair="ppppppp" hasComeBack />))).toBe('verified, came back')
  })

  test('has seven treads for anything that can stand in it', () => {
    fc.assert(
      fc.property(fc.stringMatching(/^[a-z]{7}$/), (stair) => {
        const html = renderToStaticMarkup(<Stair stair={stair} />)
        expect(html.match(/stroke-width="(?:1|1\.5|2\.6)"/g)?.length ?? 0).toBeGreaterThanOrEqual(STAGES.length)
        expect(labelOf(html)).toBeTruthy()
        expect(html).not.toContain('undefined')
      }),
    )
  })
})

describe('parts', () => {
  test('a severity is named, none as well', () => {
    expect(renderToStaticMarkup(<Severity value={2} />)).toContain('aria-label="severity 2"')
    expect(renderToStaticMarkup(<Severity value={null} />)).toContain('aria-label="no severity yet"')
  })

  test('a person’s name stands behind the initials', () => {
    expect(renderToStaticMarkup(<Initials text="ML" name="Mara Lindqvist" />)).toMatch(/title="Mara Lindqvist".*>ML</)
  })

  test('a field carries its label and what is wrong with it', () => {
    const html = renderToStaticMarkup(
      <Field label="Title" error="A title is needed">
        <TextInput defaultValue="x" />
      </Field>,
    )
    expect(html).toMatch(/^<label.*Title.*<input.*role="alert".*A title is needed.*<\/label>$/)
  })

  test('“none” is the first choice where there is one', () => {
    const choices = [{ value: 'a', label: 'A' }]
    expect(renderToStaticMarkup(<Choose none="nobody" choices={choices} />)).toMatch(
      /<option value="">nobody<\/option><option value="a">A</,
    )
    expect(renderToStaticMarkup(<Choose choices={choices} />)).not.toContain('value=""')
  })
})
