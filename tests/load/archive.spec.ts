/**
 * An archive of 20,000 passes: how long it takes to write and to restore, and how much memory the server takes
 * meanwhile. The passes are the demo's, with their takes and assessments, many times over. The reference is gzip of the
 * same bytes.
 */
import { randomUUID } from 'node:crypto'
import { readdirSync, readFileSync } from 'node:fs'
import { gunzipSync, gzipSync } from 'node:zlib'
import pg from 'pg'
import { expect, test } from '@playwright/test'

test.setTimeout(900_000)
const PASSES = 20_000

/** Bytes that the server's process has in memory: now, and never more than. */
function memoryOf(port: string): { now: number; most: number } {
  const pid = readdirSync('/proc').find(name => {
    try {
      return (
        /^\d+$/.test(name) &&
        readFileSync(`/proc/${name}/cmdline`, 'utf8').includes('.output/server/index.mjs') &&
        readFileSync(`/proc/${name}/environ`, 'utf8').split('\0').includes(`NITRO_PORT=${port}`)
      )
    } catch {
      return false
    }
  })!
  const status = readFileSync(`/proc/${pid}/status`, 'utf8')
  const of = (field: string) => 1024 * Number(new RegExp(`${field}:\\s+(\\d+)`).exec(status)![1])
  return { now: of('VmRSS'), most: of('VmHWM') }
}

test('20,000 passes are written and restored', async ({ playwright, baseURL, request }) => {
  const port = new URL(baseURL!).port
  const newcomer = async () => {
    const api = await playwright.request.newContext({ baseURL, timeout: 600_000 })
    const name = `Years ${randomUUID().slice(0, 13)}`
    expect((await api.post('/api/accounts', { data: { name, password: 'a long enough password' } })).status()).toBe(201)
    return { api, name }
  }
  const bring = async (api: typeof request, file: Buffer) =>
    (await (await api.post('/api/archive', { data: file, headers: { 'content-type': 'application/gzip' } })).text())
      .trim()
      .split('\n')
      .at(-1)!
  const first = await newcomer()
  expect(await bring(first.api, await (await request.get('/api/archive')).body())).toContain('"restored"')
  const db = new pg.Client({ connectionString: process.env.DATABASE_URL })
  await db.connect()
  const {
    rows: [player],
  } = await db.query<{ id: string; kept: number }>('select id, passes_kept as kept from accounts where name = $1', [
    first.name,
  ])
  const { id: owner, kept } = player!
  for (let have = kept; have < PASSES;) {
    const more = Math.min(kept, PASSES - have)
    await db.query(
      `
      with from_some as (select p.*, gen_random_uuid() as new_id, gen_random_uuid() as new_take from passes p where owner_id = $1 and ordinal <= $2),
        taken as (insert into takes (id, owner_id, midi) select s.new_take, s.owner_id, t.midi from from_some s join takes t on t.id = s.take_id),
        passed as (insert into passes select (jsonb_populate_record(p, jsonb_build_object('id', s.new_id, 'take_id', s.new_take, 'ordinal', s.ordinal + $3::int, 'archive_id', null, 'started_at', s.started_at - make_interval(days => $3::int / 20)))).* from from_some s join passes p on p.id = s.id)
      insert into assessments (pass_id, owner_id, document) select s.new_id, s.owner_id, a.document from from_some s join assessments a on a.pass_id = s.id`,
      [owner, more, have],
    )
    have += more
  }
  await db.query('update accounts set passes_kept = $2 where id = $1', [owner, PASSES])
  await db.end()

  const before = memoryOf(port)
  let began = performance.now()
  const file = await (await first.api.get('/api/archive')).body()
  const writtenS = (performance.now() - began) / 1000
  const afterWriting = memoryOf(port)
  const bytes = gunzipSync(file)
  began = performance.now()
  gzipSync(bytes, { level: 6 })
  const gzipS = (performance.now() - began) / 1000
  const second = await newcomer()
  began = performance.now()
  const answer = JSON.parse(await bring(second.api, file)) as { restored: { passes: number } }
  const restoredS = (performance.now() - began) / 1000
  const afterRestoring = memoryOf(port)
  expect(answer.restored.passes).toBe(PASSES)
  const mb = (value: number) => Math.round(value / 1e6)
  process.stdout.write(
    `An archive of ${PASSES.toLocaleString('en-GB')} passes, ${mb(file.length)} MB packed and ${mb(bytes.length)} MB unpacked: written in ${writtenS.toFixed(1)} s (to reach: under 60 s; ${(writtenS / gzipS).toFixed(1)} times gzip of the same bytes), restored in ${restoredS.toFixed(1)} s (to reach: under 180 s; ${(restoredS / gzipS).toFixed(1)} times)\n`,
  )
  process.stdout.write(
    `Memory of the server's process: ${mb(before.now)} MB before, at most ${mb(afterWriting.most)} MB by the end of writing and ${mb(afterRestoring.most)} MB by the end of restoring (to reach: under 300 MB more)\n`,
  )
})
