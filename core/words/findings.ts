import type { Finding, HesitationCause, Place } from '../ear/finding'
import { inWords, numberWord, plural, seconds, stepsText, timesText } from './amounts'
import { displayName, type NoteNames } from './note-names'
import { barRangeText, barNumbersText, barText, beatText, lowerFirst, placeText } from './places'

/** How a player wants to be told: `noteNames` as set. */
export interface Wording {
  noteNames?: NoteNames
}

/**
 * The sentences for the findings of a pass, one for each, in their order. That of a clean pass carries the largest of
 * what could still be better; it is the one sentence shown.
 */
export const findingTexts = (findings: readonly Finding[], wording: Wording = {}): string[] =>
  findings.map((finding, index) =>
    index === 0 && finding.kind === 'clean' ? cleanText(finding, findings[1], wording) : findingText(finding, wording),
  )

/** The one sentence shown after a pass. */
export const passSentence = (findings: readonly Finding[], wording: Wording = {}): string =>
  findingTexts(findings.slice(0, 2), wording)[0] ?? ''

function cleanText(clean: Extract<Finding, { kind: 'clean' }>, next: Finding | undefined, wording: Wording): string {
  if (clean.usualWaitMs !== undefined) return findingText(clean, wording)
  if (!next) return 'Clean: every note right and in time.'
  const advice = nextText(next, wording)
  return advice === undefined
    ? `Clean: every note right and in time. ${findingText(next, wording)}`
    : `Clean. Next: ${advice}`
}

const handText = (hand: Place['hand']): string =>
  hand === undefined ? 'Both hands' : `${hand === 'left' ? 'Left' : 'Right'} hand`
const theHand = (hand: Place['hand']): string => (hand === undefined ? 'the notes' : `the ${hand} hand’s notes`)

/** Advice for a player who has the notes, the time and the hands: one thing to do, and the figure behind it. */
function nextText(finding: Finding, { noteNames }: Wording): string | undefined {
  const name = (spelled: string) => displayName(spelled, false, noteNames)
  switch (finding.kind) {
    case 'uneven':
      return `play it more evenly; the notes lie ${finding.ms} ms to either side of the beat.`
    case 'chord-spread':
      return `drop the hand on all its keys at once; the widest chord, in ${lowerFirst(placeText(finding, { hand: false }))}, is ${finding.ms} ms apart.`
    case 'released-early':
      return `hold ${theHand(finding.hand)}; they last ${finding.percent} % of their length.`
    case 'blurred':
      return `lift each finger of the ${finding.hand} hand as the next one plays; ${plural(finding.count, 'note')} ring${finding.count === 1 ? 's' : ''} on by ${finding.ms} ms.`
    case 'swing':
      return finding.asked < 1.05
        ? `make the eighths even; they come out ${finding.ratio.toFixed(1)} to 1.`
        : `${finding.ratio < finding.asked ? 'swing the eighths more' : 'swing the eighths less'}; they come out ${finding.ratio.toFixed(1)} to 1, and ${finding.asked.toFixed(1)} to 1 is asked for.`
    case 'balance':
      return `bring the melody out; the left hand is louder by ${finding.steps} of 127 steps.`
    case 'accent':
      return finding.sticksOut
        ? `let ${name(finding.written)} in ${lowerFirst(placeText(finding, { hand: false }))} join its neighbours; it is ${finding.steps} of 127 steps louder.`
        : `let the accent on ${name(finding.written)} in ${lowerFirst(placeText(finding, { hand: false }))} stand out.`
    case 'dynamics':
      return finding.shape === 'level'
        ? `make the change from ${finding.from} to ${finding.to} in ${lowerFirst(barText(finding.bar))} heard.`
        : `make the ${finding.shape} in ${lowerFirst(barText(finding.bar))} heard.`
    case 'pedal-late':
      return finding.held
        ? 'lift the pedal as the new chord goes down; it stays down over the changes.'
        : `lift the pedal as the new chord goes down; it comes up ${finding.ms} ms late.`
    case 'pedal-early':
      return `keep the pedal down until the new chord sounds; it comes up ${finding.ms} ms early.`
    default:
      return undefined
  }
}

/**
 * The sentence for one finding: the place as the player sees it, the amount in words and figure, and what to do next.
 */
