import { describe, expect, test } from '@jest/globals'
import { isOpenNet } from '#platform/net/open-net'
import { makeReach } from './reach.js'

const names: Record<string, string[]> = {
  'code.example.org': ['203.0.113.7'],
  'metadata.example.org': ['169.254.169.254'],
  'mixed.example.org': ['203.0.113.7', '10.0.0.5'],
  'six.example.org': ['2001:db8::7'],
}
const reach = makeReach(['forge.inside', '10.1.2.3'], async (host) => {
  const found = names[host]
  if (!found) throw new Error('ENOTFOUND')
  return found.map((address) => ({ address, family: address.includes(':') ? 6 : 4 }))
})

describe('where git may be sent', () => {
  test('an address of the open net, held to what its name meant when it was checked, and following no redirect', async () => {
    expect((await reach('https://code.example.org/team/x.git')).settings).toEqual([
      '-c',
      'http.followRedirects=false',
      '-c',
      'http.curloptResolve=code.example.org:443:203.0.113.7',
    ])
    expect((await reach('http://code.example.org:8080/x.git')).settings.at(-1)).toBe(
      'http.curloptResolve=code.example.org:8080:203.0.113.7',
    )
    expect((await reach('https://six.example.org/x.git')).settings.at(-1)).toBe('http.curloptResolve=six.example.org:443:2001:db8::7')
  })

  test.each([
    ['http://127.0.0.1:4310/x.git', 'inside'],
    ['http://[::1]/x.git', 'inside'],
    ['http://[::ffff:10.0.0.5]/x.git', 'inside'],
    ['http://2130706433/x.git', 'inside'],
    ['http://0x7f.1/x.git', 'inside'],
    ['https://metadata.example.org/x.git', '169.254.169.254'],
    ['git://mixed.example.org/x.git', '10.0.0.5'],
    ['https://nowhere.example.org/x.git', 'no host'],
    ['git@mixed.example.org:team/x.git', '10.0.0.5'],
    ['ssh://git@127.0.0.1:22/x.git', 'inside'],
  ])('not %s', async (url, words) => {
    await expect(reach(url)).rejects.toThrow(words)
  })

  test('a host that the operator names, wherever it is, and a path', async () => {
    expect(await reach('http://forge.inside/x.git')).toEqual({ settings: ['-c', 'http.followRedirects=false'], ssh: [] })
    expect((await reach('git@forge.inside:x.git')).ssh).toEqual([])
    expect(await reach('file:///srv/git/x.git')).toEqual({ settings: [], ssh: [] })
  })

  test('ssh is held to the address as well, and to the host’s own key', async () => {
    const held = ['HostName=203.0.113.7', 'HostKeyAlias=code.example.org']
    expect((await reach('git@code.example.org:team/x.git')).ssh).toEqual(held)
    expect((await reach('ssh://git@code.example.org:2222/team/x.git')).ssh).toEqual(held)
  })

  test.each(['8.8.8.8', '203.0.113.7', '2001:db8::7', '::ffff:8.8.8.8'])('%s is the open net', (address) => {
    expect(isOpenNet(address)).toBe(true)
  })
})
