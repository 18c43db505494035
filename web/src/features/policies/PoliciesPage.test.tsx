import { fireEvent, screen, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { describe, expect, it } from "vitest";
import type { PolicyRow } from "../../api/types";
import { renderAt } from "../../test-render";
import { PoliciesPage } from "./PoliciesPage";

const row = (change: Partial<PolicyRow> = {}): PolicyRow => ({
  id: "sailings",
  name: "Sailings",
  version: 2,
  enabled: true,
  effectiveFrom: "2026-09-02T00:00:00Z",
  document: {
    id: "sailings",
    name: "Sailings",
    objective: { mishap: "PT15M", reach: "P18D" },
    schedules: [{ id: "logs", kind: "log", every: "PT10M" }],
  },
  followers: 6,
  grades: [
    { grade: "behind", databases: 2 },
    { grade: "covered", databases: 4 },
  ],
  attainment: 0.98149,
  flaws: [],
  draftSaved: null,
  nextFrom: null,
  ...change,
});

const open = (rows: PolicyRow[], more: object = {}) =>
  renderAt(
    "/policies",
    <Routes>
      <Route path="/policies" element={<PoliciesPage />} />
      <Route path="/policies/:id" element={<h1>the editor</h1>} />
    </Routes>,
    { "/api/policies": rows, "/api/policies/sailings-copy/draft": {}, ...more },
  );

describe("the list of policies", () => {
  it("says what each promises, who follows it and how well it is kept, never rounded up", async () => {
    open([row()]);
    const own = await screen.findByRole("article", { name: "Sailings" });
    expect(own).toHaveTextContent(/version 2 since [12] Sept?/);
    expect(own).toHaveTextContent("6 follow it: 2 behind, 4 covered.");
    expect(own).toHaveTextContent("Within objective 98.1 % of the last 30 days.");
    expect(own).toHaveTextContent("15 min");
    expect(own).toHaveTextContent("10 min");
  });

  it("copies a draft that was never in force", async () => {
    const draft = row({ version: null, document: null, draftSaved: "2026-11-22T00:00:00Z" });
    const { asked } = open([draft], {
      "/api/policies/sailings": { draft: { document: { id: "sailings", objective: { mishap: "PT5M" } } } },
    });
    expect(await screen.findByText("Copy the draft")).toBeEnabled();
    expect(screen.queryByText("Copy")).toBeNull();
    fireEvent.click(screen.getByText("Copy the draft"));
    expect(await screen.findByText("the editor")).toBeInTheDocument();
    expect(asked).toContain("/api/policies/sailings-copy/draft");
  });

  it("names contradictions, drafts, what is to come and what is switched off", async () => {
    open([
      row({
        enabled: false,
        draftSaved: "2026-11-22T00:00:00Z",
        nextFrom: "2026-12-01T00:00:00Z",
        attainment: null,
        followers: 0,
        flaws: [{ code: "no-full", path: "schedules", text: "No full is scheduled.", waysOut: [] }],
      }),
    ]);
    const own = await screen.findByRole("article", { name: "Sailings" });
    expect(own).toHaveTextContent("switched off");
    expect(own).toHaveTextContent("a draft is being written");
    expect(own).toHaveTextContent(/the next from (1 Dec|30 Nov)/);
    expect(own).toHaveTextContent("Nobody follows it.");
    expect(own).toHaveTextContent("No full is scheduled.");
    expect(own).not.toHaveTextContent("Within objective");
  });

  it("says what to do where there is none", async () => {
    open([]);
    expect(await screen.findByText(/There is no policy yet/)).toBeInTheDocument();
  });

  it("begins one under a name nobody has, and copies one that was ever in force", async () => {
    open([row(), row({ id: "night", name: "Night", version: null, document: null })]);
    const name = await screen.findByLabelText("A new policy named");
    const write = screen.getByText("Write it");
    expect(write).toBeDisabled();
    fireEvent.change(name, { target: { value: "sailings" } });
    expect(screen.getByRole("alert")).toHaveTextContent("The name is taken.");
    fireEvent.change(name, { target: { value: "!!" } });
    expect(screen.getByRole("alert")).toHaveTextContent("The name needs a letter or digit.");
    expect(within(screen.getByRole("article", { name: "Night" })).queryByText("Copy")).toBeNull();
    expect(within(screen.getByRole("article", { name: "Sailings" })).getByText("Copy")).toBeEnabled();
    fireEvent.change(name, { target: { value: "Night boats" } });
    expect(write).toBeEnabled();
    fireEvent.click(write);
    expect(await screen.findByText("the editor")).toBeInTheDocument();
    expect(screen.getByTestId("address")).toHaveTextContent("/policies/night-boats");
  });
});
