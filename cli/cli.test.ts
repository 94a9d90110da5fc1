import { spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Midi } from '@tonejs/midi'
import { afterAll, describe, expect, it, vi } from 'vitest'
import { exitOf, runCommand } from './half-step'
import { attributes, backup, partsScore, pianoScore, quarterNotes } from '../tests/material/score'

const ROOT = join(import.meta.dirname, '..')
const FERRY = join(ROOT, 'demo/lantern-ferry.musicxml')
const folder = mkdtempSync(join(tmpdir(), 'half-step-cli-'))
afterAll(() => rmSync(folder, { recursive: true }))
const at = (name: string) => join(folder, name)

/** The fields the tests look at one by one. */
interface Answer {
  mode?: string
  warnings?: string[]
  notes: { outcome: string }[]
  chords: unknown[]
  lyrics: unknown[]
  findings: unknown[]
  score: { bpm: number }
  summary: { notes: number; right: number }
}

/** Runs a command in this process, as `bin/half-step` does in one of its own. */
function halfStep(...args: string[]) {
  let stdout = ''
  const write = vi.spyOn(process.stdout, 'write').mockImplementation(text => {
    stdout += String(text)
    return true
  })
  const answer = (status: number, stderr = '') => ({
    status,
    stdout,
    stderr,
    json: () => JSON.parse(stdout) as Answer,
  })
  try {
    expect(runCommand(args)).toBeUndefined()
    return answer(0)
  } catch (error) {
    const { code, said } = exitOf(error)
    return answer(code, said)
  } finally {
    write.mockRestore()
  }
}

it('is a program of its own: what it says, how it ends, and a pipe that is closed early', () => {
  const run = (...args: string[]) => spawnSync(join(ROOT, 'bin/half-step'), args, { encoding: 'utf8' })
  const shown = run('inspect', FERRY)
  expect([shown.status, shown.stdout]).toEqual([0, halfStep('inspect', FERRY).stdout])
  expect(run('frobnicate')).toMatchObject({ status: 2, stdout: '', stderr: halfStep('frobnicate').stderr })
  const [program, score] = [join(ROOT, 'bin/half-step'), FERRY]
  const piped = spawnSync('bash', ['-o', 'pipefail', '-c', '"$0" inspect "$1" | head -c 10', program, score])
  expect([piped.status, piped.stderr.toString()]).toEqual([0, ''])
})

