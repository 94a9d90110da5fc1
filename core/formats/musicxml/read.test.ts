import { strToU8, zipSync } from 'fflate'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { attributes, backup, bytesOf, note, partsScore, pianoScore, quarterNotes } from '../../../tests/material/score'
import { DEMO_FILES, demoBytes, demoScore } from '../../../tests/material/demo'
import { positionOf } from '../../music/arrangement'
import { UnusableInput } from '../unusable'
import { readMusicXml } from './read'
import { isGuess } from '../../music/remark'
import { remarkText } from '../../words/remarks'

const read = (text: string) => readMusicXml(bytesOf(text)).arrangement
const unusable = (bytes: Uint8Array): string => {
  try {
    readMusicXml(bytes)
  } catch (error) {
    expect(error).toBeInstanceOf(UnusableInput)
    return (error as Error).message
  }
  throw new Error('the file was read')
}
const bar = (content: string) => pianoScore([attributes() + content])

describe('what stands in a score', () => {
  it('numbers a pickup 0 and puts its note on the beat before the bar line', () => {
    const { arrangement } = demoScore('lantern-ferry.musicxml')
    expect(arrangement.bars[0]).toMatchObject({ number: 0, length: { n: 1, d: 1 }, offset: { n: 3, d: 1 } })
    expect(positionOf(arrangement, arrangement.notes[0]!.onset)).toEqual({ bar: 0, beat: 4 })
    expect(arrangement.bars.at(-1)).toMatchObject({ number: 32, length: { n: 3, d: 1 } })
  })

  it('counts on through a bar that a repeat splits in two', () => {
    const { bars } = read(
      pianoScore([
        ['number="1"', attributes() + quarterNotes('C4 D4 E4 F4')],
        ['number="2"', quarterNotes('G4 A4 B4') + '<barline location="right"><repeat direction="backward"/></barline>'],
        ['number="X1" implicit="yes"', quarterNotes('C5')],
        ['number="3"', quarterNotes('C5 B4 A4 G4')],
      ]),
    )
    expect(bars.map(one => [one.number, one.offset.n])).toEqual([
      [1, 0],
      [2, 0],
      [2, 3],
      [3, 0],
    ])
  })

  it('keeps fingers, articulations, fermatas, lyrics, pedal, dynamics and chord symbols where they stand', () => {
    const arrangement = read(
      pianoScore([
        attributes({ staves: 2 }) +
          '<harmony><root><root-step>F</root-step><root-alter>1</root-alter></root><kind>minor-seventh</kind></harmony>' +
          '<direction><direction-type><dynamics><mf/></dynamics></direction-type><staff>2</staff></direction>' +
          note({
            pitch: 'C5',
            length: 1,
            staff: 1,
            extra:
              '<notations><technical><fingering>3</fingering></technical><articulations><staccato/></articulations><fermata/></notations><lyric number="2"><syllabic>begin</syllabic><text>lan</text></lyric>',
          }) +
          quarterNotes('D5 E5 F5', 1) +
          backup(4) +
          '<direction><direction-type><pedal type="start"/></direction-type></direction>' +
          note({ pitch: 'C3', length: 2, staff: 2 }) +
          '<direction><direction-type><pedal type="change"/></direction-type></direction>' +
          note({ pitch: 'G3', length: 2, staff: 2 }),
      ]),
    )
    expect(arrangement.notes.find(one => one.spelled === 'C5')).toMatchObject({
      hand: 'right',
      finger: 3,
      articulations: ['staccato', 'fermata'],
    })
    expect(arrangement.lyrics).toMatchObject([{ verse: '2', text: 'lan', hyphen: true }])
    expect(arrangement.pedals).toEqual([
      { kind: 'down', onset: { n: 0, d: 1 } },
      { kind: 'change', onset: { n: 2, d: 1 } },
    ])
    expect(arrangement.dynamics).toMatchObject([{ mark: 'mf', hand: 'left' }])
    expect(arrangement.chords).toMatchObject([{ symbol: 'F#m7', notes: ['F#', 'A', 'C#', 'E'], inversion: 0 }])
  })

  it('takes the tempo of a metronome mark in its own beat: a dotted quarter at 80 is 120 quarters', () => {
    const mark =
      '<direction><direction-type><metronome><beat-unit>quarter</beat-unit><beat-unit-dot/><per-minute>80</per-minute></metronome></direction-type></direction>'
    expect(read(bar(mark + quarterNotes('C4 D4 E4 F4'))).tempos).toMatchObject([{ quarterBpm: 120 }])
  })

  it('numbers grace notes by their distance to the main note', () => {
    const grace = (pitch: string) => note({ pitch, length: 0, before: '<grace slash="yes"/>', type: 'eighth' })
    const { notes } = read(bar(grace('B4') + grace('C5') + quarterNotes('D5 E5 F5 G5')))
    expect(notes.slice(0, 3).map(one => [one.spelled, one.grace?.before])).toEqual([
      ['B4', 2],
      ['C5', 1],
      ['D5', undefined],
    ])
  })
})

