import { render, screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { Held } from "./Held";

describe("what is held on to while another moment is asked for", () => {
  it("is dimmed and cannot be used, and is as ever once it is that moment's", () => {
    const { rerender } = render(
      <Held stale>
        <button>Accept</button>
      </Held>,
    );
    const box = screen.getByText("Accept").parentElement as HTMLElement;
    expect(box).toHaveAttribute("inert");
    expect(box).toHaveAttribute("aria-busy", "true");
    expect(box.className).toContain("opacity");
    rerender(
      <Held stale={false}>
        <button>Accept</button>
      </Held>,
    );
    expect(box).not.toHaveAttribute("inert");
    expect(screen.getByRole("button", { name: "Accept" })).toBeVisible();
  });
});
