import { Readable } from 'node:stream'
import { stringify } from 'csv-stringify'
import Joi from 'joi'
import { allPasses, EXPORTED_FIELDS } from '../../database/queries/logbook'

const schema = Joi.object<{ format: 'csv' | 'json' }>({ format: Joi.string().valid('csv', 'json').required() })

/** The whole Logbook as a file, written as it is read: every pass, oldest first. */
export default defineEventHandler(async (event) => {
  const [playerId, { format }] = [await requirePlayerId(event), checkedQuery(event, schema)]
  const passes = allPasses(database(), playerId)
  setResponseHeaders(event, { 'content-type': format === 'csv' ? 'text/csv; charset=utf-8' : 'application/json; charset=utf-8', 'content-disposition': `attachment; filename="half-step-logbook.${format}"` })
  if (format === 'json') return sendStream(event, Readable.from(asJson(passes)))
  const csv = stringify({ header: true, escape_formulas: true, columns: EXPORTED_FIELDS, cast: { date: date => date.toISOString(), boolean: value => String(value) } })
  return sendStream(event, Readable.from(passes).pipe(csv))
})

async function* asJson(passes: AsyncIterable<unknown>) {
  yield '{"format":"half-step/logbook","version":1,"passes":['
  let isFirst = true
  for await (const pass of passes) {
    yield `${isFirst ? '' : ','}\n${JSON.stringify(pass)}`
    isFirst = false
  }
  yield '\n]}\n'
}
