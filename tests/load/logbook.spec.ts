/**
 * The Logbook after five years of daily practice: 100,000 passes of the demo's player on thirty-three songs (each of the demo's eleven
 * times), put there with a fixed seed. Prints how long the server takes for each view and how long the page draws. The reference is the same answer for nothing: /api/health.
 */
import { expect, test } from '@playwright/test'
import pg from 'pg'

const PASSES = 100_000
const DAYS = 1826
const ROUNDS = 15

const median = (values: number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]!

test.beforeAll(async () => {
  const client = new pg.Client({ connectionString: process.env.DATABASE_URL })
  await client.connect()
  await client.query('select setseed(0.42)')
  // A song every eight weeks.
  await client.query(`
    with copied as (insert into songs (id, owner_id, title, composer) select gen_random_uuid(), s.owner_id, 'Study ' || n || ' ' || left(md5(s.title), 4), s.id::text from songs s join players on players.id = s.owner_id, generate_series(2, 11) n where is_demo returning id, owner_id, composer),
         arranged as (insert into arrangements (id, owner_id, song_id, version, bars, document, music_xml)
                      select gen_random_uuid(), c.owner_id, c.id, 1, a.bars, a.document, a.music_xml from copied c join songs s on s.id::text = c.composer join arrangements a on a.song_id = s.id and a.version = 1 returning id, owner_id, song_id, document ->> 'title' as title)
    insert into parts (owner_id, arrangement_id, place, name, from_n, from_d, to_n, to_d)
    select d.owner_id, d.id, p.place, p.name, p.from_n, p.from_d, p.to_n, p.to_d from arranged d join arrangements a on a.document ->> 'title' = d.title and a.version = 1 and a.owner_id = d.owner_id join parts p on p.arrangement_id = a.id`)
  // All share one take: what is measured reads none.
  const { rows: [take] } = await client.query(`insert into takes (owner_id, midi) select id, '\\x4d546864'::bytea from players where is_demo returning id, owner_id`)
  await client.query(`
    with part as (select p.*, a.song_id, row_number() over (order by a.song_id, p.place) - 1 as which, count(*) over () as parts, p.to_n::real / p.to_d - p.from_n::real / p.from_d as quarters
                  from parts p join arrangements a on a.id = p.arrangement_id where p.owner_id = $1),
         played as (select n, now() - make_interval(days => (${DAYS} - n * ${DAYS} / ${PASSES})::int, secs => (n % 55) * 40) as at, floor(random() * 1e9) as chance, random() as luck, random() as wobble from generate_series(1, ${PASSES}) n)
    insert into passes (id, owner_id, arrangement_id, part_id, part_name, from_n, from_d, to_n, to_d, take_id, hands, mode, strictness, bpm, started_at, length_ms, notes, "right", wrong, missed, extra,
      on_time_share, offset_ms, drift_percent, unsteadiness_ms, clean, score, sentence, notes_key, failed)
    select gen_random_uuid(), $1, part.arrangement_id, part.id, part.name, part.from_n, part.from_d, part.to_n, part.to_d, $2, (array['right', 'left', 'both'])[1 + chance::bigint % 3]::hands, 'steady', 'normal',
      50 + 45 * played.n::real / ${PASSES} + 6 * wobble, played.at, 12000 + 6000 * wobble, 20, 20 - (3 * (1 - luck))::int, (2 * (1 - luck))::int, (1 - luck)::int, 0,
      0.6 + 0.4 * luck, 10 * wobble, 1, 40 - 20 * played.n::real / ${PASSES} + 10 * wobble, luck > 0.45, 60 + 40 * luck, 'Bar 3, beat 1, right hand: one of the sentences that stand there.',
      'load ' || part.which || ' ' || (chance::bigint % 3), case when luck > 0.45 then '[]'::jsonb else jsonb_build_array(jsonb_build_object('n', part.from_n + (chance::bigint % 12) * part.from_d, 'd', part.from_d)) end
    from played join part on part.which = (played.n * part.parts / ${PASSES}) % part.parts`, [take.owner_id, take.id])
  await client.query('analyze passes')
  await client.end()
})

test('the server answers and the page draws', async ({ page, request }) => {
  const time = async (path: string) => {
    await request.get(path)
    const taken: number[] = []
    let bytes = 0
    for (let round = 0; round < ROUNDS; round++) {
      const began = performance.now()
      const answer = await request.get(path)
      bytes = (await answer.body()).length
      expect(answer.ok()).toBe(true)
      taken.push(performance.now() - began)
    }
    return { ms: median(taken), bytes }
  }
  const nothing = (await time('/api/health')).ms
  await page.goto('/songs')
  const songId = (await page.getByRole('link', { name: 'The Lantern Ferry' }).getAttribute('href'))!.split('/').at(-1)!
  const from = new Date(Date.now() - 182 * 86_400_000).toISOString()
  for (const [what, path] of [
    ['Logbook, half a year', `/api/logbook?from=${from}`], ['Logbook, five years', '/api/logbook'], ['Logbook, one song', `/api/logbook?song=${songId}`],
    ['its passes', '/api/passes?limit=40'], ['where a song fails', `/api/logbook/errors?song=${songId}`], ['Song', `/api/songs/${songId}`], ['Today', '/api/today'],
  ] as const) {
    const { ms, bytes } = await time(path)
    process.stdout.write(`${what}: ${ms.toFixed(0)} ms at the server with ${PASSES.toLocaleString('en-GB')} passes kept, ${Math.round(bytes / 1000)} kB (to reach: under 100 ms); ${(ms / nothing).toFixed(0)} times an empty answer (${nothing.toFixed(1)} ms)\n`)
  }
  for (const span of ['half a year', 'all']) {
    await page.goto('/logbook')
    await expect(page.locator('.js-plotly-plot .main-svg').first()).toBeVisible({ timeout: 30_000 })
    await page.waitForTimeout(500)
    const drawn = await page.evaluate(async (label) => {
      const select = [...document.querySelectorAll('select')].find(one => [...one.options].some(option => option.text === label))!
      const option = [...select.options].find(one => one.text === label)!
      const other = [...select.options].find(one => one.text !== label)!
      /** Until thirty frames in a row came on time. */
      const settle = async () => {
        let last = performance.now()
        for (let quiet = 0; quiet < 30;) {
          await new Promise(resolve => requestAnimationFrame(resolve))
          quiet = performance.now() - last < 25 ? quiet + 1 : 0
          last = performance.now()
        }
      }
      const choose = (one: HTMLOptionElement) => { select.value = one.value; select.dispatchEvent(new Event('change', { bubbles: true })) }
      choose(other)
      await settle()
      let blocked = 0
      const observer = new PerformanceObserver((list) => { for (const entry of list.getEntries()) blocked += entry.duration })
      observer.observe({ type: 'longtask' })
      choose(option)
      await new Promise(resolve => setTimeout(resolve, 400))
      await settle()
      observer.disconnect()
      return blocked
    }, span)
    process.stdout.write(`the Logbook's pictures of ${span}: ${drawn.toFixed(0)} ms of drawing (to reach: under 500 ms)\n`)
  }
  const began = performance.now()
  const csv = await request.get('/api/logbook/export?format=csv')
  const lines = (await csv.text()).trim().split('\n').length
  expect(lines).toBeGreaterThan(PASSES)
  process.stdout.write(`${lines.toLocaleString('en-GB')} lines of CSV: ${((performance.now() - began) / 1000).toFixed(1)} s\n`)
})