describe('a bar split at a repeat sign and filled up with rests that are not printed', () => {
  const hidden = (length: number) => note({ length }).replace('<note>', '<note print-object="no">')
  const split = (
    first: string,
    second: string,
    sign = '<barline location="right"><repeat direction="backward"/></barline>',
  ) =>
    read(
      pianoScore([
        attributes() + quarterNotes('C4 D4 E4 F4'),
        ['number="2"', first + sign],
        ['number="0"', second],
        quarterNotes('G4 F4 E4 D4'),
      ]),
    )
  const shown = ({ bars, notes }: ReturnType<typeof split>) => [
    bars.map(one => `${one.number}: ${one.offset.n}+${one.length.n}`),
    notes.filter(one => one.barIndex === 3).map(one => one.onset.n)[0],
  ]
  it('is its halves: what is printed in both makes up one bar', () => {
    const song = split(quarterNotes('E4 D4 C4') + hidden(1), quarterNotes('G4') + hidden(3))
    expect(shown(song)).toEqual([['1: 0+4', '2: 0+3', '2: 3+1', '4: 0+4'], 8])
  })
  it('also where rests are printed in it', () =>
    expect(shown(split(quarterNotes('E4 D4 r') + hidden(1), note({ length: 1 }) + hidden(3)))[0]).toEqual([
      '1: 0+4',
      '2: 0+3',
      '2: 3+1',
      '4: 0+4',
    ]))
  it('but not where no sign stands, or the printed halves are no bar', () => {
    expect(shown(split(quarterNotes('E4 D4 C4') + hidden(1), quarterNotes('G4') + hidden(3), ''))[0]).toEqual([
      '1: 0+4',
      '2: 0+4',
      '0: 0+4',
      '4: 0+4',
    ])
    expect(shown(split(quarterNotes('E4 D4 C4') + hidden(1), quarterNotes('G4 A4') + hidden(2)))[0]).toEqual([
      '1: 0+4',
      '2: 0+4',
      '0: 0+4',
      '4: 0+4',
    ])
  })
})

