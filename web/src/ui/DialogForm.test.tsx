import { fireEvent, render, screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { DialogForm } from "./DialogForm";

const shown = (missing: (string | false)[], onSubmit: () => void, onClose = () => {}) =>
  render(
    <DialogForm
      title="Hold a backup"
      label="Hold"
      text="Hold it"
      missing={missing}
      problem={null}
      onSubmit={onSubmit}
      onClose={onClose}
    >
      <input aria-label="Why" />
    </DialogForm>,
  );

describe("a form in a box", () => {
  it("names what is missing and is not sent before it is there, not by Enter either", () => {
    const sent = vi.fn();
    shown(["why it is kept", false], sent);
    expect(screen.getByText("Say why it is kept.")).toBeInTheDocument();
    expect(screen.getByRole("button", { name: "Hold it" })).toBeDisabled();
    fireEvent.submit(screen.getByRole("form", { name: "Hold" }));
    expect(sent).not.toHaveBeenCalled();
  });

  it("is sent once nothing is missing, and left by Cancel or Escape", () => {
    const sent = vi.fn();
    const left = vi.fn();
    shown([], sent, left);
    fireEvent.click(screen.getByRole("button", { name: "Hold it" }));
    expect(sent).toHaveBeenCalledTimes(1);
    fireEvent.click(screen.getByRole("button", { name: "Cancel" }));
    fireEvent.keyDown(screen.getByRole("dialog"), { key: "Escape" });
    expect(left).toHaveBeenCalledTimes(2);
  });
});
