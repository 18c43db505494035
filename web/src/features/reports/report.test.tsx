import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { strip } from "../../test-fleet";
import { renderAt } from "../../test-render";
import { between, stretch } from "./periods";
import { ReportPage } from "./ReportPage";

describe("Periods", () => {
  it("are whole weeks, months and quarters of the zone", () => {
    const now = "2026-11-18T09:00:00Z";
    expect(stretch("last-week", now, "UTC")).toEqual({
      from: "2026-11-09T00:00:00Z",
      to: "2026-11-16T00:00:00Z",
    });
    expect(stretch("last-month", now, "Europe/Lisbon")).toEqual({
      from: "2026-09-30T23:00:00Z",
      to: "2026-11-01T00:00:00Z",
    });
    expect(stretch("last-quarter", now, "UTC")).toEqual({
      from: "2026-07-01T00:00:00Z",
      to: "2026-10-01T00:00:00Z",
    });
    expect(stretch("this-month", now, "UTC").to).toBe("2026-12-01T00:00:00Z");
    expect(between("2026-11-01", "2026-11-02", "UTC")).toEqual({
      from: "2026-11-01T00:00:00Z",
      to: "2026-11-03T00:00:00Z",
    });
    expect(between("2026-11-03", "2026-11-02", "UTC")).toBeUndefined();
    expect(between("", "", "UTC")).toBeUndefined();
  });
});

describe("The Report view", () => {
  const answers = {
    "/api/cover/strip": strip,
    "/api/policies": [{ id: "sailings", name: "Sailings" }],
    "/api/choices": { owners: ["Quay office"], labels: ["class=sailings"] },
    "/api/choices/databases": [
      { id: "berths", name: "berths" },
      { id: "fares", name: "Fares of the quay" },
    ],
    "/api/reports": [
      {
        id: "report-1",
        title: "the fleet",
        by: "ines",
        made: "2026-11-02T00:00:00Z",
        from: "2026-10-01T00:00:00Z",
        to: "2026-11-01T00:00:00Z",
      },
    ],
    "/api/reports/kept/report-1/again": { same: false, differs: ["gaps"] },
  };
  const shown = () => screen.getByTitle("The report").getAttribute("src") ?? "";

  it("shows last month of the fleet, and what else is asked for", async () => {
    renderAt("/report", <ReportPage />, answers);
    await screen.findByTitle("The report");
    expect(shown()).toContain("by=fleet");
    expect(shown()).toContain("from=2026-10-01T00%3A00%3A00Z");
    fireEvent.change(screen.getByLabelText("of"), { target: { value: "label" } });
    await waitFor(() => expect(shown()).toContain("of=class%3Dsailings"));
    fireEvent.change(screen.getByLabelText("of"), { target: { value: "database" } });
    expect(screen.queryByTitle("The report")).toBeNull();
    fireEvent.focus(screen.getByLabelText("which"));
    await screen.findByRole("option", { name: /Fares of the quay/ });
    fireEvent.keyDown(screen.getByLabelText("which"), { key: "End" });
    fireEvent.keyDown(screen.getByLabelText("which"), { key: "Enter" });
    await waitFor(() => expect(shown()).toContain("of=fares"));
    fireEvent.change(screen.getByLabelText("for"), { target: { value: "own" } });
    expect(await screen.findByText(/and the period/)).toBeInTheDocument();
  });

  it("keeps a report, opens it, and says whether it comes out the same", async () => {
    const { asked } = renderAt("/report", <ReportPage />, answers);
    fireEvent.click(await screen.findByText("Make it again"));
    expect(await screen.findByText(/change its gaps; the one kept stays as it is/)).toBeInTheDocument();
    fireEvent.click(screen.getByRole("button", { name: /the fleet, / }));
    await waitFor(() => expect(shown()).toBe("/api/reports/kept/report-1.html?most=50"));
    fireEvent.click(screen.getByText("Another report"));
    fireEvent.click(await screen.findByText("Keep it"));
    await waitFor(() => expect(asked.some((a) => a.startsWith("/api/reports?by=fleet"))).toBe(true));
  });
});
