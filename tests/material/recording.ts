import { handsIn, type Arrangement } from '#core/music/arrangement'
import { wholePassage } from '#core/music/passage'
import { renderPassage } from '#core/sound/of-score'
import { hertzOf } from '#core/sound/waveforms'

const RATE = 22_050

/**
 * A whole song as another instrument plays it (a reed: odd partials, no decay), at so many times its tempo, as a WAV
 * file (RIFF, 16 bit, mono).
 */
export function recordedWav(arrangement: Arrangement, tempo: number, leadSeconds: number): Buffer {
  const { events, lengthMs } = renderPassage(arrangement, wholePassage(arrangement, 'both'), {
    hands: handsIn('both'),
  })
  const wave = new Float32Array(Math.ceil((leadSeconds + lengthMs / 1000 / tempo + 1) * RATE))
  for (const { atMs, lengthMs: heldMs, pitch, velocity } of events) {
    const [from, to] = [leadSeconds + atMs / 1000 / tempo, leadSeconds + (atMs + heldMs) / 1000 / tempo]
    for (let index = Math.max(0, Math.round(from * RATE)); index < Math.min(wave.length, to * RATE); index++) {
      const t = index / RATE - from
      const phase = 2 * Math.PI * hertzOf(pitch) * t
      wave[index]! += (velocity / 127) * Math.min(1, t / 0.03) * (Math.sin(phase) + 0.4 * Math.sin(3 * phase)) * 0.12
    }
  }
  const bytes = Buffer.alloc(44 + 2 * wave.length)
  bytes.write('RIFF', 0)
  bytes.writeUInt32LE(36 + 2 * wave.length, 4)
  bytes.write('WAVEfmt ', 8)
  bytes.writeUInt32LE(16, 16)
  bytes.writeUInt16LE(1, 20)
  bytes.writeUInt16LE(1, 22)
  bytes.writeUInt32LE(RATE, 24)
  bytes.writeUInt32LE(2 * RATE, 28)
  bytes.writeUInt16LE(2, 32)
  bytes.writeUInt16LE(16, 34)
  bytes.write('data', 36)
  bytes.writeUInt32LE(2 * wave.length, 40)
  wave.forEach((value, index) =>
    bytes.writeInt16LE(Math.round(Math.max(-1, Math.min(1, value)) * 32_767), 44 + 2 * index),
  )
  return bytes
}
