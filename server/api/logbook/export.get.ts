import { Readable } from 'node:stream'
import { passName, toldSentence } from '#core/words/passes'
import { stringify } from 'csv-stringify'
import Joi from 'joi'
import { allPasses, type ExportedPass } from '../../database/queries/logbook'
import { playerSettings } from '../../database/queries/accounts'

const schema = Joi.object<{ format: 'csv' | 'json' }>({ format: Joi.string().valid('csv', 'json').required() })

/** The whole Logbook as a file, written as it is read: every pass, oldest first, in the player's own words. */
export default forPlayer(async ({ event, playerId, db }) => {
  const { format } = validQuery(event, schema)
  const noteNames = (await playerSettings(db, playerId))?.noteNames
  const inWords = ({ found, sentence, part, place, partId, cleanBut, ...pass }: ExportedPass) => ({
    ...pass,
    part: passName({ partId, partName: part, place, mode: pass.mode }),
    sentence: toldSentence({ found, sentence }, { noteNames }),
    cleanBut: format === 'csv' ? cleanBut.join(' ') : cleanBut,
  })
  const passes = mapped(allPasses(db, playerId), inWords)
  setResponseHeaders(event, {
    'content-type': format === 'csv' ? 'text/csv; charset=utf-8' : 'application/json; charset=utf-8',
    'content-disposition': `attachment; filename="half-step-logbook.${format}"`,
  })
  if (format === 'json') return sendStream(event, Readable.from(asJson(passes)))
  const csv = stringify({
    header: true,
    escape_formulas: true,
    columns: [...COLUMNS],
    cast: { date: date => date.toISOString(), boolean: value => String(value) },
  })
  return sendStream(event, Readable.from(passes).pipe(csv))
})

/** The columns in their order; what is new stands at the end. */
const COLUMNS = [
  'id',
  'startedAt',
  'song',
  'version',
  'part',
  'hands',
  'mode',
  'bpm',
  'lengthMs',
  'notes',
  'right',
  'wrong',
  'missed',
  'extra',
  'onTimeShare',
  'offsetMs',
  'driftPercent',
  'unsteadinessMs',
  'clean',
  'score',
  'strictness',
  'keyboardDelayMs',
  'sentence',
  'remark',
  'cleanBut',
] as const

async function* mapped<From, To>(all: AsyncIterable<From>, to: (one: From) => To): AsyncGenerator<To> {
  for await (const one of all) yield to(one)
}

async function* asJson(passes: AsyncIterable<unknown>) {
  yield '{"format":"half-step/logbook","version":1,"passes":['
  let isFirst = true
  for await (const pass of passes) {
    yield `${isFirst ? '' : ','}\n${JSON.stringify(pass)}`
    isFirst = false
  }
  yield '\n]}\n'
}
