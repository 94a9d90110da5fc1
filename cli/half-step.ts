import { UnusableInput } from '#core/formats/unusable'
import { UsageError } from './usage'
import { accompany } from './commands/accompany'
import { archive } from './commands/archive'
import { arrange } from './commands/arrange'
import { assess } from './commands/assess'
import { bench } from './commands/bench'
import { convert } from './commands/convert'
import { drill } from './commands/drill'
import { fingering } from './commands/fingering'
import { follow } from './commands/follow'
import { inspect } from './commands/inspect'
import { perform } from './commands/perform'
import { plan } from './commands/plan'
import { recognise } from './commands/recognise'
import { simulate } from './commands/simulate'
import { split } from './commands/split'

const COMMANDS: Readonly<Record<string, (args: string[]) => void | Promise<void>>> = {
  inspect,
  convert,
  split,
  fingering,
  simulate,
  assess,
  follow,
  perform,
  accompany,
  arrange,
  drill,
  recognise,
  plan,
  archive,
  bench,
}

const USAGE = `usage: half-step COMMAND …
  SCORE is MusicXML (.musicxml .xml .mxl), a MIDI file, or a chord chart (bars and slashes, or ChordPro). Of one with several parts or
  tracks --right, --left, --both, --role, --nobody PART[,PART] say who plays what, by number or name as inspect lists them in voices
  inspect SCORE                          the arrangement in a score, as JSON
  convert SCORE OUT                      the arrangement as .musicxml, .mxl, .mid or .json
  split SCORE [--max-bars N]             proposed parts and what each is like
  fingering SCORE --hand right|left [--span HALF_STEPS] [--from BAR] [--to BAR] [--keep written|own|none]
                                         a finger for every note, what it costs, and what the hand does
  simulate SCORE --bpm N --seed N [--hands right|left|both] [--bars A-B] [--character good|careful|impatient|uneven|lateLeft]
           [--jitter MS] [--spread MS] [--wrong P] [--missed P] [--extra P] [--offset MS] [--left-late MS] [--hesitate BAR:BEAT:MS]…
           [--restart BAR:BEAT:MOMENTS:MS]… [--skip A-B]… [--rush PERCENT] [--stretch FROM:TO] [--swing RATIO] [--articulation SHARE]
           [--melody STEPS] [--pedal-late MS] -o TAKE.mid [--truth T.json]
  assess SCORE TAKE.mid [--bpm N] [--hands right|left|both] [--bars A-B] [--mode steady|free|own-time] [--offset MS]
           [--strictness gentle|normal|strict]
  follow SCORE TAKE.mid [--bpm N] [--hands right|left|both] [--bars A-B]
                                         the place believed at each stroke, not knowing what comes
  perform SCORE [--bpm N] [--hands right|left|both|none] [--bars A-B] [--roles all|none] [--band STYLE] [--click SUBDIVISION]
           [--from TAKE.mid [--exaggerate N]] [--follow TAKE.mid] -o OUT.mid
                                         what would sound, as MIDI. STYLE: --band list names them; SUBDIVISION: bars, beats, backbeats, eighths,
                                         triplets, sixteenths; --from plays a take back; --follow goes with the player of one
  accompany CHART|SCORE --pattern NAME|FILE.json [--hand left|right] [--transpose HALF_STEPS] [--from BAR] [--to BAR] [--reach HALF_STEPS] -o OUT
                                         one hand's notes from a pattern over the chords; --list names the patterns
  arrange SCORE --level 1|2|3|4 [--pattern NAME|FILE.json] [--reach HALF_STEPS] -o OUT
                                         an edition for two hands: the tune with roots, with a pattern, with thinned voices, with all that can be held
  drill RECIPE.json|NAME [--reach HALF_STEPS] -o OUT
                                         a drill from its recipe, or one that is ready; --list gives those
  recognise TAKE.mid SCORE…              which stretches of which scores a take holds, by their numbers from 0
  plan SCORE [--school slow-first|tempo-first|backward|turns] [--player flawless|slips|ordinary|careful|quick|oneHanded|scattered]
           [--minutes N] [--days N]      what the coach asks for, pass by pass, and why; minutes are those of a day
  archive check FILE                     reads an archive of a player to its end and says what it holds
  bench [--only speed|listening|faults|workbench|patterns|practising] [--takes N]   the core's benchmark`

/** Runs one command; what it says goes to standard output. Throws UsageError and UnusableInput. */
export function runCommand([name, ...args]: readonly string[]): void | Promise<void> {
  if (name === '--help' || name === '-h' || name === 'help') return void process.stdout.write(`${USAGE}\n`)
  const command = name !== undefined && Object.hasOwn(COMMANDS, name) ? COMMANDS[name] : undefined
  if (!command) throw new UsageError(name === undefined ? 'a command is needed' : `there is no command "${name}"`)
  return command(args)
}

/** The exit code of a failed command, and what is said of it on standard error. Throws what was not foreseen. */
export function exitOf(error: unknown): { code: number; said: string } {
  if (error instanceof UsageError) return { code: 2, said: `half-step: ${error.message}\n${USAGE}\n` }
  if (error instanceof UnusableInput) return { code: 3, said: `half-step: ${error.message}\n` }
  throw error
}
