/** Performances as MIDI, read by @tonejs/midi and by Debian's midicsv. */
import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Midi } from '@tonejs/midi'
import { describe, expect, it } from 'vitest'
import { writePerformance } from '#core/formats/midi/write-performance'
import { wholePassage } from '#core/music/passage'
import { performSection } from '#core/patterns/rhythm-section'
import { STYLES } from '#core/patterns/styles'
import { renderPassage } from '#core/sound/of-score'
import { fromTimeZero, together } from '#core/sound/performance'
import { DEMO_FILES, demoScore } from '../material/demo'

describe('a performance as a Standard MIDI File', () => {
  it.each(DEMO_FILES)(
    '%s: every event at its time, tempo changes and all, each voice in a track under its name',
    file => {
      const { arrangement } = demoScore(file)
      const passage = wholePassage(arrangement, 'both')
      const tempos = [
        ...arrangement.tempos,
        { onset: { n: 9, d: 1 }, quarterBpm: 61.7 },
        { onset: { n: 21, d: 1 }, quarterBpm: 133 },
      ]
      const song = { ...arrangement, tempos }
      const performance = fromTimeZero(
        together([
          renderPassage(song, passage, { hands: ['right', 'left'], click: { on: 'beats', within: 3 } }),
          performSection({ arrangement: song, passage, style: STYLES[DEMO_FILES.indexOf(file) % STYLES.length]! }),
        ]),
      )
      const read = new Midi(writePerformance(performance, song.title))
      expect(read.tracks.filter(({ notes }) => notes.length > 0).map(({ name }) => name)).toEqual(
        performance.voices.map(({ name }) => name),
      )
      for (const { id, name, instrument } of performance.voices) {
        const track = read.tracks.find(one => one.name === name)!
        expect(track.channel === 9).toBe(instrument.kind === 'drums' || instrument.kind === 'click')
        const events = performance.events.filter(({ voice }) => voice === id)
        const sorted = (list: [number, number][]) => list.sort((a, b) => a[1] - b[1] || a[0] - b[0])
        const theirs = sorted(track.notes.map(({ time, midi }) => [1000 * time, midi]))
        const ours = sorted(events.map(({ atMs, pitch }) => [atMs, pitch]))
        expect(theirs.map(([, pitch]) => pitch)).toEqual(ours.map(([, pitch]) => pitch))
        theirs.forEach(([ms], index) => expect(Math.abs(ms - ours[index]![0])).toBeLessThan(0.5))
      }
    },
  )

  it('is well formed for midicsv', () => {
    const { arrangement } = demoScore('lantern-ferry.musicxml')
    const folder = mkdtempSync(join(tmpdir(), 'half-step-performance-'))
    try {
      const file = join(folder, 'a.mid')
      writeFileSync(
        file,
        writePerformance(renderPassage(arrangement, wholePassage(arrangement, 'both'), { hands: ['left'] }), 'Ferry'),
      )
      const { status, stdout } = spawnSync('midicsv', [file], { encoding: 'utf8' })
      expect(status).toBe(0)
      expect(stdout).toContain('Title_t, "Left hand"')
      expect(stdout.match(/Note_on_c, 0, \d+, [1-9]/g)!.length).toBe(
        renderPassage(arrangement, wholePassage(arrangement, 'both'), { hands: ['left'] }).events.length,
      )
    } finally {
      rmSync(folder, { recursive: true })
    }
  })
})
