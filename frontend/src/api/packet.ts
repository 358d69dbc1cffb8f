/** Reads the server's packets: a JSON header and the arrays behind it. */

const KINDS = { float32: Float32Array, uint32: Uint32Array, int16: Int16Array, uint8: Uint8Array };

interface Place {
  at: number;
  length: number;
  type: keyof typeof KINDS;
}

export interface Packet<H> {
  header: H;
  floats: (name: string) => Float32Array;
  ids: (name: string) => Uint32Array;
  shorts: (name: string) => Int16Array;
  bytes: (name: string) => Uint8Array;
  /** Every array by its name, each as bytes of its own. */
  apart: () => Map<string, ArrayBuffer>;
}

export function readPacket<H>(buffer: ArrayBuffer): Packet<H> {
  const size = new DataView(buffer).getUint32(0, true);
  const text = new TextDecoder().decode(new Uint8Array(buffer, 4, size));
  const header = JSON.parse(text) as H & { arrays: Record<string, Place> };
  const array = (name: string) => {
    const place = header.arrays[name];
    if (!place) throw new Error(`the packet has no array ${name}`);
    return new KINDS[place.type](buffer, 4 + size + place.at, place.length);
  };
  return {
    header,
    floats: (n) => array(n) as Float32Array,
    ids: (n) => array(n) as Uint32Array,
    shorts: (n) => array(n) as Int16Array,
    bytes: (n) => array(n) as Uint8Array,
    apart: () => new Map(Object.keys(header.arrays).map((n) => [n, array(n).slice().buffer])),
  };
}
