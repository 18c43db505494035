import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { describe, expect, it } from "vitest";
import { renderAt } from "../../test-render";
import { VersionsPage } from "./VersionsPage";

const document = (version: number, reach: string, more: object = {}) => ({
  type: "policy",
  id: "sailings",
  name: "Sailings",
  version,
  objective: { mishap: "PT10M", reach },
  schedules: [{ id: "weekly", kind: "full", cron: "40 22 * * 6", within: "PT4H" }],
  retain: [{ role: "near", reach, fulls: 2 }],
  ...more,
});

const policy = {
  id: "sailings",
  name: "Sailings",
  now: "2026-11-23T00:00:00Z",
  versions: [
    {
      version: 3,
      effectiveFrom: "2026-12-01T00:00:00Z",
      state: "coming",
      document: document(3, "P30D", {
        putInForce: { by: "Maren Holt", at: "2026-11-20T00:00:00Z", why: "audit" },
      }),
    },
    {
      version: 2,
      effectiveFrom: "2026-09-02T00:00:00Z",
      state: "in-force",
      document: document(2, "P18D", {
        putInForce: {
          by: "Jonas Reed",
          at: "2026-09-01T00:00:00Z",
          why: "room",
          despite: "until the new store comes",
        },
      }),
    },
    { version: 1, effectiveFrom: "2026-01-01T00:00:00Z", state: "earlier", document: document(1, "P25D") },
  ],
  draft: null,
  followers: [],
  closures: [],
};

const open = () =>
  renderAt(
    "/policies/sailings/versions",
    <Routes>
      <Route path="/policies/:id/versions" element={<VersionsPage />} />
      <Route path="/policies/:id" element={<h1>the editor</h1>} />
    </Routes>,
    { "/api/policies/sailings": policy, "/api/policies/sailings/draft": {} },
  );

describe("versions", () => {
  it("say who put each in force, when, why, and why all the same", async () => {
    open();
    await screen.findByText("Sailings, versions");
    const [, coming, inForce, earlier] = within(screen.getAllByRole("table")[0] as HTMLElement).getAllByRole(
      "row",
    );
    expect(coming).toHaveTextContent(/^3 still to come.*Maren HoltauditWithdraw it…$/);
    expect(inForce).toHaveTextContent("2 in force");
    expect(inForce).toHaveTextContent("Although it contradicts itself: until the new store comes");
    expect(earlier).toHaveTextContent("not recorded");
    expect(within(coming as HTMLElement).queryByText("Make it the newest…")).toBeNull();
  });

  it("that are still to come are withdrawn, with a reason", async () => {
    const { asked } = open();
    fireEvent.click(await screen.findByText("Withdraw it…"));
    const form = screen.getByRole("form", { name: "Withdraw" });
    const button = within(form).getByRole("button", { name: "Withdraw version 3" });
    expect(button).toBeDisabled();
    fireEvent.change(within(form).getByLabelText("Why it is withdrawn"), { target: { value: "too early" } });
    expect(button).toBeEnabled();
    fireEvent.click(button);
    await waitFor(() => expect(asked).toContain("/api/policies/sailings/versions/3/withdrawn"));
  });

  it("stand side by side in words, the two newest first, any two when asked", async () => {
    open();
    const sides = within(await screen.findByTestId("side-by-side"));
    const changed = () =>
      sides
        .getAllByRole("row")
        .filter((r) => !r.className.includes("text-muted"))
        .map((r) => r.textContent)
        .join(" ");
    expect(changed()).toMatch(/18 days.*30 days/);
    fireEvent.change(sides.getByLabelText("Left"), { target: { value: "1" } });
    expect(changed()).toMatch(/25 days.*30 days/);
    fireEvent.change(sides.getByLabelText("Right"), { target: { value: "1" } });
    expect(changed()).not.toMatch(/days/);
  });

  it("lets an earlier one be written again as the newest", async () => {
    const { asked } = open();
    fireEvent.click(await screen.findByText("Make it the newest…"));
    expect(await screen.findByText("the editor")).toBeInTheDocument();
    expect(asked).toContain("/api/policies/sailings/draft");
  });
});
