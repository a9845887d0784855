import { CompressionType, getCompressionCodec, setCompressionCodec } from '@uwdata/flechette'
import { decompress } from 'fzstd'
import { unpackLz4Frame } from './lz4-frame.ts'

/** Lets buffers be read that were packed with LZ4 or Zstandard. Nothing is written packed. */
export function takeCompression(): void {
  if (getCompressionCodec(CompressionType.ZSTD)) return
  const encode = (): never => {
    throw new Error('Nothing is packed here.')
  }
  setCompressionCodec(CompressionType.LZ4_FRAME, { decode: unpackLz4Frame, encode })
  setCompressionCodec(CompressionType.ZSTD, {
    decode: (bytes, length) => decompress(bytes, new Uint8Array(length)),
    encode,
  })
}