export function findingText(finding: Finding, { noteNames }: Wording = {}): string {
  const name = (spelled: string, octave = false) => displayName(spelled, octave, noteNames)
  const chord = (notes: readonly string[]) => notes.map(one => name(one)).join(' ')
  switch (finding.kind) {
    case 'clean':
      return finding.usualWaitMs === undefined
        ? 'Clean: every note right and in time.'
        : `Every key right, in your own time${finding.usualWaitMs > 0 ? `; a step took ${seconds(finding.usualWaitMs)} s` : ''}.`
    case 'nothing-played':
      return finding.ownTime
        ? 'Nothing was played yet.'
        : `No notes were heard in this pass; ${finding.notes} were due. Wait for the count-in, then begin.`
    case 'not-this-music':
      return finding.right === 0
        ? `None of the ${finding.notes} notes due here was heard. Check the hands, the octave and the part, then begin again.`
        : `This sounds like something else: only ${finding.right} of ${plural(finding.played, 'played note')} fit what is written here. Check the part and the hands, then begin again.`
    case 'wrong-note': {
      if (finding.triedBefore)
        return `${placeText(finding)}: ${finding.triedBefore.map(one => name(one)).join(', ')} came before the right ${finding.ofChord ? 'keys' : 'key'}${others(finding.count, 'place')}.`
      const instead = `${name(finding.instead)} instead of ${name(finding.written)}`
      return finding.count > 1
        ? `${placeText(finding, { beat: false })}: ${finding.count} wrong notes, first ${instead} on ${beatText(finding.beat)}. Play that bar alone, slower, until it is right three times.`
        : `${placeText(finding)}: ${instead}. Play that beat alone three times, then the bar.`
    }
    case 'missed-note':
      return finding.count > 1
        ? `${placeText(finding, { beat: false })}: ${finding.count} notes are missing, first ${name(finding.written, true)} on ${beatText(finding.beat)}. Play that bar alone, slower, listening for each of them.`
        : `${placeText(finding)}: ${finding.grace ? 'the grace note ' : ''}${name(finding.written, true)} is missing. Play that beat alone three times, then the bar.`
    case 'octave': {
      const where = finding.tooHigh ? 'high' : 'low'
      return finding.count > 1
        ? `${placeText(finding, { beat: false })}: ${finding.count} notes were played in another octave, too ${where}. Find ${name(finding.written, true)} before you start.`
        : `${placeText(finding)}: ${name(finding.written)} was played in another octave, too ${where}. Find ${name(finding.written, true)} before you start.`
    }
    case 'extra-note':
      return finding.count > 1
        ? `${barText(finding.bar)}: ${finding.count} extra keys were struck, first ${name(finding.struck)} near ${beatText(finding.beat)}. Lift the fingers that have nothing to do, and play the bar once more.`
        : `An extra ${name(finding.struck)} was struck near ${lowerFirst(placeText(finding))}. Lift that finger and play the beat once more.`
    case 're-struck-tie':
      return `${placeText(finding)}: ${name(finding.written)} is tied, and was struck again${others(finding.count, 'tied note')}. Hold the key and count through the tie.`
    case 'hand-displaced':
      return displacedText(finding)
    case 'signature-forgotten':
      return `${signatureText(finding.fifths)} in the key signature: ${name(finding.instead)} was played for ${name(finding.written)} ${timesText(finding.count)}, first in ${lowerFirst(placeText(finding))}. Before you begin, find every ${name(finding.written)} of the part on the keys.`
    case 'habit':
      return habitText(finding, name, chord)
    case 'restart':
      return `You stopped and took up again ${timesText(finding.count)}, ${finding.count === 1 ? 'at' : 'first at'} ${lowerFirst(placeText(finding, { hand: false }))}. Choose a tempo at which you can keep going past a slip.`
    case 'skipped':
      return `In ${barNumbersText(finding.bars)} ${plural(finding.count, 'note')} ${finding.count === 1 ? 'was' : 'were'} left out. Play across that place slowly, from the bar before it.`
    case 'stopped':
      return `The take stops before ${lowerFirst(placeText(finding, { hand: false }))}; ${plural(finding.count, 'note')} after it ${finding.count === 1 ? 'was' : 'were'} not heard. Begin the next one there.`
    case 'repeat-not-taken':
      return `The repeat of ${barRangeText(finding.fromBar, finding.toBar)} was not taken. That is your choice; as it is written, it comes once more.`
    case 'repeat-taken-again':
      return `The repeat of ${barRangeText(finding.fromBar, finding.toBar)} was taken once more than is written. Look ahead to the repeat sign as you come to it.`
    case 'hesitation':
      return finding.waited
        ? `${placeText(finding, { hand: !finding.isChord })} took longest (${seconds(finding.ms)} s). That is fine here.`
        : `${placeText(finding)}: a pause of ${inWords(finding.ms)} (${finding.ms} ms) before ${finding.because === 'next note' ? (finding.isChord ? 'the chord' : name(finding.written)) : BEFORE[finding.because]}. Practise only the step into it: the beat before, then this one.`
    case 'late':
      return `Every note is about ${finding.ms} ms late, steadily. Aim a little before the click${finding.maybeKeyboard ? '; if it feels exact to you, the keyboard answers late: set its delay in Settings' : ''}.`
    case 'early':
      return `Every note is about ${finding.ms} ms early, steadily. Let the click come first, then play with it.`
    case 'rushing':
    case 'dragging':
      return `The tempo ${finding.kind === 'rushing' ? 'runs ahead' : 'falls behind'} by ${finding.percent.toFixed(1)} % from beginning to end. Say the count aloud${finding.withClick ? ' and wait for each click' : ', or play once with the metronome'}.`
    case 'uneven':
      return finding.place
        ? `${placeText(finding.place)}: ${name(finding.written!)} comes ${Math.abs(finding.ms)} ms ${finding.ms > 0 ? 'late' : 'early'}; ${Math.round(100 * finding.onTimeShare)} % of the notes are in time. Play that bar once more, counting its beats.`
        : `The notes lie ${finding.ms} ms to either side of the beat. Play it once more slower, counting every beat, until it is even.`
    case 'rhythm':
      return rhythmText(finding)
    case 'section-tempo':
      return sectionText(finding)
    case 'wrong-tempo':
      return wrongTempoText(finding)
    case 'counting':
      return countingText(finding)
    case 'late-entry':
      return entryText(finding)
    case 'hands-apart':
      return finding.beats > 0.4
        ? `The ${finding.hand} hand comes ${Math.abs(finding.beats - 1) < 0.15 ? 'a whole beat' : `${finding.beats.toFixed(1)} beats`} (${finding.ms} ms) after the other. Play only the first beat of each bar, both hands dropping together.`
        : `The ${finding.hand} hand comes ${finding.ms} ms after the other. Play only the meeting points, both hands dropping together.`
    case 'hand-pulled':
      return `The ${finding.hand} hand’s ${numberWord(finding.own)} are drawn toward the other hand’s ${numberWord(finding.other)}: between the beats they lie ${finding.ms} ms off. Play the ${finding.hand} hand alone until it is even, then add the other, softly.`
    case 'chord-spread':
      return `${placeText(finding)}: the chord’s notes are ${finding.ms} ms apart${finding.count > 1 ? ` (and ${plural(finding.count - 1, 'other chord')})` : ''}. Shape the hand over all its keys first, then drop it.`
    case 'released-early':
      return `${handText(finding.hand)}: ${plural(finding.count, 'note')} ${finding.count === 1 ? 'is' : 'are'} let go early, held for ${finding.percent} % of their length, most of all ${lowerFirst(placeText(finding, { hand: false }))}. Keep each key down until the next one sounds.`
    case 'blurred':
      return `${handText(finding.hand)}: ${plural(finding.count, 'note')} ring${finding.count === 1 ? 's' : ''} on into the next, most of all ${name(finding.written)} in ${lowerFirst(placeText(finding, { hand: false }))} (${finding.worstMs} ms). Lift each finger as the next one plays.`
    case 'swing':
      return swingText(finding)
    case 'balance':
      return `The left hand is louder than the melody by ${finding.steps} of 127 steps. Play it once with the left hand as soft as it will go, then bring it up to just below the melody.`
    case 'accent':
      return finding.sticksOut
        ? `${placeText(finding)}: ${name(finding.written)} sticks out, ${finding.steps} of 127 steps louder than its neighbours. Play it as softly as you can, then let it join them.`
        : `${placeText(finding)}: the accent on ${name(finding.written)} does not stand out${finding.count > 1 ? ` (nor ${plural(finding.count - 1, 'other')})` : ''}. Let the arm fall into that note and keep its neighbours light.`
    case 'dynamics':
      return finding.shape === 'level'
        ? `${barText(finding.bar)}: the change from ${finding.from} to ${finding.to} is not heard yet. Play the bar before and this one alone, and make the difference too large once.`
        : `${barText(finding.bar)}: the ${finding.shape} from ${beatText(finding.beat)} is not heard yet. Begin it ${finding.shape === 'crescendo' ? 'softer' : 'louder'} than you think.`
    case 'pedal-late':
      return `The pedal comes up ${finding.held ? 'not at all' : `${finding.ms} ms late`} at ${plural(finding.count, 'change')} of harmony, first in ${lowerFirst(placeText(finding))}, so two chords ring together. Lift the foot as the new chord goes down.`
    case 'pedal-early':
      return `The pedal comes up ${finding.ms} ms early at ${plural(finding.count, 'change')} of harmony, first in ${lowerFirst(placeText(finding))}, and leaves a gap. Keep the foot down until the new chord sounds.`
  }
}

