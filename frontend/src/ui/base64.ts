export function bytesOf(base64: string): Uint8Array {
  return Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
}

export function signedBytesOf(base64: string): Int8Array {
  return new Int8Array(bytesOf(base64).buffer);
}