describe('whose notes they are', () => {
  const hands = (text: string) =>
    read(text)
      .notes.map(one => `${one.hand} ${one.spelled}`)
      .join(', ')
  const measure = (content: string) => `<measure number="1">${content}</measure>`

  it('gives the upper staff to the right hand and the lower to the left', () => {
    expect(
      hands(pianoScore([attributes({ staves: 2 }) + quarterNotes('C5', 1) + backup(1) + quarterNotes('C3', 2)])),
    ).toBe('left C3, right C5')
  })

  it('takes two parts of one staff as the hands, by name or as they stand', () => {
    const right = measure(attributes() + quarterNotes('C5'))
    const left = measure(attributes() + quarterNotes('C3'))
    expect(
      hands(
        partsScore([
          ['Left hand', left],
          ['Right hand', right],
        ]),
      ),
    ).toBe('left C3, right C5')
    const guessed = read(
      partsScore([
        ['Piano 1', right],
        ['Piano 2', left],
      ]),
    )
    expect(guessed.notes.map(one => one.hand)).toEqual(['left', 'right'])
    expect(guessed.warnings.some(one => typeof one !== 'string' && isGuess(one))).toBe(true)
  })

  it('keeps a voice above the piano out of the hands, with its words', () => {
    const voice = measure(attributes() + note({ pitch: 'E5', length: 1, extra: '<lyric><text>la</text></lyric>' }))
    const piano = measure(attributes({ staves: 2 }) + quarterNotes('C5', 1) + backup(1) + quarterNotes('C3', 2))
    const arrangement = read(
      partsScore([
        ['Voice', voice],
        ['Piano', piano],
      ]),
    )
    expect(arrangement.notes).toHaveLength(2)
    expect(arrangement.others).toMatchObject([{ name: 'Voice', notes: [{ spelled: 'E5' }] }])
    expect(arrangement.lyrics).toMatchObject([{ text: 'la' }])
  })
})

describe('who plays which part', () => {
  const choir = partsScore(
    [
      ['Tenor', 'C4 D4 E4 F4'],
      ['Soprano', 'E5 F5 G5 A5'],
      ['Bass', 'C3 B2 C3 F2'],
      ['Alto', 'G4 G4 C5 C5'],
    ].map(([name, notes]) => [name!, `<measure number="1">${attributes()}${quarterNotes(notes!)}</measure>`]),
  )
  const handsOf = ({ arrangement }: ReturnType<typeof readMusicXml>) =>
    Object.fromEntries(
      ['Tenor', 'Soprano', 'Bass', 'Alto'].map((name, index) => [
        name,
        [
          ...new Set(
            arrangement.notes
              .filter(one => arrangement.notes.length < 16 || Math.floor((Number(one.id.slice(1)) - 1) / 4) === index)
              .map(one => one.hand),
          ),
        ],
      ]),
    )
  const all = readMusicXml(bytesOf(choir))

  it('of a choir the highest is the right hand, the lowest the left, and all that lies between is played', () => {
    expect(all.voices.map(({ name, plays, lowest, highest }) => [name, plays, lowest, highest])).toEqual([
      ['Tenor', 'both', 60, 65],
      ['Soprano', 'right', 76, 81],
      ['Bass', 'left', 41, 48],
      ['Alto', 'both', 67, 72],
    ])
    expect(all.arrangement.notes).toHaveLength(16)
    expect(handsOf(all)).toMatchObject({ Soprano: ['right'], Bass: ['left'], Alto: ['right'] })
    expect(all.arrangement.warnings).toEqual([{ kind: 'guess-voices', right: 'Soprano', left: 'Bass' }])
  })

  it('is as the player says: a role is kept, and what nobody plays is not', () => {
    const { arrangement, voices } = readMusicXml(bytesOf(choir), { 1: 'left', 2: 'role', 3: 'nobody', 4: 'right' })
    expect(voices.map(one => one.plays)).toEqual(['left', 'role', 'nobody', 'right'])
    expect(arrangement.notes.map(one => one.hand).filter(hand => hand === 'left')).toHaveLength(4)
    expect(arrangement.notes).toHaveLength(8)
    expect(arrangement.others.map(role => [role.name, role.notes.length])).toEqual([['Soprano', 4]])
    expect(arrangement.warnings).toEqual([{ kind: 'no-hand', name: 'Soprano' }])
    expect(() => readMusicXml(bytesOf(choir), { 1: 'role', 2: 'role', 3: 'role', 4: 'nobody' })).toThrow(
      'one note for a hand',
    )
  })

  it('does not depend on the order or the names of the parts, and moves with them by octaves', () => {
    const order = [2, 0, 3, 1]
    const notes = ['C4 D4 E4 F4', 'E5 F5 G5 A5', 'C3 B2 C3 F2', 'G4 G4 C5 C5']
    const other = readMusicXml(
      bytesOf(
        partsScore(
          order.map(index => [
            `Part ${index}`,
            `<measure number="1">${attributes()}${quarterNotes(notes[index]!.replace(/\d/g, octave => String(Number(octave) + 1)))}</measure>`,
          ]),
        ),
      ),
    )
    expect(other.voices.map(one => one.plays)).toEqual(order.map(index => all.voices[index]!.plays))
  })

  it('leaves a keyboard its two staves, whoever else there is', () => {
    const piano = `<measure number="1">${attributes({ staves: 2 })}${quarterNotes('C5 C5 C5 C5', 1)}${backup(4)}${quarterNotes('C3 C3 C3 C3', 2)}</measure>`
    const voice = `<measure number="1">${attributes()}${quarterNotes('E5 E5 E5 E5')}</measure>`
    const score = partsScore([
      ['Voice', voice],
      ['Flute', voice],
      ['Piano', piano],
    ])
    expect(readMusicXml(bytesOf(score)).voices.map(one => one.plays)).toEqual(['role', 'role', 'both'])
    expect(
      readMusicXml(bytesOf(score), { 1: 'right', 3: 'left' })
        .arrangement.notes.map(one => one.hand)
        .sort(),
    ).toEqual([...Array.from({ length: 8 }, () => 'left'), ...Array.from({ length: 4 }, () => 'right')])
  })
})

