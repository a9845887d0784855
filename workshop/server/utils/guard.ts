import { BlockList, isIP } from 'node:net'

/** What the workshop's server lets through, from its settings. */
export interface Guard {
  /** Hosts, with a port where it is not the scheme's own: `data.example.org`, `localhost:8080`. */
  readonly hosts: readonly string[]
  readonly mostBytes: number
  readonly mostMs: number
}

/** Read from the environment: `ROWS_HOSTS` (parted by commas), `ROWS_MOST_BYTES`, `ROWS_MOST_MS`. */
export function guardOf(env: Readonly<Record<string, string | undefined>>): Guard {
  const hosts = (env.ROWS_HOSTS ?? '')
    .split(',')
    .map(host => host.trim().toLowerCase())
    .filter(Boolean)
  return {
    hosts,
    mostBytes: Number(env.ROWS_MOST_BYTES) || 256 * 2 ** 20,
    mostMs: Number(env.ROWS_MOST_MS) || 30_000,
  }
}

export type AddressRead =
  { readonly ok: true; readonly url: URL } | { readonly ok: false; readonly problem: string }

/** An address that rows may be fetched from, or why they may not. */
export function checkAddress(address: string, guard: Guard): AddressRead {
  let url: URL
  try {
    url = new URL(address)
  } catch {
    return { ok: false, problem: `“${address}” is not an address. It begins with https:// and names a host.` }
  }
  if (url.protocol !== 'https:' && url.protocol !== 'http:')
    return { ok: false, problem: `Rows are fetched over http and https only, not over ${url.protocol}` }
  if (url.username || url.password)
    return { ok: false, problem: 'An address with a name and password in it is not fetched.' }
  if (!guard.hosts.includes(url.host.toLowerCase()))
    return {
      ok: false,
      problem: `The workshop’s server does not fetch from ${url.host}. Whoever runs it lists hosts in ROWS_HOSTS.`,
    }
  return { ok: true, url }
}

const PRIVATE = new BlockList()
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
  ['224.0.0.0', 3],
] as const)
  PRIVATE.addSubnet(net, bits, 'ipv4')
for (const [net, bits] of [
  ['::', 127],
  ['64:ff9b::', 96],
  ['fc00::', 7],
  ['fe80::', 10],
  ['ff00::', 8],
] as const)
  PRIVATE.addSubnet(net, bits, 'ipv6')

/** Whether an IP address is of this machine or its own network. IPv4 inside IPv6 is judged as IPv4. */
export function isPrivate(ip: string): boolean {
  const inner = /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(ip)?.[1]
  if (inner) return isPrivate(inner)
  const version = isIP(ip)
  return version === 0 || PRIVATE.check(ip, version === 6 ? 'ipv6' : 'ipv4')
}

/**
 * Whether a host may be at an address that its name led to. A name that was listed may not lead into the own network
 * behind the builder's back; an address or `localhost` that was listed as such may.
 */
export const mayBeAt = (url: URL, ip: string): boolean => {
  const name = url.hostname.replace(/^\[|\]$/g, '')
  return !isPrivate(ip) || isIP(name) !== 0 || name === 'localhost'
}