describe('half-step', () => {
  it('inspect shows the documented fields', () => {
    const shown = halfStep('inspect', FERRY)
    expect(shown.status).toBe(0)
    const score = shown.json()
    expect(score).toMatchObject({
      title: 'The Lantern Ferry',
      meters: [{ bar: 0, beats: 4, beatType: 4 }],
      keys: [{ fifths: 1 }],
      tempos: [{ quarterBpm: 96 }],
      warnings: [],
    })
    expect(score.notes[0]).toMatchObject({
      hand: 'right',
      bar: 0,
      beat: 4,
      onsetQuarter: 0,
      durationQuarter: 1,
      pitch: 62,
      spelled: 'D4',
      finger: 1,
    })
    expect(score.chords[1]).toMatchObject({
      bar: 2,
      beat: 1,
      symbol: 'D/F#',
      inversion: 1,
      bass: 'F#',
      notes: ['D', 'F#', 'A'],
    })
    expect(score.lyrics[0]).toMatchObject({ text: 'The' })
  })

  it('simulate and assess agree about what was done on purpose, and give the same bytes again', () => {
    const args = [
      'simulate',
      FERRY,
      '--bpm',
      '80',
      '--seed',
      '5',
      '--bars',
      '1-8',
      '--hands',
      'right',
      '--jitter',
      '15',
      '--wrong',
      '0.1',
      '--hesitate',
      '5:1:380',
    ]
    expect(halfStep(...args, '-o', at('take.mid'), '--truth', at('truth.json')).status).toBe(0)
    expect(halfStep(...args, '-o', at('again.mid')).status).toBe(0)
    expect(readFileSync(at('take.mid'))).toEqual(readFileSync(at('again.mid')))
    const truth = JSON.parse(readFileSync(at('truth.json'), 'utf8')) as { notes: { outcome: string }[] }
    const first = halfStep('assess', FERRY, at('take.mid'), '--bpm', '80', '--bars', '1-8', '--hands', 'right')
    const assessment = first.json()
    expect(assessment).toMatchObject({
      format: 'half-step/assessment',
      version: 1,
      score: { bars: '1-8', hands: 'right', bpm: 80 },
    })
    expect(assessment.notes.map(one => one.outcome)).toEqual(truth.notes.map(one => one.outcome))
    expect(assessment.findings.slice(0, 2)).toContainEqual(
      expect.objectContaining({ kind: 'hesitation', bar: 5, beat: 1 }),
    )
    expect(halfStep('assess', FERRY, at('take.mid'), '--bpm', '80', '--bars', '1-8', '--hands', 'right').stdout).toBe(
      first.stdout,
    )
  })

  it("assess reads a take in the player's own time, where nothing is late", () => {
    halfStep('simulate', FERRY, '--bpm', '40', '--seed', '2', '--bars', '1-4', '--hands', 'left', '-o', at('slow.mid'))
    const assessed = halfStep(
      'assess',
      FERRY,
      at('slow.mid'),
      '--mode',
      'own-time',
      '--bars',
      '1-4',
      '--hands',
      'left',
    ).json()
    expect(assessed).toMatchObject({ mode: 'own-time', summary: { clean: true, wrong: 0, missed: 0 } })
    expect(assessed.notes.every(note => (note as { deviationMs?: number | null }).deviationMs === null)).toBe(true)
  })

  it('converts a song from any format to any other without losing a note', () => {
    writeFileSync(at('chart.txt'), 'title: Lock\n[Verse]\n| C / G/B / | Am / / / |')
    for (const source of [FERRY, at('chart.txt')]) {
      const notes = (
        halfStep('inspect', source).json().notes as unknown as {
          hand: string
          pitch: number
          onsetQuarter: number
          durationQuarter: number
        }[]
      ).map(({ hand, pitch, onsetQuarter, durationQuarter }) => [hand, pitch, onsetQuarter, durationQuarter])
      for (const ending of ['musicxml', 'mxl', 'mid']) {
        expect(halfStep('convert', source, at(`again.${ending}`)).status).toBe(0)
        const again = (
          halfStep('inspect', at(`again.${ending}`)).json().notes as unknown as {
            hand: string
            pitch: number
            onsetQuarter: number
            durationQuarter: number
          }[]
        ).map(({ hand, pitch, onsetQuarter, durationQuarter }) => [hand, pitch, onsetQuarter, durationQuarter])
        expect(again).toEqual(notes)
      }
    }
  })

  it("fingering gives every note of the bars a finger, keeps the file's, and says what the hand does", () => {
    interface Found {
      notes: { id: string; finger: number; locked: boolean; alternatives: { finger: number; extraCost: number }[] }[]
      cost: number
      events: { kind: string; id: string }[]
    }
    const found = halfStep('fingering', FERRY, '--hand', 'left', '--from', '1', '--to', '2').json() as unknown as Found
    expect(found.notes.map(note => note.finger).join('')).toBe('52125212')
    expect(found.notes.filter(note => note.locked)).toHaveLength(1)
    expect(found.events.map(event => event.kind)).toEqual(['stretch', 'stretch'])
    const narrow = halfStep(
      'fingering',
      FERRY,
      '--hand',
      'left',
      '--from',
      '1',
      '--to',
      '2',
      '--span',
      '8',
    ).json() as unknown as Found
    expect(narrow.cost).toBeGreaterThan(found.cost)
  })

  it('simulates characters, restarts, gaps and a lagging hand, and hears them', () => {
    const SHUFFLE = join(ROOT, 'demo/side-street-shuffle.musicxml')
    const hear = (...flags: string[]) => {
      expect(
        halfStep(
          'simulate',
          SHUFFLE,
          '--bpm',
          '96',
          '--seed',
          '3',
          ...flags,
          '-o',
          at('played.mid'),
          '--truth',
          at('played.json'),
        ).status,
      ).toBe(0)
      const truth = JSON.parse(readFileSync(at('played.json'), 'utf8')) as { restarted: number[] }
      return {
        truth,
        ...(halfStep('assess', SHUFFLE, at('played.mid'), '--bpm', '96').json() as Omit<Answer, 'findings'> & {
          summary: { restarts: number; leftBehindMs: number; swingRatio: number; driftPercent: number }
          extras: { restart?: true }[]
          findings: { kind: string; bar?: number }[]
        }),
      }
    }
    const restarted = hear('--character', 'good', '--restart', '9:3:5:900')
    expect(restarted.summary.restarts).toBe(1)
    expect(restarted.extras.filter(one => one.restart)).toHaveLength(restarted.truth.restarted.length)
    expect(hear('--skip', '7').findings[0]).toMatchObject({ kind: 'skipped', bar: 7 })
    expect(hear('--character', 'good', '--left-late', '80').summary.leftBehindMs).toBeCloseTo(80, -1)
    expect(hear('--swing', '1.5').summary.swingRatio).toBeCloseTo(1.5, 1)
    expect(hear('--rush', '3').summary.driftPercent).toBeCloseTo(-3, 1)
    expect(hear('--articulation', '0.4').findings.map(one => one.kind)).toContain('released-early')
  })

  it('judges the same take more or less strictly', () => {
    halfStep('simulate', FERRY, '--bpm', '120', '--seed', '9', '--jitter', '28', '-o', at('wavering.mid'))
    const share = (strictness: string) =>
      (
        halfStep('assess', FERRY, at('wavering.mid'), '--bpm', '120', '--strictness', strictness).json() as {
          summary: { onTimeShare: number }
        } & Answer
      ).summary.onTimeShare
    expect(share('strict')).toBeLessThan(share('normal'))
    expect(share('normal')).toBeLessThanOrEqual(share('gentle'))
  })

  it('finds start and tempo when it is not told the bpm', () => {
    halfStep('simulate', FERRY, '--bpm', '72', '--seed', '2', '--jitter', '10', '-o', at('free.mid'))
    const assessment = halfStep('assess', FERRY, at('free.mid')).json()
    expect(assessment.mode).toBe('free')
    expect(assessment.score.bpm).toBeCloseTo(72, 0)
    expect(assessment.summary.right).toBe(assessment.summary.notes)
  })

  it('split shows parts, what each hand of them is like, and the form', () => {
    const shown = halfStep('split', FERRY, '--max-bars', '4')
    const { parts, form, newMaterialShare } = JSON.parse(shown.stdout) as {
      parts: Record<string, unknown>[]
      form: string[]
      newMaterialShare: { right: number; left: number }
    }
    expect(parts[0]).toMatchObject({
      name: 'Verse 1, a',
      from: { bar: 0, beat: 4 },
      to: { bar: 4, beat: 3 },
      right: { relation: 'new', transposedBy: 0, differs: [] },
    })
    expect(parts[2]).toMatchObject({
      right: { like: 'Verse 1, a', relation: 'same' },
      left: { relation: 'differs', differs: [{ bar: 8, beat: 4, here: ['D3'], there: [] }] },
    })
    expect(form).toHaveLength(parts.length)
    expect(newMaterialShare.right).toBeGreaterThan(0.3)
    expect(newMaterialShare.right).toBeLessThan(0.8)
    expect(halfStep('split', FERRY, '--max-bars', '0').status).toBe(2)
  })

  it('converts to .json and .mid', () => {
    expect(halfStep('convert', FERRY, at('ferry.json')).status).toBe(0)
    const { sections, ...song } = halfStep('inspect', FERRY).json() as unknown as {
      sections: { name: string; like?: string }[]
    }
    expect(JSON.parse(readFileSync(at('ferry.json'), 'utf8'))).toEqual(song)
    expect(sections.map(one => [one.name, one.like])).toEqual([
      ['Verse 1', undefined],
      ['Verse 2', 'Verse 1'],
      ['Bridge', undefined],
      ['Verse 3', 'Verse 1'],
    ])
    expect(halfStep('convert', FERRY, at('ferry.mid')).status).toBe(0)
    expect(readFileSync(at('ferry.mid')).subarray(0, 4).toString()).toBe('MThd')
  })

  it('says what harmony sounds, from symbols or from notes, and which stretch of an earlier part another is like', () => {
    const heard = at('heard.musicxml')
    const bar = (right: string, left: string, first = false) =>
      (first ? attributes({ staves: 2 }) : '') + quarterNotes(right, 1) + backup(4) + quarterNotes(left, 2)
    const theme = ['E4 G4 C5 G4', 'F4 A4 C5 A4', 'D4 F4 B4 F4', 'E4 C4 G4 E4']
    const bass = ['C3 C3 C3 C3', 'F3 F3 F3 F3', 'G3 G3 G3 G3', 'C3 C3 C3 C3']
    writeFileSync(
      heard,
      pianoScore([
        ...theme.map((one, index) => bar(one, bass[index]!, index === 0)),
        bar('A4 G4 E4 D4', 'A2 A2 E3 E3'),
        ...theme.slice(2).map((one, index) => bar(one, bass[index + 2]!)),
      ]),
    )
    const { harmony } = halfStep('inspect', heard).json() as unknown as {
      harmony: {
        bar: number
        beat: number
        onsetQuarter: number
        from: string
        symbol: string
        roman: string
        bass: string
        inversion: number
        name: string
      }[]
    }
    expect(
      harmony
        .slice(0, 4)
        .map(one => [one.bar, one.beat, one.onsetQuarter, one.from, one.symbol, one.roman, one.bass, one.inversion]),
    ).toEqual([
      [1, 1, 0, 'notes', 'C', 'I', 'C', 0],
      [2, 1, 4, 'notes', 'F', 'IV', 'F', 0],
      [3, 1, 8, 'notes', 'G7', 'V7', 'G', 0],
      [4, 1, 12, 'notes', 'C', 'I', 'C', 0],
    ])
    expect(harmony[0]!.name).toBe('C major')
    const { parts } = halfStep('split', heard).json() as unknown as {
      parts: { name: string; right: { relation: string; like?: string; covers?: object } }[]
    }
    expect(parts.at(-1)!.right).toMatchObject({
      like: parts[0]!.name,
      relation: 'differs',
      covers: { from: { bar: 2, beat: 1 } },
    })
  })

  it('is told who plays what: parts by number or name, the rest nobody', () => {
    const choir = at('choir.musicxml')
    writeFileSync(
      choir,
      partsScore(
        [
          ['Soprano', 'E5 F5'],
          ['Alto', 'G4 A4'],
          ['Bass', 'C3 D3'],
        ].map(([name, notes]) => [
          name!,
          `<measure number="1">${attributes({ beats: 2 })}${quarterNotes(notes!)}</measure>`,
        ]),
      ),
    )
    const plays = (...flags: string[]) => {
      const { notes, others, voices } = halfStep('inspect', choir, ...flags).json() as unknown as {
        notes: { hand: string; pitch: number }[]
        others: { name: string }[]
        voices: { plays: string }[]
      }
      return [
        voices.map(one => one.plays).join(),
        notes.map(one => `${one.hand[0]}${one.pitch}`).join(' '),
        others.map(one => one.name).join(),
      ]
    }
    expect(plays()).toEqual(['right,both,left', 'l48 r67 r76 l50 r69 r77', ''])
    expect(plays('--right', 'alto', '--left', '3')).toEqual(['nobody,right,left', 'l48 r67 l50 r69', ''])
    expect(plays('--both', '1,2', '--role', 'Bass')).toEqual([
      'both,both,role',
      expect.stringMatching(/67 .*76 .*69 .*77/) as string,
      'Bass',
    ])
    expect(halfStep('inspect', choir, '--left', 'Tuba')).toMatchObject({
      status: 2,
      stderr: expect.stringContaining(
        'there is no part "Tuba"; the parts are 1 (Soprano), 2 (Alto), 3 (Bass)',
      ) as string,
    })
  })

  it.each([
    [[], 2, 'a command is needed'],
    [['frobnicate'], 2, 'there is no command "frobnicate"'],
    [['inspect'], 2, 'SCORE is needed'],
    [['convert', FERRY, '/tmp/x.pdf'], 2, 'OUT ends in .json or .mid'],
    [['assess', FERRY, 'x.mid', '--bpm', 'fast'], 2, '--bpm takes a number'],
    [['assess', FERRY, 'x.mid', '--mode', 'steady'], 2, '--mode steady needs --bpm'],
    [['inspect', '/nowhere/song.musicxml'], 3, '/nowhere/song.musicxml: cannot be read (ENOENT)'],
    [['inspect', join(ROOT, 'package.json')], 3, 'package.json: byte 0'],
    [['fingering', FERRY], 2, '--hand right or --hand left is needed'],
    [['fingering', FERRY, '--hand', 'left', '--span', '30'], 2, '--span takes a number from 7 to 19'],
    [['fingering', FERRY, '--hand', 'left', '--from', '900'], 3, 'there is no bar from 900'],
    [['convert', FERRY, 'x.pdf'], 2, 'OUT ends in'],
    [['assess', FERRY, FERRY], 3, '"MThd"'],
    [['assess', FERRY, FERRY, '--strictness', 'cruel'], 2, '--strictness is one of gentle, normal, strict'],
    [
      ['simulate', FERRY, '--bpm', '80', '--seed', '1', '--restart', '3:1', '-o', 'x.mid'],
      2,
      '--restart takes BAR:BEAT:MOMENTS:MS',
    ],
    [
      ['simulate', FERRY, '--bpm', '80', '--seed', '1', '--character', 'lazy', '-o', 'x.mid'],
      2,
      '--character is one of good',
    ],
    [['simulate', FERRY, '--bpm', '80', '--seed', '1', '--skip', 'some', '-o', 'x.mid'], 2, '--skip takes A-B'],
    [['split', FERRY, '--max-bars', 'few'], 2, '--max-bars takes a number'],
  ])('%j ends with %i and says why', (args, status, message) => {
    const answer = halfStep(...args)
    expect(answer.status).toBe(status)
    expect(answer.stderr).toContain(message)
    expect(answer.stderr).not.toMatch(/\n\s+at /)
    expect(answer.stdout).toBe('')
  })

  it('leaves no half-written file behind', () => {
    writeFileSync(at('bad.musicxml'), '<score-partwise>')
    const before = readdirSync(folder)
    expect(halfStep('convert', at('bad.musicxml'), at('out.mid')).status).toBe(3)
    expect(
      halfStep('simulate', FERRY, '--bpm', '80', '--seed', '1', '-o', join(folder, 'no/such/place.mid')).status,
    ).toBe(3)
    expect(readdirSync(folder)).toEqual(before)
    expect(existsSync(at('out.mid'))).toBe(false)
  })
})