const others = (count: number, what: string): string => (count > 1 ? `; ${plural(count - 1, `other ${what}`)} too` : '')

const BEFORE: Record<Exclude<HesitationCause, 'next note'>, string> = {
  'chord change': 'the chord change',
  'position shift': 'the hand moves to its new position',
  crossing: 'the crossing',
  jump: 'the jump',
  'hands joining': 'the hands come together',
  'new material': 'the new section',
}

type Of<Kind extends Finding['kind']> = Extract<Finding, { kind: Kind }>

function displacedText({
  hand,
  halfSteps,
  keys,
  whole,
  count,
  fromBar,
  toBar,
  ...place
}: Of<'hand-displaced'>): string {
  const how =
    halfSteps % 12 === 0
      ? stepsText(halfSteps)
      : Math.abs(keys) === 1 && Math.abs(halfSteps) <= 2
        ? 'one key'
        : stepsText(halfSteps)
  const where = halfSteps > 0 ? 'high' : 'low'
  return whole
    ? `The ${hand} hand lies ${how} too ${where} throughout; the rest was understood. Find its first key before you begin.`
    : `${placeText({ hand, ...place })}: the hand lies ${how} too ${where} for ${plural(count, 'note')}${fromBar === toBar ? '' : `, ${barRangeText(fromBar, toBar)}`}. Find its first key there before you begin.`
}

