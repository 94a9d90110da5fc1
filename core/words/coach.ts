import { CAUTIONS, type Caution } from '../coach/cautions'
import type { ToShowAgain } from '../coach/to-show-again'
import type { Cut } from '../coach/cuts'
import type { LadderHelp } from '../coach/ladder'
import type { Reason, UnitName } from '../coach/reason'
import type { ItemKind, SessionItemName } from '../coach/session'
import type { CoachSettings } from '../coach/settings'
import type { Unit } from '../coach/stages'
import type { FindingKind } from '../ear/finding'
import type { Hands } from '../music/arrangement'
import type { StretchPlace } from '../music/stretch-place'
import type { Meter } from '../music/meter'
import { plural, tempoFigure } from './amounts'
import { stretchText } from './places'

/** What is practised, by name: "Part 3", "the seam of Part 1 and Part 2", "the whole song". */
export function unitText({ kind, names }: Pick<Unit, 'kind' | 'names'>): string {
  if (kind === 'song') return 'the whole song'
  if (kind === 'part') return names[0] ?? ''
  const joined = `${names[0]} ${kind === 'chain' ? 'to' : 'and'} ${names.at(-1)}`
  return kind === 'seam' ? `the seam of ${joined}` : joined
}

const HELP: Record<LadderHelp, string> = {
  'smaller-loop': 'this tempo was lost several times: the hard place alone, with a beat before and after it',
  'one-hand': 'it is still lost: each hand alone once more',
  slower: 'it is still lost: much slower, until it is easy',
  'own-time': 'it is still lost: in your own time, without the click',
}

const FAULTS: Partial<Record<FindingKind, string>> = {
  'released-early': 'the notes held', blurred: 'the notes let go in time', uneven: 'the notes even', 'chord-spread': 'the chords together', swing: 'the swing', balance: 'the melody above the left hand',
  accent: 'the accents', dynamics: 'louder and softer', 'pedal-late': 'the pedal', 'pedal-early': 'the pedal',
}

