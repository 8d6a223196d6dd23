import type { Pixels, Plane } from '@zaddle/core/image/plane';

/** A proxy as a file and on the wire: width and height (32 bit, little-endian), then interleaved RGB, 8 bit or, of parts of deep files, 16 bit as this machine has it, without loss. */
export function packPixels(pixels: Pixels): Uint8Array {
  const { buffer, byteOffset, byteLength } = pixels.data;
  const out = new Uint8Array(8 + byteLength);
  const view = new DataView(out.buffer);
  view.setUint32(0, pixels.width, true);
  view.setUint32(4, pixels.height, true);
  out.set(new Uint8Array(buffer, byteOffset, byteLength), 8);
  return out;
}

/** @throws RangeError when the length does not fit the size it claims. */
export function unpackPixels(packed: Uint8Array): Pixels {
  const view = new DataView(packed.buffer, packed.byteOffset, packed.byteLength);
  const width = view.getUint32(0, true);
  const height = view.getUint32(4, true);
  if (packed.byteLength !== 8 + width * height * 3) throw new RangeError('A proxy file is damaged; gather the frame again.');
  return { width, height, data: packed.subarray(8) };
}

/** A plane of floats as a file: width and height (32 bit, little-endian), then the values. */
export function packPlane({ width, height, data }: Plane): Uint8Array {
  const out = new Uint8Array(8 + data.byteLength);
  const view = new DataView(out.buffer);
  view.setUint32(0, width, true);
  view.setUint32(4, height, true);
  out.set(new Uint8Array(data.buffer, data.byteOffset, data.byteLength), 8);
  return out;
}

/** @throws RangeError when the length does not fit the size it claims. */
export function unpackPlane(packed: Uint8Array): Plane {
  const view = new DataView(packed.buffer, packed.byteOffset, packed.byteLength);
  const width = view.getUint32(0, true);
  const height = view.getUint32(4, true);
  if (packed.byteLength !== 8 + width * height * 4) throw new RangeError('A file of structure is damaged; gather the frame again.');
  return { width, height, data: new Float32Array(Uint8Array.from(packed.subarray(8)).buffer) };
}
