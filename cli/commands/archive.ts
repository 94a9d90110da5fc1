import { createReadStream } from 'node:fs'
import { stat } from 'node:fs/promises'
import { ArchiveReading, checkedPass, checkedRevision } from '#core/archive/reading'
import { UnusableInput } from '#core/formats/unusable'
import { documentsOf } from '../../shared/archive-file'
import { settingsSchema } from '../../shared/utils/settings-schema'
import { printJson } from '../files'
import { UsageError } from '../usage'

/** `half-step archive check FILE`: reads an archive to its end, everything in it, and says what it holds. */
export async function archive(args: string[]): Promise<void> {
  const [what, file, ...more] = args
  if (what !== 'check' || file === undefined || more.length > 0)
    throw new UsageError('archive needs what to do and a file: archive check FILE')
  if (!(await stat(file).catch(() => undefined))?.isFile()) throw new UnusableInput(file, 'there is no such file')
  const reading = new ArchiveReading()
  try {
    for await (const { path, bytes } of documentsOf(createReadStream(file))) {
      const item = reading.next(path, bytes)
      if (item?.kind === 'settings') {
        const { error } = settingsSchema.validate(item.settings, { convert: false })
        if (error) throw new UnusableInput(path, error.message)
      }
      if (item?.kind === 'revision') checkedRevision(item)
      if (item?.kind === 'pass') reading.place(item.path, checkedPass(item).pass)
    }
    const { head, ...found } = reading.end()
    printJson({
      file,
      kind: head.kind,
      writtenAt: head.writtenAt,
      ...(head.player === undefined ? {} : { player: head.player }),
      ...found,
    })
  } catch (error) {
    if (error instanceof UnusableInput) throw new UnusableInput(file, error.message)
    throw error
  }
}
