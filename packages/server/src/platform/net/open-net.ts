import { BlockList, isIP } from 'node:net'

/** Everything that is not the open net: this machine, its neighbours, and what clouds tell a machine about itself (RFC 6890). */
const INSIDE = new BlockList()
for (const [net, bits] of [
  ['0.0.0.0', 8],
  ['10.0.0.0', 8],
  ['100.64.0.0', 10],
  ['127.0.0.0', 8],
  ['169.254.0.0', 16],
  ['172.16.0.0', 12],
  ['192.0.0.0', 24],
  ['192.168.0.0', 16],
  ['198.18.0.0', 15],
  ['224.0.0.0', 4],
  ['240.0.0.0', 4],
] as const)
  INSIDE.addSubnet(net, bits, 'ipv4')
for (const [net, bits] of [
  ['::', 127],
  ['64:ff9b::', 96],
  ['fc00::', 7],
  ['fe80::', 10],
  ['ff00::', 8],
] as const)
  INSIDE.addSubnet(net, bits, 'ipv6')

/** Whether an IP address is of the open net. */
export function isOpenNet(address: string): boolean {
  const mapped = /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(address)?.[1]
  const plain = mapped ?? address
  return !INSIDE.check(plain, isIP(plain) === 6 ? 'ipv6' : 'ipv4')
}
