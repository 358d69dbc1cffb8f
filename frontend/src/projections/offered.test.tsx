// @vitest-environment jsdom
/**
 * What the controls of every projection offer, written down: the server's own tests send each of them and expect
 * that it is taken. `npx vitest run offered -u` renews the list.
 */

import { cleanup, fireEvent, render, waitFor, within } from "@testing-library/react";
import { PerspectiveCamera } from "three";
import { afterEach, describe, expect, it } from "vitest";

import type { DatumDrawing, Material, Options, Projection } from "../api/wire.gen";
import { useEye } from "../model/eye";
import { plainFinish } from "../model/plainFinish";
import { ProjectionLines } from "./ProjectionLines";
import { PROJECTIONS, type Kind } from "./registry";

const oak: Material = {
  key: "oak",
  name: "Oak",
  repeat_mm: [1800, 1200],
  grain_deg: 0,
  metallic: 0,
  images: {},
  joints: null,
  half_turns: false,
  mirrors: false,
  avoid_mm: [],
  normal_y: "+",
  tags: [],
  estimated: false,
};

/** Every kind as it begins, and with what shows more of its controls. */
const STATES: Projection[] = [
  // Lines have something to be changed once there are some.
  ...(Object.keys(PROJECTIONS) as Kind[]).filter((kind) => kind !== "lines").map((kind) => PROJECTIONS[kind].start),
  { kind: "box", corners: "wrapped", size_mm: [900, 700, 500] },
  { kind: "cylindrical", radius_mm: 450, caps: false, cap_angle_deg: 30, whole_repeats: true },
  { kind: "spherical", radius_mm: 450 },
  {
    ...PROJECTIONS.flow.start,
    hold: "borders",
    corners: [
      [0, 0, 0],
      [900, 0, 0],
      [900, 600, 0],
      [0, 600, 0],
    ],
  },
  { ...PROJECTIONS.flow.start, limits_mm: [4000, 900] },
  {
    kind: "lines",
    lines: [
      {
        points: [
          [0, 0, 0],
          [900, 0, 0],
        ],
      },
    ],
    reach: 0.5,
  },
  { kind: "roll", from: [10, 20, 30], together: true },
  { ...PROJECTIONS.camera.start, at_mm: 3000 },
  {
    ...PROJECTIONS.flatten.start,
    cuts: {
      edges: [
        [
          [0, 0, 0],
          [500, 0, 0],
        ],
      ],
    },
    lines: [
      {
        points: [
          [0, 0, 0],
          [9, 9, 0],
        ],
      },
    ],
  },
];

/** What a person might type into a field, by its label. */
const TYPED: Record<string, string> = {
  "Cap angle": "90",
  Blend: "1",
  Radius: "1.2m",
  Wrapped: "450*2",
  Sheet: "2.4m",
  Repeats: "3",
  Distance: "4m",
  Guide: "2.4m",
  Reach: "1",
  Gap: "3 cm",
};

async function offeredBy(projection: Projection): Promise<Options[]> {
  const offered: Options[] = [];
  const onChange = (options: Options) => Promise.resolve(void offered.push(options));
  const measured = { projection } as DatumDrawing;
  const { container } = render(
    <ProjectionLines
      finish={{ ...plainFinish("oak"), projection }}
      measured={measured}
      closings={[]}
      materials={[oak]}
      viewOrigin={[0, 0, 0]}
      views={[]}
      onChange={onChange}
      keepCuts={() => onChange({ kind: "flatten", cuts: { edges: [] } })}
    />,
  );
  const all = within(container);
  for (const one of [
    ...all.queryAllByRole("radio"),
    ...all.queryAllByRole("checkbox"),
    ...all.queryAllByRole("button"),
  ]) {
    fireEvent.click(one);
  }
  for (const select of all.queryAllByRole("combobox"))
    fireEvent.change(select, { target: { value: select.lastElementChild!.getAttribute("value") } });
  for (const slider of all.queryAllByRole("slider")) {
    const before = offered.length;
    fireEvent.change(slider, { target: { value: "0.5" } });
    fireEvent.keyUp(slider);
    await waitFor(() => expect(offered.length).toBe(before + 1));
  }
  for (const field of all.queryAllByRole("textbox")) {
    const label = container.querySelector(`label[for="${field.id}"]`)?.textContent ?? "";
    const text = Object.entries(TYPED).find(([begin]) => label.startsWith(begin))?.[1];
    expect(text, `nothing to type into ${label}`).toBeDefined();
    const before = offered.length;
    fireEvent.change(field, { target: { value: text } });
    fireEvent.blur(field);
    await waitFor(() => expect(offered.length).toBe(before + 1));
  }
  return offered;
}

// What is seen from the view needs one.
useEye.setState({ camera: new PerspectiveCamera() });

describe("the controls of a projection", () => {
  afterEach(cleanup);

  it("offer what is written down, which the server takes", async () => {
    const offered: { projection: Projection; options: Options[] }[] = [];
    for (const projection of STATES) {
      offered.push({ projection, options: await offeredBy(projection) });
      cleanup();
    }
    await expect(`${JSON.stringify(offered, null, 2)}\n`).toMatchFileSnapshot("offered.fixture.json");
    for (const { projection, options } of offered) {
      expect(options.length, projection.kind).toBeGreaterThan(0);
      expect(options.every((one) => one.kind === projection.kind)).toBe(true);
    }
  });
});
