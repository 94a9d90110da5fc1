/**
 * `npm start`: one person at this machine needs no password, two sign in; and a tablet in the house over TLS, with the
 * house's own certificate.
 */
import { spawn, type ChildProcess } from 'node:child_process'
import { createHash, X509Certificate } from 'node:crypto'
import { chmodSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs'
import { once } from 'node:events'
import { createServer, type AddressInfo } from 'node:net'
import { request as httpsRequest } from 'node:https'
import { networkInterfaces, tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, expect, test } from '@playwright/test'
// @ts-expect-error: scripts are plain JavaScript
import { freePort as anyPort } from '../../scripts/postgres.mjs'

const freePort = anyPort as (wanted?: number, inARow?: number) => Promise<number>
const ROOT = join(import.meta.dirname, '../..')
test.use({ serviceWorkers: 'allow' })
test.setTimeout(120_000)

interface Started {
  url: string
  said: () => string
  stop: () => Promise<void>
  seconds: number
}
/** Starts the program as somebody would, and waits until it says that it is ready. */
async function start(...args: string[]): Promise<Started> {
  const began = Date.now()
  let said = ''
  const child: ChildProcess = spawn(process.execPath, ['scripts/start.mjs', ...args], {
    cwd: ROOT,
    env: { ...process.env, DATABASE_URL: '', HALF_STEP_DEMO: '', PORT: '' },
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  for (const stream of [child.stdout!, child.stderr!])
    stream.on('data', (chunk: Buffer) => {
      said += String(chunk)
    })
  const ended = new Promise<void>(resolve => child.on('exit', () => resolve()))
  await expect.poll(() => said, { timeout: 200_000 }).toMatch(/is ready: http/)
  return {
    url: /is ready: (http:\S+)/.exec(said)![1]!,
    said: () => said,
    seconds: (Date.now() - began) / 1000,
    stop: async () => {
      child.kill('SIGTERM')
      await ended
    },
  }
}

/** How it ends, and what it says, where it cannot start. */
async function refusal(...args: string[]): Promise<[code: unknown, said: string]> {
  const child = spawn(process.execPath, ['scripts/start.mjs', ...args], {
    cwd: ROOT,
    env: { ...process.env, DATABASE_URL: '' },
    stdio: ['ignore', 'ignore', 'pipe'],
  })
  let said = ''
  child.stderr.on('data', (chunk: Buffer) => {
    said += String(chunk)
  })
  return [await new Promise(resolve => child.on('exit', resolve)), said]
}

let data: string
test.beforeEach(() => {
  data = mkdtempSync(join(tmpdir(), 'half-step-own-'))
  // Started by root the database runs as another account.
  chmodSync(data, 0o755)
})
test.afterEach(() => rmSync(data, { recursive: true, force: true }))

test('one person gives a name and needs no password; it is kept; with a password, and with a second account, everybody signs in', async ({
  browser,
}) => {
  const port = String(await freePort())
  const first = await start('--data', data, '--port', port, '--no-archives')
  let url = first.url
  try {
    const page = await (await browser.newContext({ baseURL: url })).newPage()
    await page.goto('/')
    await page.getByLabel('Name').fill('Noor')
    await page.getByRole('button', { name: 'Begin' }).click()
    await expect(page.getByRole('heading', { name: 'Your keyboard' })).toBeVisible()
    await page.goto('/songs')
    await expect(page.getByText('No songs yet')).toBeVisible()
    // Nobody is let in who comes from elsewhere, or says so; nor is an account made from there, nor one beside somebody
    // without a password.
    for (const headers of [{ 'x-forwarded-for': '192.168.7.9' }, { host: 'piano.example' }] as Record<
      string,
      string
    >[]) {
      expect(
        (await fetch(`${url}/api/songs`, { headers: { ...headers, 'x-forwarded-for': '192.168.7.9' } })).status,
      ).toBe(401)
    }
    expect(
      (
        await fetch(`${url}/api/accounts`, {
          method: 'POST',
          headers: { 'content-type': 'application/json', 'x-forwarded-for': '192.168.7.9' },
          body: JSON.stringify({ name: 'Far away', password: 'a long enough password' }),
        })
      ).status,
    ).toBe(403)
    const beside = await fetch(`${url}/api/accounts`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name: 'Beside', password: 'a long enough password' }),
    })
    expect([beside.status, await beside.text()]).toEqual([403, expect.stringContaining('Noor has no password yet')])
    // A browser that was never here is let in all the same.
    expect((await fetch(`${url}/api/songs`)).status).toBe(200)
  } finally {
    await first.stop()
  }

  const again = await start('--data', data, '--port', port, '--no-archives')
  url = again.url
  try {
    const page = await (await browser.newContext({ baseURL: url })).newPage()
    await page.goto('/account')
    await expect(page.getByRole('textbox', { name: 'Name' })).toHaveValue('Noor')
    await page.getByRole('textbox', { name: 'Password' }).fill('ten thousand cranes')
    await page.getByRole('button', { name: 'Set password' }).click()
    await expect(page.getByText('Saved. Every other device is signed out.')).toBeVisible()
    expect((await fetch(`${url}/api/songs`)).status).toBe(401)
    await page.getByRole('button', { name: 'Sign out and make another account' }).click()
    await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible()
    await page.getByRole('button', { name: 'Create an account' }).click()
    await page.getByLabel('Name').fill('Second')
    await page.getByLabel('Password').fill('ten thousand herons')
    await page.getByRole('button', { name: 'Create account' }).click()
    await expect(page.getByRole('heading', { name: 'Your keyboard' })).toBeVisible()
  } finally {
    await again.stop()
  }
})

