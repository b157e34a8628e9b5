/** A copy of what an encoder gave, whatever it lies in. */
export function bytesOf(data: AllowSharedBufferSource): Uint8Array {
  const view = ArrayBuffer.isView(data)
    ? new Uint8Array(data.buffer as ArrayBuffer, data.byteOffset, data.byteLength)
    : new Uint8Array(data as ArrayBuffer);
  return view.slice();
}