const signatureText = (fifths: number): string => {
  const count = Math.abs(fifths)
  return `${count === 1 ? 'There is one' : `There are ${numberWord(count)}`} ${fifths > 0 ? (count === 1 ? 'sharp' : 'sharps') : count === 1 ? 'flat' : 'flats'}`
}

function habitText(
  finding: Of<'habit'>,
  name: (spelled: string) => string,
  chord: (notes: readonly string[]) => string,
): string {
  const where = `in ${plural(finding.count, 'place')}, first ${lowerFirst(placeText(finding, { hand: false }))}`
  switch (finding.habit) {
    case 'same-key':
      return `${handText(finding.hand)}: ${name(finding.instead)} instead of ${name(finding.written)} ${where}. Play each of these places slowly until the finger finds ${name(finding.written)} by itself.`
    case 'inversion':
      return `${handText(finding.hand)}: the chord ${chord(finding.written)} was taken as ${chord(finding.instead)} ${where}. Shape the hand over ${chord(finding.written)} before you play, and check which note is lowest.`
    case 'late-finger':
      return `${handText(finding.hand)}: finger ${finding.finger} comes ${finding.ms} ms after the others, in ${plural(finding.count, 'place')}. Play only the steps into finger ${finding.finger}, slowly, the finger ready on its key.`
    case 'late-key':
      return `${handText(finding.hand)}: ${name(finding.written)} comes ${finding.ms} ms late each time, in ${plural(finding.count, 'place')}. Play only the steps into it, the finger ready on its key.`
  }
}

function rhythmText({ division, asked, played, ...place }: Of<'rhythm'>): string {
  const near = `, most of all in ${lowerFirst(placeText(place))}`
  const ratio = (share: number) => (share / (1 - share)).toFixed(1)
  const percent = Math.round(100 * Math.abs(played - asked))
  const way = played < asked ? 'early' : 'late'
  switch (division) {
    case 'dotted':
      return asked > 0.7
        ? `The dotted notes come out ${ratio(played)} to 1; 3 to 1 is written${near}. Count “1 e & a” and play the short note on a.`
        : `The short note after the dot comes ${way} by ${percent} % of the beat${near}. Say the six parts of the beat aloud and place it on the fourth.`
    case 'triplets':
      return `The triplets are not even: the ${asked < 0.5 ? 'second' : 'third'} note comes ${way} by ${percent} % of the beat${near}. Count “1 trip let” evenly, without playing, then play.`
    case 'thirds':
      return `The three notes of the beat are not even: the ${asked < 0.5 ? 'second' : 'third'} comes ${way} by ${percent} % of the beat${near}. Count “1 2 3” evenly on every beat, without playing, then play.`
    case 'long-short':
      return `The ${asked > 0.5 ? 'short note' : 'long note'} of the beat comes ${way} by ${percent} % of it${near}. Count “1 2 3” on every beat and place it on ${asked > 0.5 ? '3' : '2'}.`
  }
}

