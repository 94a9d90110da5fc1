import { CAUTIONS, type Caution } from '../coach/cautions'
import type { RelearnBars } from '../coach/to-show-again'
import type { Cut } from '../coach/cuts'
import type { Reason, UnitName, LadderHelp } from '../coach/reason'
import type { ItemKind, PracticeRole, SessionItemName } from '../coach/session'
import type { CoachSettings } from '../coach/settings'
import type { Experience } from '../coach/starting-tempo'
import type { Unit } from '../coach/stages'
import type { FindingKind } from '../ear/finding'
import type { Hands } from '../music/arrangement'
import type { SpanPlace } from '../music/stretch-place'
import type { Meter } from '../music/meter'
import { listText, plural, tempoFigure } from './amounts'
import { stretchText } from './places'

/** What is practised, by name: "Part 3", "the seam of Part 1 and Part 2", "the whole song". */
export function unitText({ kind, names }: Pick<Unit, 'kind' | 'names'>): string {
  if (kind === 'song') return 'the whole song'
  if (kind === 'part') return names[0] ?? ''
  const joined = `${names[0]} ${kind === 'chain' ? 'to' : 'and'} ${names.at(-1)}`
  return kind === 'seam' ? `the seam of ${joined}` : joined
}

const HELP: Record<LadderHelp, string> = {
  'smaller-loop': 'this tempo has failed several times: just the hard spot, with a beat before and after',
  'one-hand': 'it still does not work: each hand alone once more',
  slower: 'it still does not work: much slower, until it is easy',
  'own-time': 'it still does not work: in your own time, without the click',
}

const FAULTS: Partial<Record<FindingKind, string>> = {
  'released-early': 'the notes held',
  blurred: 'the notes let go in time',
  uneven: 'the notes even',
  'chord-spread': 'the chords together',
  swing: 'the swing',
  balance: 'the melody above the left hand',
  accent: 'the accents',
  dynamics: 'louder and softer',
  'pedal-late': 'the pedal',
  'pedal-early': 'the pedal',
}