describe('what asks for another time', () => {
  const read = (content: string) => readMusicXml(bytesOf(pianoScore([attributes() + content]))).arrangement

  it('swing, by its ratio or by its name', () => {
    const direction = (inner: string) =>
      `<direction><direction-type><words>${inner}</words></direction-type></direction>`
    expect(
      read('<sound><swing><first>2</first><second>1</second></swing></sound>' + quarterNotes('C4 D4 E4 F4')).swings,
    ).toMatchObject([{ ratio: 2, unit: 'eighth' }])
    expect(read('<sound><swing><straight/></swing></sound>' + quarterNotes('C4 D4 E4 F4')).swings).toMatchObject([
      { ratio: 1 },
    ])
    expect(read(direction('Medium Swing') + quarterNotes('C4 D4 E4 F4')).swings).toMatchObject([{ unit: 'eighth' }])
    expect(read(direction('Easy swing, as written') + quarterNotes('C4 D4 E4 F4')).swings).toEqual([])
  })

  it.each([
    ['rit.', 'slower'],
    ['poco rallentando', 'slower'],
    ['accel.', 'faster'],
    ['a tempo', 'back'],
    ['Slow waltz', undefined],
    ['with spirit', undefined],
  ])('the word "%s" is %s', (word, kind) => {
    expect(
      read(
        `<direction><direction-type><words>${word}</words></direction-type></direction>` + quarterNotes('C4 D4 E4 F4'),
      ).tempoWords?.[0]?.kind,
    ).toBe(kind)
  })

  it('ornaments whose strokes belong to their note', () => {
    const trill = note({
      pitch: 'E4',
      length: 4,
      extra: '<notations><ornaments><trill-mark/><wavy-line type="start"/></ornaments></notations>',
    })
    const arrangement = read(trill)
    expect(arrangement.notes[0]!.ornaments).toEqual(['trill-mark'])
    expect(arrangement.warnings).toEqual([])
  })
})