describe('half-step perform', () => {
  const midi = (name: string) => new Midi(readFileSync(at(name)))
  const onsets = (name: string, track: string) =>
    midi(name)
      .tracks.find(one => one.name === track)!
      .notes.map(({ time, midi: pitch }) => [Math.round(time * 1000), pitch] as const)

  it('writes the hands that are asked for at the tempo that is asked for, tracks named, time 0 on the first beat', () => {
    expect(
      halfStep('perform', FERRY, '--bpm', '60', '--bars', '1-2', '--hands', 'right', '-o', at('right.mid')).status,
    ).toBe(0)
    expect(
      midi('right.mid')
        .tracks.filter(({ notes }) => notes.length > 0)
        .map(({ name }) => name),
    ).toEqual(['Right hand'])
    const score = halfStep('inspect', FERRY).json() as unknown as {
      notes: { hand: string; bar: number; onsetQuarter: number; pitch: number }[]
    }
    const wanted = score.notes
      .filter(({ hand, bar }) => hand === 'right' && bar >= 1 && bar <= 2)
      .map(({ onsetQuarter, pitch }) => [Math.round(1000 * (onsetQuarter - 1)), pitch])
    expect(onsets('right.mid', 'Right hand')).toEqual(wanted)
  })

  it('adds a click and a rhythm section, drums on channel 10, and names the styles', () => {
    expect(
      halfStep(
        'perform',
        FERRY,
        '--bpm',
        '60',
        '--bars',
        '1-4',
        '--hands',
        'none',
        '--click',
        'eighths',
        '--band',
        'ballad',
        '-o',
        at('band.mid'),
      ).status,
    ).toBe(0)
    const { tracks } = midi('band.mid')
    expect(tracks.filter(({ notes }) => notes.length > 0).map(({ name, channel }) => [name, channel === 9])).toEqual([
      ['Click', true],
      ['Drums', true],
      ['Bass', false],
      ['Chords', false],
    ])
    expect(onsets('band.mid', 'Click').map(([ms]) => ms)).toEqual(
      Array.from({ length: 32 }, (_, eighth) => 500 * eighth),
    )
    expect(halfStep('perform', '--band', 'list').json()).toMatchObject({
      styles: expect.arrayContaining([
        { name: 'waltz', meters: expect.arrayContaining(['3/4']) as unknown },
      ]) as unknown,
    })
  })

  it('plays a take back as it was, and with its deviations doubled', () => {
    halfStep('simulate', FERRY, '--bpm', '80', '--seed', '3', '--bars', '1-8', '--offset', '40', '-o', at('late.mid'))
    const heard = (name: string) =>
      midi(name)
        .tracks.flatMap(({ notes }) => notes)
        .map(({ time }) => Math.round(time * 1000))
        .sort((a, b) => a - b)
    halfStep('perform', FERRY, '--bpm', '80', '--bars', '1-8', '--from', at('late.mid'), '-o', at('back.mid'))
    halfStep(
      'perform',
      FERRY,
      '--bpm',
      '80',
      '--bars',
      '1-8',
      '--from',
      at('late.mid'),
      '--exaggerate',
      '2',
      '-o',
      at('twice.mid'),
    )
    expect(heard('back.mid')).toEqual(heard('late.mid'))
    heard('twice.mid').forEach((ms, index) =>
      expect(Math.abs(ms - heard('late.mid')[index]! - 40)).toBeLessThanOrEqual(2),
    )
  })

  it('goes with the player of one hand: at their tempo, in their pause', () => {
    halfStep(
      'simulate',
      FERRY,
      '--bpm',
      '90',
      '--seed',
      '4',
      '--hands',
      'right',
      '--stretch',
      '1.2',
      '--hesitate',
      '5:1:1500',
      '-o',
      at('alone.mid'),
    )
    expect(
      halfStep('perform', FERRY, '--bpm', '90', '--hands', 'left', '--follow', at('alone.mid'), '-o', at('with.mid'))
        .status,
    ).toBe(0)
    const left = onsets('with.mid', 'Left hand').map(([ms]) => ms)
    const right = midi('alone.mid')
      .tracks.flatMap(({ notes }) => notes)
      .map(({ time }) => time * 1000)
    expect(left.filter(ms => right.some(other => Math.abs(other - ms) < 5)).length).toBeGreaterThan(20)
    expect(Math.max(...left.slice(1).map((ms, index) => ms - left[index]!))).toBeGreaterThan(1500)
  })

  it('says what it cannot do', () => {
    expect(halfStep('perform', FERRY).status).toBe(2)
    expect(halfStep('perform', FERRY, '--band', 'polka', '-o', at('x.mid'))).toMatchObject({
      status: 2,
      stderr: expect.stringContaining('--band is one of ballad') as unknown,
    })
    expect(halfStep('perform', FERRY, '--exaggerate', '2', '-o', at('x.mid')).stderr).toContain(
      '--exaggerate needs --from',
    )
    expect(existsSync(at('x.mid'))).toBe(false)
  })
})

describe('half-step recognise', () => {
  it('tells the score, the bars and the hands of a take, and refuses to work without a score', () => {
    const waltz = join(ROOT, 'demo/snow-on-the-towpath.musicxml')
    halfStep(
      'simulate',
      FERRY,
      '--bpm',
      '70',
      '--seed',
      '9',
      '--hands',
      'right',
      '--bars',
      '5-12',
      '--jitter',
      '20',
      '-o',
      at('free.mid'),
    )
    const { stretches } = halfStep('recognise', at('free.mid'), waltz, FERRY).json() as unknown as {
      stretches: object[]
    }
    expect(stretches).toMatchObject([{ score: 1, hands: 'right', fromBar: 5, toBar: 12, restarts: 0, fromPlayed: 0 }])
    expect(halfStep('recognise', at('free.mid'))).toMatchObject({
      status: 2,
      stderr: expect.stringContaining('at least one SCORE') as unknown,
    })
  })
})
