// @vitest-environment jsdom
import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { put, reset } from "../state";
import { NOTHING } from "../state/pick";
import type { WorkbenchContext } from "./command";
import { CommandButton } from "./CommandButton";
import { commandOf, withKey } from "./registry";

describe("the button of a command", () => {
  beforeEach(reset);
  afterEach(cleanup);

  it("can be pressed as soon as its command can be used, and shows its key", () => {
    const sight = vi.fn();
    const context = { sight } as unknown as WorkbenchContext;
    render(
      <CommandButton command={commandOf("hide")} context={context}>
        Hide
      </CommandButton>,
    );
    const button = screen.getByRole<HTMLButtonElement>("button");
    expect(button.textContent).toBe("HideH");
    expect(button.disabled).toBe(true);
    act(() => put({ pick: { ...NOTHING, faces: 3 } }));
    expect(button.disabled).toBe(false);
    fireEvent.click(button);
    expect(sight).toHaveBeenCalledWith("hide");
  });

  it("names the key in a hint", () => expect(withKey("Pick by clicks", "tool-click")).toBe("Pick by clicks (K)"));

  it("is told where there is no such command", () => expect(() => commandOf("fly")).toThrow("no command fly"));
});
