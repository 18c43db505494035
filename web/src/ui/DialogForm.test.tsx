import { fireEvent, render, screen, waitFor } from "@testing-library/react";
import { useForm } from "react-hook-form";
import { describe, expect, it, vi } from "vitest";
import { DialogForm } from "./DialogForm";
import { TextOf } from "./fields";

function Hold({ onSubmit, onClose }: { onSubmit: (said: { why: string }) => void; onClose: () => void }) {
  const form = useForm({ defaultValues: { why: "" } });
  return (
    <DialogForm
      form={form}
      title="Hold a backup"
      label="Hold"
      text="Hold it"
      missing={(v) => [!v.why && "why it is kept", false]}
      problem={null}
      onSubmit={onSubmit}
      onClose={onClose}
    >
      <TextOf form={form} name="why" label="Why" />
    </DialogForm>
  );
}

describe("a form in a box", () => {
  it("names what is missing and is not sent before it is there, not by Enter either", async () => {
    const sent = vi.fn();
    render(<Hold onSubmit={sent} onClose={() => {}} />);
    expect(screen.getByText("Say why it is kept.")).toBeInTheDocument();
    expect(screen.getByRole("button", { name: "Hold it" })).toBeDisabled();
    fireEvent.submit(screen.getByRole("form", { name: "Hold" }));
    await waitFor(() => expect(screen.getByText("Say why it is kept.")).toBeInTheDocument());
    expect(sent).not.toHaveBeenCalled();
  });

  it("is sent with what was said once nothing is missing, and left by Cancel or Escape", async () => {
    const sent = vi.fn();
    const left = vi.fn();
    render(<Hold onSubmit={sent} onClose={left} />);
    fireEvent.change(screen.getByLabelText("Why"), { target: { value: "an audit" } });
    fireEvent.click(screen.getByRole("button", { name: "Hold it" }));
    await waitFor(() => expect(sent).toHaveBeenCalledExactlyOnceWith({ why: "an audit" }));
    fireEvent.click(screen.getByRole("button", { name: "Cancel" }));
    fireEvent.keyDown(screen.getByRole("dialog"), { key: "Escape" });
    expect(left).toHaveBeenCalledTimes(2);
  });
});