test('an archive of every player is written each day, and the newest are kept', async () => {
  const first = await start('--data', data, '--port', String(await freePort()), '--keep', '2')
  try {
    expect(
      (
        await fetch(`${first.url}/api/accounts`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ name: 'Daily' }),
        })
      ).status,
    ).toBe(201)
    await expect
      .poll(() => (existsSync(join(data, 'archives')) ? readdirSync(join(data, 'archives')).join() : ''), {
        timeout: 60_000,
      })
      .toMatch(/^Daily [\da-f]{8} \d{4}-\d\d-\d\d\.half-step\.tar\.gz$/)
  } finally {
    await first.stop()
  }
})

const isOnANetwork = Object.values(networkInterfaces())
  .flat()
  .some(one => one!.family === 'IPv4' && !one!.internal)

test("--lan: a tablet that has the house's certificate is served over TLS, signs in, and has MIDI and a service worker", async () => {
  if (!isOnANetwork) {
    // Where nobody could come from there is nothing to serve, and that is said.
    expect(await refusal('--data', data, '--lan')).toEqual([
      1,
      expect.stringContaining('--lan: this computer has no address in a network'),
    ])
    return
  }
  // The page that offers the certificate has the next one.
  const lanPort = await freePort(undefined, 2)
  const program = await start(
    '--data',
    data,
    '--port',
    String(await freePort()),
    '--lan',
    '--lan-port',
    String(lanPort),
    '--no-archives',
  )
  try {
    const welcomeAt = /open (http:\S+) there once/.exec(program.said())![1]!
    const pageAt = /the program is at (https:\S+)/.exec(program.said())![1]!
    const fingerprint = /fingerprint \(SHA-256\): (\S+)/.exec(program.said())![1]!
    const welcome = await (await fetch(welcomeAt)).text()
    expect(welcome).toContain(fingerprint)
    expect(welcome).toContain(pageAt)
    const authority = await (await fetch(new URL('/half-step-at-home.crt', welcomeAt))).text()
    expect(new X509Certificate(authority).fingerprint256).toBe(fingerprint)
    expect(authority).toBe(readFileSync(join(data, 'certificates', 'authority.crt'), 'utf8'))

    // With the authority's certificate the connection is trusted, and without it refused.
    const status = async (options: object) =>
      await new Promise<number>((resolve, reject) => {
        httpsRequest(new URL('/api/songs', pageAt), { agent: false, ...options }, answer =>
          resolve(answer.resume().statusCode!),
        )
          .on('error', reject)
          .end()
      })
    expect(await status({ ca: authority })).toBe(401)
    await expect(status({})).rejects.toThrow(/certificate/)
    // Somebody on the network is nobody at this machine, whatever they say.
    expect(await status({ ca: authority, headers: { host: '127.0.0.1', 'x-forwarded-for': '127.0.0.1' } })).toBe(401)

    expect(
      (
        await fetch(`${program.url}/api/accounts`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ name: 'Tab', password: 'ten thousand cranes' }),
        })
      ).status,
    ).toBe(201)
    // A browser that has installed the authority takes this server's key for trusted.
    const key = new X509Certificate(readFileSync(join(data, 'certificates', 'server.crt'), 'utf8')).publicKey.export({
      type: 'spki',
      format: 'der',
    })
    const profile = mkdtempSync(join(tmpdir(), 'half-step-tablet-'))
    const tablet = await chromium.launchPersistentContext(profile, {
      executablePath: '/usr/bin/chromium-headless-shell',
      baseURL: pageAt,
      viewport: { width: 820, height: 1180 },
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        `--ignore-certificate-errors-spki-list=${createHash('sha256').update(key).digest('base64')}`,
      ],
    })
    try {
      const page = await tablet.newPage()
      await page.goto('/')
      await page.getByLabel('Name').fill('Tab')
      await page.getByLabel('Password').fill('ten thousand cranes')
      await page.getByRole('button', { name: 'Sign in' }).click()
      await expect(page.getByRole('heading', { name: 'Today', exact: true })).toBeVisible()
      expect(await page.evaluate(() => isSecureContext && 'requestMIDIAccess' in navigator)).toBe(true)
      const [cookie] = await tablet.cookies()
      expect(cookie).toMatchObject({ secure: true, httpOnly: true })
      await page.evaluate(async () => {
        await navigator.serviceWorker.ready
      })
    } finally {
      await tablet.close()
      rmSync(profile, { recursive: true, force: true })
    }
  } finally {
    await program.stop()
  }
})

test('a port for the house that another program has ends it, and no server is left behind', async () => {
  test.setTimeout(60_000)
  const other = createServer().listen(await freePort(), '0.0.0.0')
  await once(other, 'listening')
  const port = await freePort()
  try {
    const [code, said] = await refusal(
      '--data',
      data,
      '--port',
      String(port),
      '--lan',
      '--lan-port',
      String((other.address() as AddressInfo).port),
      '--no-archives',
    )
    expect([code, said]).toEqual([
      1,
      expect.stringMatching(isOnANetwork ? /cannot be used \(another program has it\)/ : /no address in a network/),
    ])
    await expect
      .poll(
        async () =>
          await fetch(`http://127.0.0.1:${port}/api/health`).then(
            () => 'there',
            () => 'gone',
          ),
        { timeout: 15_000 },
      )
      .toBe('gone')
  } finally {
    other.close()
  }
})

test('flags that are not known, or make no sense, end it with what there is', async () => {
  for (const [args, words] of [
    [['--prot', '3'], /knows --port VALUE/],
    [['--port', 'many'], /--port: a number/],
    [['--lan-port', '65535'], /--lan-port: a number from 1 to 65534/],
    [['--keep', '0'], /--keep: a number/],
  ] as const) {
    expect(await refusal(...args)).toEqual([1, expect.stringMatching(words)])
  }
})