describe('lengths as they are meant', () => {
  /** A triplet sixteenth of a file that counts 256 divisions a quarter: 42 or 43 of them. */
  const sixteenth = (pitch: string, rounded: number, voice = 1) =>
    `<note><pitch><step>${pitch}</step><octave>4</octave></pitch><duration>${rounded}</duration><voice>${voice}</voice><type>16th</type><time-modification><actual-notes>3</actual-notes><normal-notes>2</normal-notes></time-modification></note>`
  const plain = (pitch: string, duration: number, type: string, voice = 1) =>
    `<note><pitch><step>${pitch}</step><octave>4</octave></pitch><duration>${duration}</duration><voice>${voice}</voice><type>${type}</type></note>`
  const in256 = (content: string) =>
    read(pianoScore([attributes().replace(/<divisions>\d+/, '<divisions>256') + content]))
  const onsets = (notes: readonly { onset: { n: number; d: number } }[]) =>
    notes.map(({ onset }) => (onset.d === 1 ? `${onset.n}` : `${onset.n}/${onset.d}`))

  it('a third is a third, whichever way it was rounded, and so is what follows', () => {
    for (const rounded of [
      [42, 43, 43],
      [43, 42, 43],
      [43, 43, 43],
    ]) {
      const { notes, warnings, bars } = in256(
        [...'CDE'].map((pitch, index) => sixteenth(pitch, rounded[index]!)).join('') +
          [...'FGA'].map((pitch, index) => sixteenth(pitch, rounded[index]!)).join('') +
          plain('B', 256, 'quarter') +
          plain('C', 512, 'half'),
      )
      expect(onsets(notes)).toEqual(['0', '1/6', '1/3', '1/2', '2/3', '5/6', '1', '2'])
      expect(notes[0]!.duration).toEqual({ n: 1, d: 6 })
      expect(bars[0]!.length).toEqual({ n: 4, d: 1 })
      expect(warnings).toEqual([])
    }
  })

  it('what begins in another voice within a triplet begins with its note', () => {
    const { notes } = in256(
      [...'CDE'].map((pitch, index) => sixteenth(pitch, [42, 43, 43][index]!)).join('') +
        plain('F', 896, 'whole') +
        '<backup><duration>982</duration></backup>' +
        sixteenth('A', 43, 2),
    )
    expect(onsets(notes.filter(note => note.voice === '2'))).toEqual(['1/6'])
  })

  it('a move back by less than a note comes to where it says, between the notes: nothing was rounded there', () => {
    const in16 = (content: string) =>
      read(pianoScore([attributes({ beats: 2 }).replace(/<divisions>\d+/, '<divisions>16') + content]))
    const move = (name: string, by: number) => `<${name}><duration>${by}</duration></${name}>`
    const { notes, warnings, bars } = in16(
      plain('C', 4, '16th') +
        move('backup', 3) +
        '<attributes><key><fifths>0</fifths></key></attributes>' +
        move('forward', 3) +
        plain('D', 4, '16th') +
        plain('E', 8, 'eighth') +
        plain('F', 16, 'quarter') +
        move('backup', 1) +
        move('forward', 1),
    )
    expect(onsets(notes)).toEqual(['0', '1/4', '1/2', '1'])
    expect(bars[0]!.length).toEqual({ n: 2, d: 1 })
    expect(warnings).toEqual([])
  })

  it('a whole bar back is its beginning, though the file’s divisions add up to one more or less', () => {
    for (const [rounded, back] of [
      [[43, 43, 43], 1025],
      [[43, 43, 43], 1024],
      [[42, 42, 43], 1023],
      [[42, 42, 43], 1024],
    ] as const) {
      const { notes } = in256(
        [...'CDE'].map((pitch, index) => sixteenth(pitch, rounded[index]!)).join('') +
          plain('F', 128, 'eighth') +
          plain('G', 768, 'half').replace('<type>half</type>', '<type>half</type><dot/>') +
          `<backup><duration>${back}</duration></backup>` +
          plain('A', 1024, 'whole', 2),
      )
      expect(onsets(notes.filter(note => note.voice === '1'))).toEqual(['0', '1/6', '1/3', '1/2', '1'])
      expect(onsets(notes.filter(note => note.voice === '2'))).toEqual(['0'])
    }
  })

  it('a drawn value that rounding does not explain gives way to the duration', () => {
    expect(in256(plain('C', 300, 'quarter')).notes[0]!.duration).toEqual({ n: 75, d: 64 })
    // One division a quarter is too coarse to round anything but wrongly.
    expect(
      read(pianoScore([attributes().replace(/<divisions>\d+/, '<divisions>1') + plain('C', 1, 'eighth')])).notes[0]!
        .duration,
    ).toEqual({ n: 1, d: 1 })
  })

  it('rests of another part, however long, fill a bar up to its meter and no further', () => {
    const rest = (length: number, extra = '') =>
      `<note><rest${extra}/><duration>${120 * length}</duration><voice>1</voice></note>`
    const bars = (first: string, second: string, tag = '') =>
      read(
        partsScore([
          [
            'Voice',
            `<measure number="1"${tag}>${attributes()}${first}</measure><measure number="2">${quarterNotes('C4 D4 E4 F4')}</measure>`,
          ],
          [
            'Piano',
            `<measure number="1"${tag}>${attributes()}${second}</measure><measure number="2">${quarterNotes('C4 D4 E4 F4')}</measure>`,
          ],
        ]),
      ).bars.map(one => one.length.n / one.length.d)
    expect(bars(rest(4) + rest(4), quarterNotes('C4 D4 E4 F4'))).toEqual([4, 4])
    expect(bars(rest(8, ' measure="yes"'), quarterNotes('C4 D4 E4 F4'))).toEqual([4, 4])
    expect(bars(rest(4, ' measure="yes"'), quarterNotes('C4'), ' implicit="yes"')).toEqual([1, 4])
    expect(bars(rest(4, ' measure="yes"'), quarterNotes('C4 D4'))).toEqual([4, 4])
    expect(bars(rest(8), rest(8))).toEqual([4, 4])
    // Notes that are too long are there, and stay.
    expect(bars(rest(4), quarterNotes('C4 D4 E4 F4 G4'))).toEqual([5, 4])
  })
})

