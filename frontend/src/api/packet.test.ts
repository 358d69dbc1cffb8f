import { describe, expect, it } from "vitest";

import { readPacket } from "./packet";

function packet(header: object, arrays: Record<string, Float32Array | Uint32Array | Int16Array>): ArrayBuffer {
  const types = new Map<unknown, string>([
    [Float32Array, "float32"],
    [Uint32Array, "uint32"],
    [Int16Array, "int16"],
  ]);
  const places: Record<string, object> = {};
  const pieces: Uint8Array[] = [];
  let at = 0;
  for (const [name, array] of Object.entries(arrays)) {
    places[name] = { at, length: array.length, type: types.get(array.constructor) };
    const padded = new Uint8Array(Math.ceil(array.byteLength / 4) * 4);
    padded.set(new Uint8Array(array.buffer));
    pieces.push(padded);
    at += padded.length;
  }
  const encoder = new TextEncoder();
  const stated = JSON.stringify({ ...header, arrays: places });
  const text = encoder.encode(stated + " ".repeat((4 - (encoder.encode(stated).length % 4)) % 4));
  const out = new Uint8Array(4 + text.length + at);
  new DataView(out.buffer).setUint32(0, text.length, true);
  out.set(text, 4);
  let to = 4 + text.length;
  for (const piece of pieces) {
    out.set(piece, to);
    to += piece.length;
  }
  return out.buffer;
}

describe("a packet", () => {
  const buffer = packet(
    { parts: ["Wall", "Größe"] },
    { rows: new Int16Array([-1, 0, 3]), points: new Float32Array([1.5, -2]), ids: new Uint32Array([4_000_000_000]) },
  );

  it("gives its header and each array in its own type", () => {
    const read = readPacket<{ parts: string[] }>(packet({ parts: ["Wall"] }, { points: new Float32Array([1.5, -2]) }));
    expect(read.header.parts).toEqual(["Wall"]);
    expect([...read.floats("points")]).toEqual([1.5, -2]);
  });

  it("keeps arrays apart that are no multiple of four bytes long", () => {
    const text = new TextDecoder().decode(new Uint8Array(buffer, 4, new DataView(buffer).getUint32(0, true)));
    expect(JSON.parse(text).arrays.points.at).toBe(8);
  });

  it("says which array is not there", () => {
    const read = readPacket(packet({}, {}));
    expect(() => read.ids("index")).toThrow("no array index");
  });
});
