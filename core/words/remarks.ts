import type { Guess } from '../music/guess'
import type { Remark } from '../music/remark'
import { plural } from './amounts'
import { keyName, signatureText } from './note-names'
import { patternTitle } from './patterns'

/** Names as they are listed in a sentence: "Bass", "Strings" and "Organ". */
const quoted = (names: readonly string[]): string => new Intl.ListFormat('en').format(names.map(name => `"${name}"`))

/**
 * A remark about a file as a sentence without a full stop: "cue notes are engraved but not played (bar 3 and 2 more)".
 * Songs of earlier versions keep theirs in words.
 */
export function remarkText(remark: Remark | string): string {
  if (typeof remark === 'string') return remark
  const { bar, places = 1 } = remark
  return `${whatText(remark)}${bar === undefined ? '' : ` (bar ${bar}${places > 1 ? ` and ${places - 1} more` : ''})`}`
}

function whatText(remark: Remark): string {
  switch (remark.kind) {
    case 'chord-by-function':
      return 'a chord given by its function or number is not used'
    case 'chord-kind':
      return `a chord of the kind "${remark.name}" is not named`
    case 'key-off-circle':
      return 'a key signature that is not on the circle of fifths is not used'
    case 'free-meter':
      return 'a free meter is counted in quarter notes'
    case 'ending':
      return `an ending numbered "${remark.name}" is played every time`
    case 'many-staves':
      return `"${remark.name}" has ${remark.staves} staves; the first is taken as the right hand, the others as the left`
    case 'no-hand':
      return `"${remark.name}" is neither hand; its notes are kept but not practised`
    case 'parts-of-other-length':
      return 'the parts do not have the same number of bars; the shorter ones are taken as silent at the end'
    case 'bar-too-long':
      return 'a bar holds more than its meter says; it is played as written'
    case 'bar-too-short':
      return 'a bar holds less than its meter says; it is played as written'
    case 'tie-from-nowhere':
      return 'a tie that comes from nowhere is taken as a new note'
    case 'pedal':
      return `a pedal mark "${remark.name}" is not used`
    case 'metronome':
      return 'a metronome mark without a plain number is not used'
    case 'tempo':
      return `a tempo of "${remark.name}" is not used`
    case 'swing':
      return 'a swing setting without a ratio from 1:1 to 5:1 is not used; the rhythm is taken as written'
    case 'meter-in-bar':
      return 'a change of meter inside a bar is not used'
    case 'backup':
      return 'a <backup> reaches before its bar; it was stopped at the bar line'
    case 'element':
      return `<${remark.name}> is not used`
    case 'cue-notes':
      return 'cue notes are engraved but not played'
    case 'unpitched':
      return 'notes without a pitch are not played'
    case 'quarter-tones':
      return 'quarter tones are rounded to half steps'
    case 'beyond-keys':
      return 'notes beyond the 88 keys cannot be played'
    case 'finger':
      return `fingering "${remark.name}" is not one of 1 to 5 and is not used`
    case 'ornament':
      return `the ornament <${remark.name}> is engraved; only its written note is judged`
    case 'drawn-value':
      return 'a note’s drawn value differs from its <duration>; the duration is used'
    case 'drums':
      return 'drums (channel 10) are not used'
    case 'beyond-hand':
      return `${plural(remark.notes, 'note')} beyond what one hand can hold ${remark.notes === 1 ? 'stays' : 'stay'} with the tracks they come from`
    case 'merged-notes':
      return `${plural(remark.notes, 'note')} on a key that the same hand or track strikes at that moment already ${remark.notes === 1 ? 'is' : 'are'} merged with it`
    case 'left-out':
      return `${remark.notes} of the song’s ${plural(remark.of, 'note')} are left out`
    case 'guess-staves':
      return `${remark.notes} notes written across the staves stay with the hand whose voice they belong to`
    case 'guess-one-staff':
      return 'both hands are written on one staff; they were told apart by pitch, reach and what each is holding'
    case 'guess-voices':
      return `"${remark.right}" is the right hand and "${remark.left}" the left; both share out what lies between`
    case 'guess-parts':
      return `"${remark.right}" is the right hand and "${remark.left}" the left`
  }
}

/** What was decided about an input that does not say it, as a sentence without a full stop. */
export function guessText(guess: Guess): string {
  switch (guess.kind) {
    case 'told-apart':
      return 'where nothing says whose hand a note is, it was told by pitch, reach and what each hand is holding'
    case 'keyboard-of-tracks':
      return `${quoted(guess.both)} is taken as the piano; whatever else the file holds is kept beside it`
    case 'pair-of-tracks':
      return `${quoted(guess.right)} is the right hand and ${quoted(guess.left)}, which is lower, the left`
    case 'choir-of-tracks':
      return `${quoted(guess.right)} is the right hand and ${quoted(guess.left)} the left; both share out what lies between`
    case 'band-of-tracks':
      return `${quoted(guess.right)} is taken as the melody, for the right hand${guess.left.length > 0 ? `; the left hand plays what it can hold of ${quoted(guess.left)}` : ''}`
    case 'in-the-file':
      return remarkText(guess.remark)
    case 'meter-found':
      return `no meter was given; ${guess.meter.beats}/${guess.meter.beatType} was found from where the bass and the chords fall`
    case 'key-found':
      return guess.key
        ? `${keyName(60 + guess.key.tonic, guess.key.fifths)} ${guess.key.mode} was found from the ${guess.from}${guess.changes ? `, with ${plural(guess.changes, 'change')} of key later on` : ''}${guess.insteadOf === undefined ? '' : `; the file says ${signatureText(guess.insteadOf)}, as it does where no key was set, and the notes do not lie there`}`
        : `the key was found from the ${guess.from}`
    case 'key-respelled':
      return `written with ${signatureText(guess.fifths)} instead of the file’s ${signatureText(guess.from)}, which would need double accidentals`
    case 'pickup':
      return `the first note comes ${plural(guess.quarters, 'quarter note')} before a bar line: written as a pickup`
    case 'late-offbeats':
      return `the offbeats are late, ${guess.ratio.toFixed(2)} to 1: written as even eighths with the word "swing"`
    case 'off-the-grid':
      return 'the notes do not lie on exact note values; each beat was written on the plainest grid that fits'
    case 'tempo-found':
      return `the beat was found in the playing: about ${Math.round(guess.bpm)} beats a minute`
    case 'tempo-tapped':
      return `written on the beats that were tapped: about ${Math.round(guess.bpm)} quarter notes a minute`
    case 'tempo-taken':
      return `no tempo was given: ${guess.bpm} was taken`
    case 'chord-lengths':
      return `the chart does not say how long its chords last: ${guess.chordsPerBar === 1 ? 'each has a bar' : `${guess.chordsPerBar} share a bar`}`
    case 'voiced':
      return `a chart has no notes: the left hand plays “${patternTitle(guess.left)}”, the right hand “${patternTitle(guess.right)}”, in the nearest inversions`
  }
}
