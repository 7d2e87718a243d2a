import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { isSenderProven } from './mail-proof.js'

const proven = (results: string | string[], address = 'ines@emberwick.example', trustedHosts = ['mx.emberwick.example']) =>
  isSenderProven({ results: [results].flat(), address, trustedHosts })

describe('a sender is proven', () => {
  test.each([
    ['by DMARC', 'mx.emberwick.example; dmarc=pass header.from=emberwick.example'],
    ['by a signature of their own domain', 'mx.emberwick.example; dkim=pass header.d=emberwick.example header.s=s1'],
    ['by SPF of their own domain', 'mx.emberwick.example; spf=pass smtp.mailfrom=bounce@emberwick.example'],
    [
      'by one finding of several',
      'mx.emberwick.example 1; spf=fail smtp.mailfrom=x.example; dmarc=pass (p=reject) header.from=emberwick.example',
    ],
    ['whatever the case of letters', 'MX.Emberwick.Example; DMARC=Pass header.From=EMBERWICK.example'],
  ])('%s', (_how, field) => expect(proven(field)).toBe(true))
})

describe('a sender is not proven', () => {
  test.each([
    ['by a server that nobody trusts', 'mx.elsewhere.example; dmarc=pass header.from=emberwick.example'],
    ['by a finding that failed', 'mx.emberwick.example; dmarc=fail header.from=emberwick.example'],
    ['by a signature of another domain', 'mx.emberwick.example; dkim=pass header.d=newsletter.example'],
    ['by a longer domain', 'mx.emberwick.example; dkim=pass header.d=emberwick.example.evil.example'],
    ['by a domain below', 'mx.emberwick.example; dkim=pass header.d=free.emberwick.example'],
    ['by words in a comment', 'mx.emberwick.example; spf=fail (dmarc=pass header.from=emberwick.example)'],
    ['by words in quotes', 'mx.emberwick.example; spf=fail reason="x; dmarc=pass header.from=emberwick.example"'],
    ['by a method that proves no sender', 'mx.emberwick.example; auth=pass smtp.auth=ines@emberwick.example'],
    ['by nothing', 'mx.emberwick.example; none'],
  ])('%s', (_how, field) => expect(proven(field)).toBe(false))

  test('by a field that came with the mail: only the topmost of a trusted server counts', () =>
    expect(
      proven([
        'mx.emberwick.example; dmarc=fail header.from=emberwick.example',
        'mx.emberwick.example; dmarc=pass header.from=emberwick.example',
      ]),
    ).toBe(false))

  test('where no server is trusted, or the mail has no address', () => {
    const field = 'mx.emberwick.example; dmarc=pass header.from=emberwick.example'
    expect(proven(field, 'ines@emberwick.example', [])).toBe(false)
    expect(proven(field, '')).toBe(false)
  })

  test('by any text that names no trusted server first', () =>
    fc.assert(
      fc.property(fc.string(), (text) => {
        fc.pre(!text.trim().toLowerCase().startsWith('mx.emberwick.example'))
        expect(proven(`x${text}`)).toBe(false)
      }),
    ))
})