/** A reason as part of a sentence: it begins small and has no full stop. Tempos in the beats of the meter. */
export function reasonText(reason: Reason, meter?: Meter): string {
  const tempo = (bpm: number) => tempoFigure(bpm, meter)
  switch (reason.kind) {
    case 'own-time-first':
      return 'first in your own time: find the right keys, then think about when'
    case 'start-tempo':
      return `with the click, at ${tempo(reason.bpm)}`
    case 'hands-together':
      return `both hands together, at ${tempo(reason.bpm)}`
    case 'over-the-seam':
      return 'across the seam: the last bar of one part and the first of the next'
    case 'back-to-back':
      return 'the two parts back to back'
    case 'in-one-go':
      return 'these parts in one run'
    case 'whole-slowly':
      return `the whole song, slowly, at ${tempo(reason.bpm)}`
    case 'only-new':
      return `you know the rest of it: only ${barsSpanText(reason.bars)} ${reason.bars.length === 1 ? 'is' : 'are'} new`
    case 'changed':
      return `${barsSpanText(reason.bars)} ${reason.bars.length === 1 ? 'was' : 'were'} changed since you learned this: only what is new`
    case 'known-elsewhere':
      return `you have already played all of it elsewhere at ${tempo(reason.bpm)}`
    case 'taken-out':
      return `${unitText(reason.from)} failed here at ${tempo(reason.bpm)}: this part on its own, up to that tempo`
    case 'whole-again':
      return `back to the whole, at ${tempo(reason.bpm)}`
    case 'goes':
      return `${placedHands(reason)} works at ${tempo(reason.bpm)}; ${reasonText(reason.then, meter)}`
    case 'turn-over':
      return `${plural(reason.minutes, 'minute')} on ${placedHands(reason)}: enough for now; ${reasonText(reason.then, meter)}`
    case 'in-a-row':
      return `${reason.count} ${cleanly(reason)} of ${reason.of} in a row`
    case 'once-more':
      return 'once more at this tempo'
    case 'near':
      return 'nearly clean: once more'
    case 'clean-once-more':
      return 'clean: once more, then up'
    case 'slowest-step':
      return 'this is the slowest step: take your time'
    case 'clean-but':
      return `clean; now with ${listText([...new Set(reason.faults.map(fault => FAULTS[fault] ?? 'a good touch'))].slice(0, 2))} too`
    case 'first-go':
      return `${cleanly(reason)} first time: up to ${tempo(reason.to)}`
    case 'probe-up':
      return `clean first time: try ${tempo(reason.bpm)}`
    case 'gate-top':
      return `${reason.of === 1 ? '' : `${reason.of} `}${cleanly(reason)}${reason.of === 1 ? '' : ' in a row'} at the target tempo`
    case 'gate-up':
      return `${reason.of === 1 ? cleanly(reason) : `${reason.of} ${cleanly(reason)} in a row`} at ${tempo(reason.from)}: up to ${tempo(reason.to)}`
    case 'down':
      return `${reason.passes} passes with mistakes at ${tempo(reason.from)}: back to ${tempo(reason.to)}`
    case 'clean-up':
      return `clean at ${tempo(reason.from)}: up to ${tempo(reason.to)}`
    case 'unclean-down':
      return `not clean at ${tempo(reason.from)}: down to ${tempo(reason.to)}`
    case 'to-and-fro':
      return `the tempo keeps swinging around ${tempo(reason.bpm)}: something else first`
    case 'help':
      return HELP[reason.help]
    case 'lost-everywhere':
      return 'this tempo has failed several times, in different places: once more, calmly'
    case 'good-enough':
      return `nearly all notes right, ${reason.clean} of ${reason.of} passes clean at ${tempo(reason.bpm)}: good enough to move on; it will come up again`
    case 'no-wrong-key':
      return `${reason.count} of ${reason.of} without a wrong key`
    case 'own-time-once-more':
      return 'once more in your own time'
    case 'keys-first':
      return 'the keys are not secure yet: in your own time, without the click'
    case 'keys-known':
      return 'you know the keys: now with the click'
    case 'keys-nearly-known':
      return 'you know nearly all the keys: now with the click; the last one will follow'
    case 'spot':
      return `${reason.failures} of the last ${reason.passes} passes failed here: just this spot, with a beat before and after`
    case 'spot-once-more':
      return 'the same spot once more'
    case 'spot-own-time':
      return 'this spot in your own time, without the click'
    case 'spot-slower':
      return `this spot slower, at ${tempo(reason.bpm)}`
    case 'spot-in-a-row':
      return `${reason.count} clean of ${reason.of} in a row at this spot`
    case 'spot-grows':
      return `${reason.of} clean in a row: now a little more around it`
    case 'spot-mended':
      return 'hard spot fixed: back to the full passage'
    case 'spot-no-better':
      return 'no better today: back to the full passage'
    case 'one-hand':
      return `the ${reason.hand} hand alone once more, then together again`
    case 'new':
      return `new: ${reasonText(reason.then, meter)}`
    case 'parts-ready':
      return `its parts are ready: ${reasonText(reason.then, meter)}`
    case 'review':
      return 'a review: one clean pass is enough'
    case 'review-due':
      return `learned ${reason.days === 0 ? 'today' : reason.days === 1 ? 'yesterday' : `${reason.days} days ago`}${reason.times > 0 ? `, ${ordinal(reason.times + 1)} review` : ''}: due before it fades`
    case 'faded':
      return 'it had faded: once more, a little slower'
    case 'faded-today':
      return 'it had faded: once more today, a little slower'
    case 'warm-up':
      return 'warm-up: easy and even'
    case 'warm-up-first':
      return 'something you know, slowly, until your hands are warm'
    case 'drill':
      return 'a drill: even first, then faster'
    case 'run':
      return 'once through, without stopping'
    case 'run-at-last':
      return 'once through without stopping: play on, even if you slip'
    case 'break':
      return 'loosen your shoulders, drink some water, think of something else'
  }
}

/** A slip in a long run is forgiven, and mentioned. */
const cleanly = ({ isNearly }: { isNearly?: true }): string => (isNearly ? 'nearly clean' : 'clean')

const placedHands = ({ what, hands }: { what: UnitName; hands: Hands }): string =>
  what.kind !== 'part'
    ? unitText(what)
    : hands === 'both'
      ? `${unitText(what)} together`
      : `the ${hands} hand of ${unitText(what)}`

/** "bar 12", "bars 12 and 14", "bars 3, 4 and 9", "bars 3 to 6". */
function barsSpanText(bars: readonly number[]): string {
  if (bars.length === 1) return `bar ${bars[0]}`
  if (bars.length > 2 && bars.at(-1)! - bars[0]! === bars.length - 1) return `bars ${bars[0]} to ${bars.at(-1)}`
  return `bars ${listText(bars.map(String))}`
}

const ordinal = (count: number): string => ['first', 'second', 'third', 'fourth', 'fifth'][count - 1] ?? `${count}th`

/** What must be shown again once a song is changed: "Right hand: bar 12. Together: bar 12." */
export const relearnText = (again: readonly RelearnBars[]): string =>
  again.map(({ hands, bars }) => `${hands === 'both' ? 'together' : `${hands} hand`}, ${barsSpanText(bars)}`).join('; ')

/** What to say when a break is due. */
export function cautionText(caution: Caution): string {
  switch (caution.kind) {
    case 'day':
      return `You have played ${caution.minutes} minutes today. That is plenty; what you learned settles overnight.`
    case 'break':
      return `${caution.minutes} minutes without a break. Let your hands hang for five; stop for today if anything hurts.`
    case 'same-place':
      return `The same place ${caution.times} times. Play something else for a while; a hand tires before you feel it.`
  }
}

