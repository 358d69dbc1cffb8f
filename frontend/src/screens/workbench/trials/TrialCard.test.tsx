// @vitest-environment jsdom
import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";

import type { Trial } from "../../../api/wire.gen";
import { TrialCard } from "./TrialCard";

const trial = { projection: { kind: "triplanar" }, alike: [], true_share: 1, why: "it is even" } as unknown as Trial;
const nothing = () => undefined;

const shown = (picture?: string) => {
  render(<TrialCard trial={trial} picture={picture} best={false} large={false} onLarge={nothing} onTake={nothing} />);
  return screen.getAllByRole("button")[0]!;
};

describe("the card of a trial", () => {
  afterEach(cleanup);

  // WCAG 2.2, 2.5.3: the name of a control holds the text that is seen on it.
  it("says what is seen on its picture until that is drawn", () => {
    const button = shown();
    expect(button.textContent).toBe("Drawing…");
    expect(button.getAttribute("aria-label")).toContain("Drawing…");
  });

  it("says what a click on its picture does", () =>
    expect(shown("data:,").getAttribute("aria-label")).toBe("Show Triplanar large"));
});
