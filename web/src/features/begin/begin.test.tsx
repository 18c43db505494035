import { fireEvent, screen, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { renderAt } from "../../test-render";
import { BeginPage } from "./BeginPage";
import { firstPolicy, nextStep, policyFlaw, taken } from "./steps";

const nobody = { stores: [], routes: [], standing: [], databases: [], databasesAll: 0 };
const place = (id: string, retired: string | null = null) => ({
  id,
  name: id,
  retired,
  document: { id, name: id },
  usedBy: nobody,
});

const NOTHING = { places: { sites: [], stores: [], routes: [] }, policies: [], databases: [], backed: false };

describe("the first steps", () => {
  it("go on at the first that is not taken; what is retired counts for nothing", () => {
    expect(nextStep(taken(NOTHING))).toBe("site");
    const places = { sites: [place("north")], stores: [place("near", "2026-11-20T00:00:00Z")], routes: [] };
    expect(nextStep(taken({ ...NOTHING, places }))).toBe("store");
    const all = { sites: [place("north")], stores: [place("near")], routes: [place("r")] };
    expect(nextStep(taken({ ...NOTHING, places: all }))).toBe("policy");
    expect(nextStep(taken({ ...NOTHING, places: all, databases: [{ name: "fares" }] }))).toBe("policy");
  });

  it("open the one that comes next, and any other when asked", async () => {
    renderAt("/begin", <BeginPage />, {
      "/api/places": {
        sites: [place("Northquay")],
        stores: [place("Quay-near"), place("Harbour-far")],
        routes: [],
      },
      "/api/fleet": { rows: [], databases: 0 },
      "/api/policies": [],
      "/api/history": { lines: [] },
    });
    const route = await screen.findByRole("form", { name: "Route" });
    expect(screen.getByText("✓ Northquay")).toBeInTheDocument();
    expect(within(route).getByRole("button", { name: "Make it" })).toBeEnabled();
    fireEvent.change(within(route).getByLabelText("Each is copied to"), { target: { value: "Harbour-far" } });
    fireEvent.change(within(route).getByLabelText("Data backups and logs go to"), {
      target: { value: "Harbour-far" },
    });
    expect(within(route).getByRole("button", { name: "Make it" })).toBeDisabled();
    fireEvent.click(screen.getByLabelText("Open: A policy"));
    const policy = screen.getByRole("form", { name: "Policy" });
    expect(policy).toHaveTextContent("Say what it is called.");
    fireEvent.change(within(policy).getByLabelText("Name"), { target: { value: "Night boats" } });
    expect(within(policy).getByRole("button", { name: "Put it in force" })).toBeEnabled();
    fireEvent.change(within(policy).getByLabelText("A full every night at"), { target: { value: "99:00" } });
    expect(policy).toHaveTextContent("Say when fulls begin, such as 22:00.");
  });
});

describe("a first policy", () => {
  const said = { name: "Night boats", loss: "15 min", at: "21:40", every: "10 min", reach: "2 weeks" };

  it("is whole: promise, schedules and what is retained for it", () => {
    expect(policyFlaw(said)).toBe("");
    expect(firstPolicy(said)).toMatchObject({
      id: "night-boats",
      objective: { mishap: "PT15M", reach: "P14D" },
      retain: [{ role: "near", reach: "P14D" }],
    });
    expect(firstPolicy(said).schedules?.map((s) => s.rrule ?? s.every)).toEqual([
      "FREQ=DAILY;BYHOUR=21;BYMINUTE=40",
      "PT10M",
    ]);
    expect(policyFlaw({ ...said, every: "soon" })).toMatch(/how often/);
  });
});
