/** Hands a file to the browser to be kept. */
export function download(name: string, contents: BlobPart, type: string): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([contents], { type }))
  link.download = name
  link.click()
  URL.revokeObjectURL(link.href)
}

/** Bytes from and to base64 (RFC 4648), as zips cross HTTP. */
export const bytesOf = (base64: string): Uint8Array<ArrayBuffer> =>
  Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0))
export async function base64Of(file: File): Promise<string> {
  const bytes = new Uint8Array(await file.arrayBuffer())
  let letters = ''
  // So many at a time as a call takes arguments.
  for (let at = 0; at < bytes.length; at += 8192) letters += String.fromCharCode(...bytes.subarray(at, at + 8192))
  return btoa(letters)
}
