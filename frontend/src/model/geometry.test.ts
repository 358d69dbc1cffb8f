import { BufferAttribute } from "three";
import { describe, expect, it } from "vitest";

import { drawnGeometry, facesByRow, groupByRow, placeSheet, trianglesOf, type ModelArrays } from "./geometry";

/** A quad and two triangles side by side: faces 0, 1, 2 with corners 0-3, 4-6, 7-9. */
function model(): ModelArrays {
  const position = new BufferAttribute(
    new Float32Array(30).map((_, i) => i),
    3,
  );
  return {
    parts: ["part"],
    position,
    normal: new BufferAttribute(new Float32Array(30), 3),
    index: new Uint32Array([0, 1, 2, 0, 2, 3, 4, 5, 6, 7, 8, 9]),
    triangleFace: new Uint32Array([0, 0, 1, 2]),
    faceStart: new Uint32Array([0, 4, 7, 10]),
    faceSource: new Int16Array(0),
    uvSets: [],
    facePart: new Uint32Array(3),
    lines: { ends: new Float32Array(), faces: new Uint32Array(0) },
    bvh: null as never,
  };
}

const groups = (geometry: ReturnType<typeof drawnGeometry>) =>
  geometry.groups.map(({ start, count, materialIndex }) => [start, count, materialIndex]);

describe("grouping the triangles by row", () => {
  it("puts bare faces first and then each row, in file order within", () => {
    const arrays = model();
    const geometry = drawnGeometry(arrays);
    groupByRow(geometry, arrays, new Int16Array([1, -1, 0]), 2, new Uint8Array(0));
    expect(groups(geometry)).toEqual([
      [0, 3, 0],
      [3, 3, 1],
      [6, 6, 2],
    ]);
    expect([...geometry.index!.array]).toEqual([4, 5, 6, 7, 8, 9, 0, 1, 2, 0, 2, 3]);
  });

  it("leaves the arrays as they came, and can be done again", () => {
    const arrays = model();
    const geometry = drawnGeometry(arrays);
    groupByRow(geometry, arrays, new Int16Array([0, 0, 0]), 1, new Uint8Array(0));
    groupByRow(geometry, arrays, new Int16Array([-1, -1, -1]), 0, new Uint8Array(0));
    expect(groups(geometry)).toEqual([[0, 12, 0]]);
    expect([...geometry.index!.array]).toEqual([...arrays.index]);
  });
});

describe("placing a sheet", () => {
  it("writes the corners of the row's faces in face order and no others", () => {
    const arrays = model();
    const geometry = drawnGeometry(arrays);
    const [faces] = facesByRow(new Int16Array([0, 1, 0]), 2);
    placeSheet(geometry, arrays, faces!, new Float32Array(Array.from({ length: 14 }, (_, i) => i + 1)));
    const uv = [...geometry.getAttribute("uv").array];
    expect(uv.slice(0, 8)).toEqual([1, 2, 3, 4, 5, 6, 7, 8]);
    expect(uv.slice(8, 14)).toEqual([0, 0, 0, 0, 0, 0]);
    expect(uv.slice(14)).toEqual([9, 10, 11, 12, 13, 14]);
  });
});

describe("the triangles of a pick", () => {
  it("are those of the faces whose bits are set, the lowest bit first", () => {
    expect([...trianglesOf(model(), new Uint8Array([0b101]))]).toEqual([0, 1, 2, 0, 2, 3, 7, 8, 9]);
    expect([...trianglesOf(model(), new Uint8Array([0]))]).toEqual([]);
  });

  it("are none for a pick of nothing, which has no bits at all", () => {
    expect([...trianglesOf(model(), new Uint8Array(0))]).toEqual([]);
  });
});
