import { strFromU8, strToU8, unzipSync, zipSync, type UnzipFileInfo } from 'fflate'
import { LIMITS } from '../../music/limits'
import { UnusableInput } from '../unusable'
import { child, children, parseXml } from './xml'

/**
 * The MusicXML text in the bytes of a `.musicxml`, `.xml` or compressed `.mxl` file, to be written as UTF-8 from now
 * on. Throws UnusableInput when the bytes are neither, are damaged, or unpack to more than the limits.
 */
export function musicXmlText(bytes: Uint8Array): string {
  if (bytes.length === 0) throw new UnusableInput('', 'the file is empty; a MusicXML score was expected')
  if (bytes.length > LIMITS.fileBytes) {
    throw new UnusableInput('', `the file has ${bytes.length} bytes; at most ${LIMITS.fileBytes} are read`)
  }
  const isZip = bytes[0] === 0x50 && bytes[1] === 0x4b
  return decodeText(isZip ? rootFile(bytes) : bytes).replace(
    /^(<\?xml\b[^>]{0,200}?\bencoding\s*=\s*["'])[^"']*/,
    '$1UTF-8',
  )
}

const CONTAINER =
  '<?xml version="1.0" encoding="UTF-8"?><container><rootfiles><rootfile full-path="score.musicxml" media-type="application/vnd.recordare.musicxml+xml"/></rootfiles></container>'
/** The earliest time a zip entry can have: the same score gives the same bytes. */
const NO_TIME = '1980-01-01T00:00:00'

/** A MusicXML text as the bytes of a compressed `.mxl` file. */
export const compressMusicXml = (musicXml: string): Uint8Array =>
  zipSync({ 'META-INF/container.xml': strToU8(CONTAINER), 'score.musicxml': strToU8(musicXml) }, { mtime: NO_TIME })

function rootFile(bytes: Uint8Array): Uint8Array {
  const container = unpack(bytes, 'META-INF/container.xml')
  let path: string | undefined
  if (container) {
    const rootfiles = children(child(parseXml(decodeText(container)), 'rootfiles'), 'rootfile')
    path = (rootfiles.find(file => /musicxml/.test(file.attributes['media-type'] ?? 'musicxml')) ?? rootfiles[0])
      ?.attributes['full-path']
    if (!path) throw new UnusableInput('META-INF/container.xml', 'a <rootfile full-path="…"> was expected')
  }
  const file = unpack(bytes, path ?? /^(?!META-INF\/).*\.(musicxml|xml)$/i)
  if (!file)
    throw new UnusableInput(
      'compressed file',
      `the score ${path ? `"${path}"` : '(.musicxml or .xml)'} was expected in it and is not there`,
    )
  return file
}

/** One entry's bytes. Sizes are checked before anything is unpacked, and again after. */
function unpack(bytes: Uint8Array, name: string | RegExp): Uint8Array | undefined {
  let entries = 0
  let found: string | undefined
  const wanted = (file: UnzipFileInfo) => {
    if (++entries > LIMITS.archiveEntries)
      throw new UnusableInput('compressed file', `more than ${LIMITS.archiveEntries} entries`)
    const matches = found === undefined && (typeof name === 'string' ? file.name === name : name.test(file.name))
    if (!matches) return false
    if (file.originalSize > LIMITS.unpackedBytes) {
      throw new UnusableInput(
        `compressed file, entry "${file.name}"`,
        `it unpacks to ${file.originalSize} bytes; at most ${LIMITS.unpackedBytes} are read`,
      )
    }
    found = file.name
    return true
  }
  try {
    const unpacked = unzipSync(bytes, { filter: wanted })
    return found === undefined ? undefined : unpacked[found]
  } catch (error) {
    if (error instanceof UnusableInput) throw error
    throw new UnusableInput(
      'compressed file',
      `it is damaged (${error instanceof Error ? error.message : 'cannot be unpacked'})`,
    )
  }
}

/** UTF-8, or UTF-16 with its byte order mark, as MusicXML files come. */
export function decodeText(bytes: Uint8Array): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return decodeUtf16(bytes, 0)
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return decodeUtf16(bytes, 1)
  const start = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0
  return strFromU8(start ? bytes.subarray(start) : bytes)
}

function decodeUtf16(bytes: Uint8Array, highByte: 0 | 1): string {
  const pieces: string[] = []
  for (let at = 2; at + 1 < bytes.length; at += 16_384) {
    const codes: number[] = []
    for (let i = at; i + 1 < Math.min(bytes.length, at + 16_384); i += 2) {
      codes.push(highByte === 1 ? (bytes[i]! << 8) | bytes[i + 1]! : bytes[i]! | (bytes[i + 1]! << 8))
    }
    pieces.push(String.fromCharCode(...codes))
  }
  return pieces.join('')
}
