import { render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { Guarded } from "./Guarded";

function Broken(): never {
  throw new Error("no such field");
}

describe("a view that breaks", () => {
  afterEach(() => vi.restoreAllMocks());

  it("says so in its place and leaves what stands around it", () => {
    const told = vi.spyOn(console, "error").mockImplementation(() => {});
    render(
      <>
        <nav>Areas</nav>
        <Guarded>
          <Broken />
        </Guarded>
      </>,
    );
    expect(screen.getByRole("alert").textContent).toContain("This view could not be shown.");
    expect(screen.queryByText("no such field")).toBeNull();
    expect(screen.getByText("Areas")).toBeTruthy();
    expect(told).toHaveBeenCalled();
  });

  it("shows what does not break", () => {
    render(<Guarded>fine</Guarded>);
    expect(screen.getByText("fine")).toBeTruthy();
  });
});