describe('what is not used is said', () => {
  it.each([
    ['<figured-bass><figure/></figured-bass>', '<figured-bass> is not used (bar 1)'],
    [
      '<note><cue/><pitch><step>C</step><octave>4</octave></pitch><duration>120</duration></note>',
      'cue notes are engraved but not played (bar 1)',
    ],
    ['<note><unpitched/><duration>120</duration></note>', 'notes without a pitch are not played (bar 1)'],
    [
      '<harmony><root><root-step>C</root-step></root><kind>Tristan</kind></harmony>',
      'a chord of the kind "Tristan" is not named (bar 1)',
    ],
    [
      '<sound><swing><first>9</first><second>1</second></swing></sound>',
      'a swing setting without a ratio from 1:1 to 5:1 is not used; the rhythm is taken as written (bar 1)',
    ],
  ])('%s', (content, warning) => {
    expect(read(bar(quarterNotes('C4 D4 E4') + content)).warnings.map(remarkText)).toContain(warning)
  })

  it('a bar that is longer or shorter than its meter', () => {
    const { warnings, bars } = read(
      pianoScore([
        attributes() + quarterNotes('C4 C4 C4 C4'),
        quarterNotes('C4 C4 C4 C4 C4'),
        quarterNotes('C4 C4'),
        quarterNotes('C4 C4 C4 C4'),
      ]),
    )
    expect(bars.map(one => one.length.n)).toEqual([4, 5, 2, 4])
    expect(warnings.map(remarkText)).toEqual([
      'a bar holds more than its meter says; it is played as written (bar 2)',
      'a bar holds less than its meter says; it is played as written (bar 3)',
    ])
  })

  it('a note whose drawn value and duration disagree', () => {
    expect(
      read(bar(note({ pitch: 'C4', length: 2, type: 'quarter' })))
        .warnings.map(remarkText)
        .join(),
    ).toContain('drawn value differs')
  })
})