/** A reason as part of a sentence: it begins small and has no full stop. Tempos in the beats of the meter. */
export function reasonText(reason: Reason, meter?: Meter): string {
  const tempo = (bpm: number) => tempoFigure(bpm, meter)
  switch (reason.kind) {
    case 'own-time-first': return 'first in your own time: the right keys before the right moment'
    case 'start-tempo': return `with the click, at ${tempo(reason.bpm)}`
    case 'hands-together': return `both hands together, at ${tempo(reason.bpm)}`
    case 'over-the-seam': return 'over the seam: the last bar of one and the first of the next'
    case 'back-to-back': return 'the two parts back to back'
    case 'in-one-go': return 'these parts in one go'
    case 'whole-slowly': return `the whole song, slowly, at ${tempo(reason.bpm)}`
    case 'only-new': return `you know the rest of it: only ${barsText(reason.bars)} ${reason.bars.length === 1 ? 'is' : 'are'} new`
    case 'changed': return `${barsText(reason.bars)} ${reason.bars.length === 1 ? 'was' : 'were'} changed since you learned this: only what is new`
    case 'known-elsewhere': return `you have played all of it elsewhere at ${tempo(reason.bpm)}`
    case 'taken-out': return `${unitText(reason.from)} went wrong here at ${tempo(reason.bpm)}: this part by itself up to that tempo`
    case 'whole-again': return `now in the whole again, at ${tempo(reason.bpm)}`
    case 'goes': return `${placedHands(reason)} goes at ${tempo(reason.bpm)}; ${reasonText(reason.then, meter)}`
    case 'turn-over': return `${plural(reason.minutes, 'minute')} at ${placedHands(reason)}, enough for now; ${reasonText(reason.then, meter)}`
    case 'in-a-row': return `${reason.count} ${cleanly(reason)} of ${reason.of} in a row`
    case 'once-more': return 'once more at this tempo'
    case 'near': return 'nearly clean: the same once more'
    case 'clean-once-more': return 'clean: once more, then up'
    case 'slowest-step': return 'this is the slowest step: take your time'
    case 'clean-but': return `clean; now with ${[...new Set(reason.faults.map(fault => FAULTS[fault] ?? 'a good touch'))].slice(0, 2).join(' and ')} too`
    case 'first-go': return `${cleanly(reason)} at the first go: up to ${tempo(reason.to)}`
    case 'probe-up': return `clean at the first go: ${tempo(reason.bpm)} may do as well`
    case 'gate-top': return `${reason.of === 1 ? '' : `${reason.of} `}${cleanly(reason)}${reason.of === 1 ? '' : ' in a row'} at the target tempo`
    case 'gate-up': return `${reason.of === 1 ? cleanly(reason) : `${reason.of} ${cleanly(reason)} in a row`} at ${tempo(reason.from)}: up to ${tempo(reason.to)}`
    case 'down': return `${reason.passes} passes with mistakes at ${tempo(reason.from)}: back to ${tempo(reason.to)}`
    case 'clean-up': return `clean at ${tempo(reason.from)}: up to ${tempo(reason.to)}`
    case 'unclean-down': return `not clean at ${tempo(reason.from)}: down to ${tempo(reason.to)}`
    case 'to-and-fro': return `the tempo goes to and fro about ${tempo(reason.bpm)}: something else first`
    case 'help': return HELP[reason.help]
    case 'lost-everywhere': return 'this tempo was lost several times, and not at one place: once more, in peace'
    case 'good-enough': return `nearly all right and ${reason.clean} of ${reason.of} clean at ${tempo(reason.bpm)}: good enough to go on with; it comes back`
    case 'no-wrong-key': return `${reason.count} of ${reason.of} without a wrong key`
    case 'own-time-once-more': return 'once more in your own time'
    case 'keys-first': return 'the keys are not there yet: in your own time, without the click'
    case 'keys-known': return 'the keys are known: now with the click'
    case 'keys-nearly-known': return 'nearly all keys are known: now with the click, and the one that is missing will come'
    case 'spot': return `${reason.failures} of the last ${reason.passes} passes failed here: this place alone, with a beat before and after it`
    case 'spot-once-more': return 'the same place once more'
    case 'spot-own-time': return 'this place in your own time, without the click'
    case 'spot-slower': return `this place slower, at ${tempo(reason.bpm)}`
    case 'spot-in-a-row': return `${reason.count} clean of ${reason.of} in a row at this place`
    case 'spot-grows': return `${reason.of} clean in a row: a little more around it`
    case 'spot-mended': return 'the hard place goes: back to the whole of it'
    case 'spot-no-better': return 'it does not go any better today: back to the whole of it'
    case 'one-hand': return `the ${reason.hand} hand alone once more, then together again`
    case 'new': return `new: ${reasonText(reason.then, meter)}`
    case 'parts-ready': return `its parts are ready: ${reasonText(reason.then, meter)}`
    case 'review': return 'a review: once clean is enough'
    case 'review-due': return `learned ${reason.days === 0 ? 'today' : reason.days === 1 ? 'yesterday' : `${reason.days} days ago`}${reason.times > 0 ? `, and back for the ${ordinal(reason.times + 1)} time` : ''}: about now it begins to fade`
    case 'faded': return 'it had faded: once more, a little slower'
    case 'faded-today': return 'it had faded: once more today, a little slower'
    case 'warm-up': return 'warm-up: easy and even'
    case 'warm-up-first': return 'something known, slowly, until the hands are warm'
    case 'run': return 'once through, without stopping'
    case 'run-at-last': return 'once through without stopping: it is music at last, whatever happens on the way'
    case 'break': return 'shoulders, water, another thought'
  }
}

/** A slip in a long run is forgiven, and said. */
const cleanly = ({ isNearly }: { isNearly?: true }): string => isNearly ? 'nearly clean' : 'clean'

const placedHands = ({ what, hands }: { what: UnitName, hands: Hands }): string => what.kind !== 'part' ? unitText(what) : hands === 'both' ? `${unitText(what)} together` : `the ${hands} hand of ${unitText(what)}`

/** "bar 12", "bars 12 and 14", "bars 3, 4 and 9", "bars 3 to 6". */
function barsText(bars: readonly number[]): string {
  if (bars.length === 1) return `bar ${bars[0]}`
  if (bars.length > 2 && bars.at(-1)! - bars[0]! === bars.length - 1) return `bars ${bars[0]} to ${bars.at(-1)}`
  return `bars ${bars.slice(0, -1).join(', ')} and ${bars.at(-1)}`
}

const ordinal = (count: number): string => ['first', 'second', 'third', 'fourth', 'fifth'][count - 1] ?? `${count}th`

/** What must be shown again once a song is changed: "Right hand: bar 12. Together: bar 12." */
export const toShowAgainText = (again: readonly ToShowAgain[]): string =>
  again.map(({ hands, bars }) => `${hands === 'both' ? 'together' : `${hands} hand`}, ${barsText(bars)}`).join('; ')

