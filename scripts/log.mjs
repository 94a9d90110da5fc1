/** Says what a script does, with the time since it began. */
const began = Date.now()

export function say(text) {
  process.stdout.write(`[${String(Math.round((Date.now() - began) / 1000)).padStart(3)} s] ${text}\n`)
}

export function fail(text) {
  process.stderr.write(`\n${text}\n`)
  process.exit(1)
}
