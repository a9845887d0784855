declare module 'lz4js' {
  export function compress(bytes: Uint8Array): Uint8Array
}