function sectionText({ stretches, percent, ratio, meter, withClick, count }: Of<'section-tempo'>): string {
  const [first] = stretches
  const where = meter
    ? `The bars in ${meter}`
    : count === 1
      ? capital(barRangeText(first!.fromBar, first!.toBar))
      : `${plural(count, 'stretch', 'stretches')} (first ${barRangeText(first!.fromBar, first!.toBar)})`
  const isOne = !meter && count === 1 && first!.fromBar === first!.toBar
  const how =
    Math.abs(Math.log(ratio / 1.5)) < 0.07 ? '50 % faster than' : `${percent} % ${ratio > 1 ? 'faster' : 'slower'} than`
  const then = meter
    ? 'Count through the change of meter aloud: find the note value that stays the same.'
    : ratio > 1
      ? 'Say the count aloud before that place and keep it.'
      : 'If it is hard there, take the whole at the tempo of these bars; otherwise count through them.'
  return `${where} ${isOne ? 'was' : 'were'} ${how} ${withClick ? 'the click' : 'the rest'}. ${then}`
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1)

function wrongTempoText({ because, percent, beatBpm, askedBeatBpm }: Of<'wrong-tempo'>): string {
  const figures = `about ${Math.round(beatBpm)} instead of ${Math.round(askedBeatBpm)} beats a minute`
  switch (because) {
    case 'half':
      return `You are playing at half the tempo: ${figures}. Listen for which beat the click marks, or lower the tempo.`
    case 'double':
      return `You are playing at double the tempo: ${figures}. Listen for which beat the click marks before you begin.`
    case 'slower':
      return `You played ${percent} % slower than the click, ${figures}. Start lower: set the tempo to what your hands can do now.`
    case 'faster':
      return `You played ${percent} % faster than the click, ${figures}. Wait for each click before you play.`
  }
}

function countingText({ counted, written, beatType, count, ...place }: Of<'counting'>): string {
  const unit =
    beatType === 4
      ? 'beats'
      : beatType === 8
        ? 'eighths'
        : beatType === 2
          ? 'half notes'
          : beatType === 16
            ? 'sixteenths'
            : 'beats'
  return `You count ${numberWord(counted)} ${unit} where there are ${numberWord(written)}, ${count === 1 ? `in ${lowerFirst(barText(place.bar))}` : `in ${plural(count, 'bar')}, first ${lowerFirst(barText(place.bar))}`}. Count ${numberWord(written)} aloud in every bar, at first without playing.`
}

function entryText({ beats, bars, atBeginning, ...place }: Of<'late-entry'>): string {
  const far = Math.abs(beats)
  const how = bars
    ? bars === 1
      ? 'a bar'
      : `${numberWord(bars)} bars`
    : far === 1
      ? 'one beat'
      : Number.isInteger(far)
        ? `${numberWord(far)} beats`
        : `${far.toFixed(1)} beats`
  const when = beats > 0 ? 'late' : 'early'
  return atBeginning
    ? `You came in ${how} ${when}. Count the bar before it aloud, and begin on its first beat.`
    : `${placeText(place, { hand: false })}: you came in ${how} ${when} after the rest. Count the rest aloud.`
}

function swingText({ ratio, asked, ...place }: Of<'swing'>): string {
  const straight = Math.abs(asked - 1) < 0.05
  const advice = straight
    ? 'Count “1 & 2 &” and place each & exactly between.'
    : ratio < asked
      ? 'Hold the first of each pair longer: count “1 trip let” and play on 1 and let.'
      : 'Let the second of each pair come earlier: count “1 trip let” and play on 1 and let.'
  return `The eighths come out ${ratio.toFixed(1)} to 1; ${straight ? 'even ones are' : `${asked.toFixed(1)} to 1 is`} asked for, most of all in ${lowerFirst(placeText(place))}. ${advice}`
}
