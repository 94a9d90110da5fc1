import { X509Certificate } from 'node:crypto'
import { once } from 'node:events'
import { mkdtempSync, rmSync, statSync } from 'node:fs'
import { createServer, get } from 'node:https'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, expect, test } from 'vitest'
// @ts-expect-error: scripts are plain JavaScript
import { certificatesFor as made } from './certificates.mjs'

interface Certificates {
  authority: string
  key: string
  cert: string
  fingerprint: string
}
const certificatesFor = made as (hosts: string[], folder: string, now?: Date) => Promise<Certificates>

let folder: string
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'half-step-house-'))
})
afterEach(() => rmSync(folder, { recursive: true }))

const HOSTS = ['192.168.7.20', 'piano-room.local', '127.0.0.1']

// RFC 5280, sections 4.2.1.9 (an authority says that it is one) and 4.2.1.6 (names and addresses of the server).
test("the server's certificate is by the house's authority and for its names and addresses; only the authority is one", async () => {
  const { authority, cert, fingerprint } = await certificatesFor(HOSTS, folder)
  const [its, ours] = [new X509Certificate(authority), new X509Certificate(cert)]
  expect(its.ca).toBe(true)
  expect(its.verify(its.publicKey)).toBe(true)
  expect(ours.ca).toBe(false)
  expect(ours.verify(its.publicKey)).toBe(true)
  expect(ours.checkIssued(its)).toBe(true)
  for (const host of HOSTS) expect(/^\d/.test(host) ? ours.checkIP(host) : ours.checkHost(host)).toBeDefined()
  expect(ours.checkIP('192.168.7.21')).toBeUndefined()
  expect(fingerprint).toMatch(/^([0-9A-F]{2}:){31}[0-9A-F]{2}$/)
  expect(statSync(join(folder, 'authority.key')).mode & 0o077).toBe(0)
})

// CA/Browser Forum, Baseline Requirements 6.3.2: at most 398 days.
test('no certificate of a server is good for longer than browsers take it', async () => {
  const { cert } = await certificatesFor(HOSTS, folder)
  const { validFrom, validTo } = new X509Certificate(cert)
  expect((Date.parse(validTo) - Date.parse(validFrom)) / 86_400_000).toBeLessThanOrEqual(398)
})

test('a tablet that has installed the authority trusts the server, and keeps trusting it when the addresses or the year have changed', async () => {
  const first = await certificatesFor(HOSTS, folder)
  const again = await certificatesFor(HOSTS, folder)
  expect(again).toEqual(first)
  const moved = await certificatesFor([...HOSTS, '192.168.7.33'], folder)
  expect(moved.authority).toBe(first.authority)
  expect(moved.cert).not.toBe(first.cert)
  const later = await certificatesFor(HOSTS, folder, new Date(Date.now() + 360 * 86_400_000))
  expect(later.authority).toBe(first.authority)
  expect(later.cert).not.toBe(moved.cert)

  const server = createServer({ key: moved.key, cert: moved.cert }, (_, response) => response.end('heard'))
  server.listen(0, '127.0.0.1')
  await once(server, 'listening')
  const url = `https://127.0.0.1:${(server.address() as AddressInfo).port}`
  const answer = async (options: { ca?: string }) =>
    await new Promise<string>((resolve, reject) => {
      get(url, { ...options, agent: false }, response =>
        response.on('data', (chunk: Buffer) => resolve(String(chunk))),
      ).on('error', reject)
    })
  try {
    await expect(answer({ ca: first.authority })).resolves.toBe('heard')
    await expect(answer({})).rejects.toThrow(/certificate/)
  } finally {
    server.close()
  }
})
