import { exitOf, runCommand } from './half-step'

// `half-step inspect … | head` closes the pipe early; that is no error.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code !== 'EPIPE') throw error
})

try {
  await runCommand(process.argv.slice(2))
} catch (error) {
  const { code, said } = exitOf(error)
  process.stderr.write(said)
  process.exitCode = code
}