/** The words for the page where all of it stands together. */
export const CARE = `Repetition can hurt. Take a short break at least every ${CAUTIONS.playedMinutes} minutes, do not drill one small passage for long, and stop if it hurts; pain, numbness or tingling that stays belongs with a doctor or physiotherapist. Do not force a stretch your hand does not have. Keep headphones at a moderate level. These are the usual cautions of the trade, not medical advice.`

/** What to leave out so that a song is ready in time. */
export function cutText(cut: Cut): string {
  switch (cut.kind) {
    case 'tempo':
      return `Aim for ${Math.round(100 * cut.share)} % of the tempo: right and even matters more than fast.`
    case 'parts':
      return `${cut.ready} of ${plural(cut.parts, 'part')} can be ready: end after ${cut.endAfter}, or leave out ${cut.leaveOut.join(' and ')}.`
    case 'hand':
      return `The ${cut.hand} hand is what takes longest, in ${plural(cut.parts, 'part')}: an edition with a simpler ${cut.hand} hand would help most.`
    case 'time':
      return `Play ${plural(cut.minutes, 'minute')} a day instead of ${cut.insteadOf}.`
  }
}

/** One line for each setting: why it may be set so or otherwise (common practice, on which players differ). */
/** How somebody says what they can play already. */
export const EXPERIENCE_WORDS: Record<Experience, string> = {
  new: 'I am just beginning',
  some: 'I play simple pieces with both hands',
  fluent: 'I learn most of what I like, given time',
}

export const COACH_REASONS: Record<keyof CoachSettings, string> = {
  experience: 'How slowly new notes begin. If it is wrong, the first passes put it right.',
  school:
    'Slow first is how most people learn a song on their own: every part slowly, joined, the whole song slowly, then up to tempo. Some bring each part up to tempo before the next; some start at the end, so that every run leads into what they know best. Interleaving many things helps memory overnight in studies of simple movements; how it is done here has been tried on simulated learners only.',
  turnMinutes:
    'How long to stay with something that does not work yet before moving on and coming back later. A tired hand learns little.',
  firstHand:
    'Start with the hand that has more to learn, while you are fresh. Some prefer the melody first, to know where the song goes; some the chords, to support it.',
  gate: 'Reliable: one clean pass if it works first time, two or three in a row after mistakes, until luck is ruled out. Some prefer a fixed count: three is quicker, five is safer, ten makes it even, fifty is for a figure that has to run by itself.',
  ownTimeGate:
    'Right keys before right time: until you know the keys, the program waits for your hand. If you read well, you can skip it.',
  tempo: 'Steps are easy to follow. Adaptive moves up and down sooner, around the tempo you can just about manage.',
  steps: 'Small steps are barely noticeable; a few large ones are quicker.',
  joining: 'Adding each part to the one before makes the beginning most secure; two by two spreads the work evenly.',
  chordNames: 'Seeing the next chord early gives your hand time. Without it you rely on ear and page.',
  counting: 'Counting aloud steadies the rhythm; some find it distracts from the sound.',
  fingering:
    'The hand remembers the same fingers used each time. A keyboard cannot see them, so they are shown, not checked.',
  advance: 'With your hands on the keys you do not want to click. When off, every pass repeats until you change it.',
  restBars: 'A silent bar lets the hand relax; without one the beat carries straight on.',
  warmUp: 'A few easy minutes before something hard, as with any muscle.',
}

/** What a preset is for. */
export const PRESET_REASONS = {
  'easy-going': 'Moves on quickly; you hear the song early.',
  thorough: 'Every step is secure before the next.',
  'by heart': 'Until you no longer need the page.',
} as const

export const ITEM_WORDS: Record<ItemKind, string> = {
  'warm-up': 'Warm-up',
  review: 'Review',
  drill: 'Drill',
  stage: 'Learn',
  spot: 'Hard spot',
  join: 'Join',
  run: 'Run-through',
  break: 'Break',
}

/** What something is in a day. */
export const ROLE_WORDS: Record<PracticeRole, string> = {
  song: 'a song to learn',
  drill: 'a drill',
  'warm-up': 'a warm-up',
}

/** An item of a session by name: "Learn: Part 3", "Hard spot: Part 3: bars 9 to 10". */
export const itemText = ({ item, unit, place }: SessionItemName): string =>
  `${ITEM_WORDS[item]}: ${placedUnitText(unit, place)}`

/** What is practised, and where in it: "Part 3: bars 9 to 10". */
export const placedUnitText = (unit: Pick<Unit, 'kind' | 'names'>, place?: SpanPlace): string =>
  place ? `${unitText(unit)}: ${stretchText(place)}` : unitText(unit)