describe('ids', () => {
  it("keeps the file's own where they are single, and makes the others", () => {
    const { arrangement, musicXml } = readMusicXml(
      bytesOf(
        bar(
          note({ pitch: 'C4', length: 1, id: 'mine' }) +
            note({ pitch: 'D4', length: 1, id: 'twice' }) +
            note({ pitch: 'E4', length: 1, id: 'twice' }) +
            note({ pitch: 'F4', length: 1, id: '0 bad' }),
        ),
      ),
    )
    const ids = arrangement.notes.map(one => one.id)
    expect(ids[0]).toBe('mine')
    expect(new Set(ids).size).toBe(4)
    const again = readMusicXml(bytesOf(musicXml))
    expect(again.arrangement.notes.map(one => one.id)).toEqual(ids)
    expect(again.musicXml).toBe(musicXml)
  })
})

describe('files', () => {
  const score = bar(quarterNotes('C4 D4 E4 F4'))
  const container = '<container><rootfiles><rootfile full-path="music/song.musicxml"/></rootfiles></container>'

  it('reads .mxl by its container, or by the only score in it', () => {
    expect(
      readMusicXml(
        zipSync({
          'META-INF/container.xml': strToU8(container),
          'other.xml': strToU8('<x/>'),
          'music/song.musicxml': strToU8(score),
        }),
      ).arrangement.notes,
    ).toHaveLength(4)
    expect(readMusicXml(zipSync({ 'song.xml': strToU8(score) })).arrangement.notes).toHaveLength(4)
  })

  it('reads UTF-8 and UTF-16 with a byte order mark', () => {
    const titled = score.replace('<part-list>', '<work><work-title>Süße Note ♪</work-title></work><part-list>')
    const utf16 = new Uint8Array(2 + titled.length * 2)
    utf16.set([0xff, 0xfe])
    for (let i = 0; i < titled.length; i++)
      utf16.set([titled.charCodeAt(i) & 0xff, titled.charCodeAt(i) >> 8], 2 + 2 * i)
    expect(readMusicXml(utf16).arrangement.title).toBe('Süße Note ♪')
    expect(readMusicXml(new Uint8Array([0xef, 0xbb, 0xbf, ...bytesOf(titled)])).arrangement.title).toBe('Süße Note ♪')
  })

  it.each([
    ['nothing', '', 'the file is empty'],
    ['text', 'hello', 'line 1'],
    ['a page', '<html><body/></html>', 'a <score-partwise> was expected and <html> was found'],
    ['a timewise score', '<score-timewise/>', 'only score-partwise'],
    ['a cut-off file', score.slice(0, 600), 'not well-formed XML (unclosed tag'],
    ['a score without parts', '<score-partwise><part-list/></score-partwise>', 'no <part>'],
    ['a score of rests', bar(quarterNotes('r r r r')), 'at least one note'],
    [
      'a bad length',
      score.replace('<duration>120<', '<duration>x<'),
      'part P1, bar 1 (line 3): <duration> should be a positive number and is "x"',
    ],
    ['a bad step', score.replace('<step>D<', '<step>H<'), 'part P1, bar 1 (line 3): <step> should be a letter'],
    ['a bad meter', score.replace('<beats>4<', '<beats>0<'), 'a meter such as 4/4'],
    ['zero divisions', score.replace('<divisions>120<', '<divisions>0<'), '<divisions> should be a positive number'],
    [
      'entities of its own',
      `<!DOCTYPE s [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]>${score.slice(score.indexOf('<score'))}`,
      'declares entities of its own',
    ],
    ['an unknown entity', score.replace('Piano', '&x;'), 'not well-formed XML'],
    ['elements nested without end', '<a>'.repeat(5000), 'nested more than 60 deep'],
  ])('says what is wrong with %s', (_name, text, message) => {
    expect(unusable(bytesOf(text))).toContain(message)
  })

  it('refuses what unpacks to too much, before unpacking it, and damaged archives', () => {
    const bomb = zipSync({ 'a.musicxml': new Uint8Array(70_000_000) }, { level: 9 })
    expect(bomb.length).toBeLessThan(100_000)
    expect(unusable(bomb)).toContain('it unpacks to 70000000 bytes')
    const good = zipSync({ 'a.musicxml': strToU8(score) })
    expect(unusable(good.slice(0, good.length - 30))).toContain('damaged')
    expect(unusable(zipSync({ 'readme.txt': strToU8('x') }))).toContain('is not there')
  })

  it('bounds an archive that lies about its sizes', () => {
    const lying = zipSync({ 'a.musicxml': new Uint8Array(5_000_000) }, { level: 9 })
    // The uncompressed size in the central directory (offset 24 of its entry), set to 1000 bytes.
    const entry = lying.findIndex(
      (_, i) => lying[i] === 0x50 && lying[i + 1] === 0x4b && lying[i + 2] === 1 && lying[i + 3] === 2,
    )
    new DataView(lying.buffer).setUint32(entry + 24, 1000, true)
    expect(unusable(lying)).toMatch(/line 1|damaged/)
  })

  it('answers or refuses 1,000 damaged files of each demo song, and never fails otherwise', () => {
    for (const file of DEMO_FILES) {
      const whole = demoBytes(file).slice(0, 9000)
      const closing = strToU8('</measure></part></score-partwise>')
      const body = new TextDecoder().decode(whole)
      const cut = body.slice(0, body.lastIndexOf('</measure>'))
      const base = new Uint8Array([...strToU8(cut), ...closing])
      fc.assert(
        fc.property(
          fc.array(fc.tuple(fc.nat(base.length - 1), fc.nat(255)), { minLength: 1, maxLength: 4 }),
          fc.nat(40),
          (changes, drop) => {
            const mutated = base.slice()
            for (const [at, value] of changes) mutated[at] = value
            try {
              readMusicXml(drop < 5 ? mutated.slice(0, mutated.length - drop * 200) : mutated)
            } catch (error) {
              expect(error).toBeInstanceOf(UnusableInput)
            }
          },
        ),
        { numRuns: 1000, seed: 11 },
      )
    }
  })
})

