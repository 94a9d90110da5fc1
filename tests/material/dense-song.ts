import { seededChance } from '#core/players/randomness'
import { attributes, backup, note, partsScore } from './score'

const WORDS = ['Hill', 'and', 'wa-', 'ter,', 'mead-', 'ow', 'and', 'stone']
const HIGH = ['Db5', 'Eb5', 'F5', 'Gb5', 'Ab5', 'Bb5', 'C6', 'Db6']
const LOW = ['Gb2', 'Ab2', 'Bb2', 'C3', 'Db3', 'Eb3', 'F3', 'Gb3']

/**
 * A song as crowded as real ones are, made up by chance from a fixed seed: a voice with words over two hands, five
 * flats, sixteenths with chords and accidentals in the right hand, eighths an octave apart in the left.
 */
export function denseSong(bars: number): string {
  const chance = seededChance(77)
  const head = (bar: number, staves: number) => (bar === 0 ? attributes({ fifths: -5, staves }) : '')
  const voice = (bar: number) =>
    [0, 1, 2, 3]
      .map(beat =>
        note({
          pitch: chance.pick(HIGH.slice(0, 5)),
          length: 1,
          extra: `<lyric><text>${WORDS[(4 * bar + beat) % WORDS.length]}</text></lyric>`,
        }),
      )
      .join('')
  const right = () =>
    Array.from({ length: 16 }, () => {
      const place = Math.floor(chance.uniform() * (HIGH.length - 2))
      const lower = note({
        pitch: chance.happens(0.15) ? HIGH[place]!.replace('b', '') : HIGH[place],
        length: 0.25,
        staff: 1,
      })
      return chance.happens(0.4)
        ? `${lower}${note({ pitch: HIGH[place + 2], length: 0.25, staff: 1, chord: true })}`
        : lower
    }).join('')
  const left = () =>
    Array.from({ length: 8 }, (_, eighth) =>
      note({
        pitch: eighth % 2 === 0 ? chance.pick(LOW.slice(0, 4)) : chance.pick(LOW.slice(4)),
        length: 0.5,
        staff: 2,
      }),
    ).join('')
  const measures = (of: (bar: number) => string) =>
    Array.from({ length: bars }, (_, bar) => `<measure number="${bar + 1}">${of(bar)}</measure>`).join('')
  return partsScore([
    ['Voice', measures(bar => `${head(bar, 1)}${voice(bar)}`)],
    ['Piano', measures(bar => `${head(bar, 2)}${right()}${backup(4)}${left()}`)],
  ])
}
