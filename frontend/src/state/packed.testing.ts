/** A binary answer as the server packs it, for tests. */
export function packed(header: object, numbers: number[]): ArrayBuffer {
  let text = JSON.stringify(header);
  text += " ".repeat((4 - (text.length % 4)) % 4);
  const buffer = new ArrayBuffer(4 + text.length + numbers.length * 4);
  new DataView(buffer).setUint32(0, text.length, true);
  new Uint8Array(buffer, 4).set(new TextEncoder().encode(text));
  new Float32Array(buffer, 4 + text.length).set(numbers);
  return buffer;
}
