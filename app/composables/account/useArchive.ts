import { messageOf } from '~/utils/ui/messageOf'
import { saveBlob } from '~/utils/ui/saveAsFile'
import { sentence } from '~/utils/ui/sentence'
import type { RestoringLine } from '#shared/utils/restoring'
import type { RestoredCounts } from '#core/words/archive'

/** How far an archive is: bytes fetched, bytes of the file sent, or passes restored. */
export type ArchiveProgress =
  | { doing: 'fetching'; bytes: number }
  | { doing: 'sending'; bytes: number; of: number }
  | { doing: 'restoring'; done: number; of: number }
/** Takes the player's archive from the server, and brings one back, saying how far it is. */
export function useArchive() {
  const progress = ref<ArchiveProgress>()
  const problem = ref('')
  const restored = ref<RestoredCounts>()
  let request: XMLHttpRequest | undefined

  /** Fetches a file to its end and hands it to the browser to be kept: what is broken off is not kept. */
  async function take(url: string) {
    problem.value = ''
    progress.value = { doing: 'fetching', bytes: 0 }
    try {
      const answer = await fetch(url)
      if (!answer.ok)
        throw new Error(
          ((await answer.json().catch(() => ({}))) as { message?: string }).message ??
            `the server answered with ${answer.status}`,
        )
      const name = /filename\*=UTF-8''([^;]+)/.exec(answer.headers.get('content-disposition') ?? '')?.[1]
      const chunks: BlobPart[] = []
      for (let [bytes, reader] = [0, answer.body!.getReader()]; ;) {
        const { done, value } = await reader.read()
        if (done) break
        chunks.push(value)
        progress.value = { doing: 'fetching', bytes: (bytes += value.length) }
      }
      saveBlob(name ? decodeURIComponent(name) : 'half-step.tar.gz', new Blob(chunks, { type: 'application/gzip' }))
    } catch (error) {
      problem.value = `The archive could not be fetched (${messageOf(error)}). Nothing was saved; please try again.`
    } finally {
      progress.value = undefined
    }
  }

  /** Sends an archive and follows how it is restored. */
  async function bring(file: File) {
    problem.value = ''
    restored.value = undefined
    progress.value = { doing: 'sending', bytes: 0, of: file.size }
    try {
      await send(file)
    } catch (error) {
      problem.value = messageOf(error)
    } finally {
      progress.value = undefined
    }
  }

  function send(file: File): Promise<void> {
    return new Promise((resolve, reject) => {
      const sent = (request = new XMLHttpRequest())
      sent.open('POST', '/api/archive')
      sent.setRequestHeader('content-type', 'application/gzip')
      sent.upload.onprogress = ({ loaded, total }) => {
        progress.value = { doing: 'sending', bytes: loaded, of: total }
      }
      const last = (): RestoringLine | undefined => {
        const lines = sent.responseText.split('\n').slice(0, -1)
        return lines.length > 0 ? (JSON.parse(lines.at(-1)!) as RestoringLine) : undefined
      }
      sent.onprogress = () => {
        const line = sent.status === 200 ? last() : undefined
        if (line && 'done' in line) progress.value = { doing: 'restoring', ...line }
      }
      sent.onerror = () =>
        reject(
          new Error(
            'The connection was lost. What was not finished was not begun: send the file again, and nothing will be there twice.',
          ),
        )
      sent.onabort = () => reject(new Error('Stopped. Nothing was changed.'))
      sent.onload = () => {
        if (sent.status !== 200)
          return reject(
            new Error(
              (JSON.parse(sent.responseText || '{}') as { message?: string }).message ??
                `the server answered with ${sent.status}`,
            ),
          )
        const line = last()
        if (line && 'restored' in line) {
          restored.value = line.restored
          return resolve()
        }
        reject(
          new Error(
            line && 'refused' in line
              ? sentence(line.refused)
              : 'The connection was lost before the end. Send the file again: nothing will be there twice.',
          ),
        )
      }
      sent.send(file)
    })
  }

  const stop = () => request?.abort()
  return { progress, problem, restored, take, bring, stop }
}
