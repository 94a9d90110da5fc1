/**
 * Years of daily practice for the demo's player, straight into the database: thirty-three songs (each of the demo's
 * eleven times, each in another key), one after the other, its parts and hands in turn, tempos that rise, the same
 * places failing more than others. Made up, from a fixed seed. The sums by day are not made: that is the server's work.
 */
import { randomUUID } from 'node:crypto'
import pg from 'pg'
import { eventOnsets } from '#core/coach/pass'
import { JUDGE_VERSION } from '#core/ear/assessment'
import type { Finding } from '#core/ear/finding'
import type { Arrangement, Hands } from '#core/music/arrangement'
import { notesKey } from '#core/parts/notes-key'
import { seededChance } from '#core/players/randomness'

const COPIES = 10
const BATCH = 5000
/** So many passes before the next part or hand has its turn. */
const VISIT = 6
const DAY_MS = 86_400_000
const WRONG: Finding = {
  kind: 'wrong-note',
  hand: 'right',
  bar: 3,
  beat: 1,
  count: 1,
  places: [{ hand: 'right', bar: 3, beat: 1 }],
  written: 'G4',
  instead: 'A4',
}

export async function practiseForYears(connectionString: string, passes: number, days: number): Promise<void> {
  const client = new pg.Client({ connectionString })
  await client.connect()
  try {
    await client.query(`
      with copied as (insert into songs (id, owner_id, title, composer) select gen_random_uuid(), s.owner_id, 'Study ' || n || ' ' || left(md5(s.title), 4), s.id::text from songs s join accounts on accounts.id = s.owner_id, generate_series(1, ${COPIES}) n where is_demo returning id, owner_id, composer, split_part(title, ' ', 2)::int as n),
           arranged as (insert into arrangements (id, owner_id, song_id, revision, bars, document, music_xml)
                        select gen_random_uuid(), c.owner_id, c.id, 1, a.bars, jsonb_set(a.document, '{notes}', (select jsonb_agg(note || jsonb_build_object('pitch', (note ->> 'pitch')::int + c.n)) from jsonb_array_elements(a.document -> 'notes') note)), a.music_xml
                        from copied c join songs s on s.id::text = c.composer join arrangements a on a.song_id = s.id and a.revision = 1 returning id, owner_id, document ->> 'title' as title)
      insert into parts (owner_id, arrangement_id, place, name, from_n, from_d, to_n, to_d)
      select d.owner_id, d.id, p.place, p.name, p.from_n, p.from_d, p.to_n, p.to_d from arranged d join arrangements a on a.document ->> 'title' = d.title and a.revision = 1 and a.owner_id = d.owner_id join parts p on p.arrangement_id = a.id`)
    await fill(client, passes, days)
    await client.query('analyze')
  } finally {
    await client.end()
  }
}

async function fill(client: pg.Client, count: number, days: number) {
  const { rows } = await client.query(
    `select p.*, a.document, a.song_id from parts p join arrangements a on a.id = p.arrangement_id join accounts on accounts.id = p.owner_id where is_demo order by a.song_id, p.place`,
  )
  const ownerId = rows[0].owner_id as string
  // All share one take: what is measured reads none.
  const {
    rows: [take],
  } = await client.query(`insert into takes (owner_id, midi) values ($1, '\\x4d546864') returning id`, [ownerId])
  const {
    rows: [player],
  } = await client.query(`select passes_kept from accounts where id = $1`, [ownerId])
  const chance = seededChance(42)
  const hands: Hands[] = ['right', 'left', 'both']
  const ranges = rows.flatMap(row =>
    hands.map(hand => {
      const stretch = { from: { n: row.from_n, d: row.from_d }, to: { n: row.to_n, d: row.to_d } }
      return {
        row,
        hand,
        key: notesKey(row.document as Arrangement, stretch, hand),
        moments: eventOnsets(row.document as Arrangement, stretch, hand),
      }
    }),
  )
  const songs = [...new Set(rows.map(row => row.song_id as string))].map(id =>
    ranges.filter(range => range.row.song_id === id),
  )
  const [now, perSong] = [Date.now(), Math.ceil(count / songs.length)]
  for (let from = 0; from < count; from += BATCH) {
    const batch = Array.from({ length: Math.min(BATCH, count - from) }, (_, place) => {
      const index = from + place
      const song = songs[Math.floor(index / perSong)]!
      const { row, hand, key, moments } = song[Math.floor(index / VISIT) % song.length]!
      const clean = chance.happens(0.55)
      const notes = moments.length
      const wrong = clean ? 0 : 1 + Math.floor(3 * chance.uniform())
      const day = Math.floor((index / count) * days)
      return {
        id: randomUUID(),
        ordinal: player.passes_kept + index + 1,
        owner_id: ownerId,
        arrangement_id: row.arrangement_id,
        part_id: row.id,
        part_name: row.name,
        from_n: row.from_n,
        from_d: row.from_d,
        to_n: row.to_n,
        to_d: row.to_d,
        take_id: take.id,
        hands: hand,
        mode: 'steady',
        strictness: 'normal',
        keyboard_delay_ms: 0,
        bpm: Math.round(50 + (45 * (index % perSong)) / perSong + 6 * chance.uniform()),
        started_at: new Date(now - (days - day) * DAY_MS + (index % 60) * 30_000),
        length_ms: 12_000 + Math.round(6000 * chance.uniform()),
        notes,
        right: Math.max(0, notes - wrong),
        wrong,
        missed: 0,
        extra: 0,
        on_time_share: 0.7 + 0.3 * chance.uniform(),
        offset_ms: 10 * chance.uniform(),
        drift_percent: 1,
        unsteadiness_ms: 40 - (20 * index) / count + 10 * chance.uniform(),
        clean,
        clean_but: [],
        own_spot: false,
        score: clean ? 95 : 70,
        ear: JUDGE_VERSION,
        found: [clean ? { kind: 'clean' } : WRONG],
        notes_key: key,
        failed: clean ? [] : [chance.happens(0.6) ? moments[Math.floor(moments.length / 3)] : chance.pick(moments)],
        remark: '',
        saved_at: new Date(now),
      }
    })
    await client.query(`insert into passes select * from jsonb_populate_recordset(null::passes, $1)`, [
      JSON.stringify(batch),
    ])
  }
  await client.query(`update accounts set passes_kept = passes_kept + $1 where id = $2`, [count, ownerId])
}