describe('who plays what', () => {
  it('keeps a voice that visits the other staff in its hand, and says so', () => {
    const right = (pitches: string, staff: number) =>
      pitches
        .split(' ')
        .map(pitch => note({ pitch, length: 1, staff, voice: 1 }))
        .join('')
    const { notes, warnings } = readMusicXml(
      bytesOf(
        pianoScore([
          attributes({ staves: 2 }) +
            right('C5 B4 A4 G4', 1) +
            backup(4) +
            note({ pitch: 'C3', length: 4, staff: 2, voice: 5 }),
          right('F4 E4', 1) + right('C4 A3', 2) + backup(4) + note({ pitch: 'F2', length: 4, staff: 2, voice: 5 }),
          right('C4 D4 E4 F4', 1) + backup(4) + note({ pitch: 'G2', length: 4, staff: 2, voice: 5 }),
        ]),
      ),
    ).arrangement
    expect(notes.filter(one => one.hand === 'left').map(one => one.spelled)).toEqual(['C3', 'F2', 'G2'])
    expect(warnings.map(remarkText)).toEqual([
      '2 notes written across the staves stay with the hand whose voice they belong to',
    ])
  })

  it('tells both hands apart where they share one staff', () => {
    const bars = ['C5', 'D5', 'E5', 'D5'].map(
      (top, index) =>
        (index === 0 ? attributes() : '') +
        [0, 1, 2, 3]
          .map(
            () =>
              note({ pitch: ['C3', 'G2', 'C3', 'G2'][index], length: 1 }) +
              note({ pitch: top, length: 1, chord: true }),
          )
          .join(''),
    )
    const { notes, warnings } = readMusicXml(bytesOf(pianoScore(bars))).arrangement
    expect(notes.every(one => one.hand === (one.pitch >= 60 ? 'right' : 'left'))).toBe(true)
    expect(remarkText(warnings[0]!)).toContain('both hands are written on one staff')
  })
})