/** What to say when a break is due. */
export function cautionText(caution: Caution): string {
  switch (caution.kind) {
    case 'day': return `${caution.minutes} minutes played today. That is plenty; what you have learned settles overnight.`
    case 'break': return `${caution.minutes} minutes played without a break. Let the hands hang for five; stop for today if anything hurts.`
    case 'same-place': return `${caution.times} times the same place. Play something else for a while; a hand tires before you feel it.`
  }
}

/** The words for the page where all of it stands together. */
export const CARE = `Repetition can hurt. Take a short break at least every ${CAUTIONS.playedMinutes} minutes, do not drill one small passage for long, and stop if it hurts; pain, numbness or tingling that stays belongs with a doctor or physiotherapist. Do not force a span that your hand does not have. Keep headphones at a moderate level. These are the usual cautions of the trade, not medical advice.`

/** What to leave out so that a song is ready in time. */
export function cutText(cut: Cut): string {
  switch (cut.kind) {
    case 'tempo': return `At ${Math.round(100 * cut.share)} % of the tempo it may be ready: right and even counts for more than fast.`
    case 'parts': return `${cut.ready} of ${plural(cut.parts, 'part')} can be ready: end after ${cut.endAfter}, or leave ${cut.leaveOut.join(' and ')} out.`
    case 'hand': return `The ${cut.hand} hand holds it up, in ${plural(cut.parts, 'part')}: a simpler ${cut.hand} hand, as another version of the song, would help most.`
    case 'time': return `Or ${plural(cut.minutes, 'minute')} of playing a day instead of ${cut.insteadOf}.`
  }
}

/** One line for each setting: why it may be set so or otherwise (common practice, on which players differ). */
export const COACH_REASONS: Record<keyof CoachSettings, string> = {
  school: 'Slow first is how most who teach themselves learn a song: every part slowly, joined, the whole song slowly, then the tempo. Some take each part to its tempo before the next; some begin at the end, so that every run leads into what is known best. Turns between many things keep what was learned better overnight in studies of simple movements; how the turns are cut here was tried only on learners made up for the purpose.',
  turnMinutes: 'How long one thing is stayed at while it does not go yet. After that something else, and back to it later: a tired hand learns little.',
  firstHand: 'The hand with more to learn goes first while you are fresh. Some begin with the tune, to know where the song goes; some with the chords, to carry it.',
  gate: 'Sure: one clean pass at the first go, two or three in a row after mistakes, until luck is ruled out. Some count instead: three is quicker, five is surer, ten makes it even, fifty is for a figure that has to run without thinking.',
  ownTimeGate: 'Right keys before right time: while the keys are not known, the program waits for your hand. Whoever reads well may leave it out.',
  tempo: 'Steps are plain to see. Adaptive goes up sooner and comes down sooner, around the tempo you can nearly do.',
  steps: 'Small steps are hardly felt; few steps are soon climbed.',
  joining: 'Each part onto the one before keeps the beginning safest; two by two spreads the work evenly.',
  chordNames: 'Called ahead, a chord is where the hand goes before it is due. Without, the ear and the page have to do it.',
  counting: 'Counting aloud steadies the rhythm; some find it takes the ear away from the sound.',
  fingering: 'The same fingers each time is what the hand remembers. No keyboard can see them, so strict only shows them.',
  advance: 'With the hands on the keys nobody wants to click. Off: every pass stays until you change it.',
  restBars: 'A bar of silence lets the hand let go; without one the beat goes through.',
  warmUp: 'A few minutes of something known before something hard, as for any other muscle.',
}

/** What a preset is for. */
export const PRESET_REASONS = {
  'easy-going': 'Soon to the next part; the song is heard early.',
  thorough: 'Every step is sure before the next one.',
  'by heart': 'Until it runs without the page.',
} as const

export const ITEM_WORDS: Record<ItemKind, string> = { 'warm-up': 'Warm-up', review: 'Comes back', stage: 'Learn', spot: 'Hard spot', join: 'Join', run: 'Once through', break: 'Break' }

/** An item of a session by name: "Learn: Part 3", "Hard spot: Part 3: bars 9 to 10". */
export const itemText = ({ item, unit, place }: SessionItemName): string => `${ITEM_WORDS[item]}: ${placedUnitText(unit, place)}`

/** What is practised, and where in it: "Part 3: bars 9 to 10". */
export const placedUnitText = (unit: Pick<Unit, 'kind' | 'names'>, place?: StretchPlace): string => place ? `${unitText(unit)}: ${stretchText(place)}` : unitText(unit)
