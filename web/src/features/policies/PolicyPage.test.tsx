import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { describe, expect, it } from "vitest";
import type { Fared, Replay } from "../../api/types";
import { renderAt } from "../../test-render";
import { PolicyPage } from "./PolicyPage";

const fared: Fared = {
  attainment: 0.981,
  worst: (["mishap", "siteLoss", "sabotage"] as const).map((hazard) => ({
    hazard,
    seconds: 180600,
    database: "manifests",
    broken: hazard === "mishap",
  })),
  reachHeld: 5,
  reachAsked: 6,
  reachMissed: ["berths"],
  slotsKept: 178,
  slotsAsked: 180,
};

const unneeded = {
  obsoleteCopies: 11,
  obsoleteBytes: 1.4e12,
  lockedCopies: 0,
  lockedBytes: 0,
  lockedUntil: null,
};

const foreseen = {
  overSeconds: 30 * 86400,
  before: fared,
  after: { ...fared, attainment: 0.9, reachHeld: 4 },
  tooNew: ["kiosk-9"],
  worse: [{ database: "tides", name: "tides", in: ["attainment"] }],
  lost: [
    {
      database: "berths",
      name: "berths",
      from: "2026-11-05T10:00:00Z",
      to: "2026-11-09T10:00:00Z",
      seconds: 4 * 86400,
      promisedSeconds: 2 * 86400,
      pieces: 1,
    },
  ],
};

const replay: Replay = {
  bad: null,
  followers: 6,
  others: 0,
  from: "2026-10-24T00:00:00Z",
  to: "2026-11-23T00:00:00Z",
  was: fared,
  before: unneeded,
  after: unneeded,
  flaws: [
    {
      code: "objective-too-short",
      path: "objective.mishap",
      text: "The promise to lose at most 5 min to a mishap cannot be kept: logs come every 10 min.",
      waysOut: [{ path: "objective.mishap", from: "PT5M", to: "PT15M" }],
    },
  ],
  takes: [],
  quiet: { at: "2026-11-24T02:40:00Z", waitsFor: "bookings", schedule: "nightly" },
};

const document = {
  type: "policy",
  id: "sailings",
  name: "Sailings",
  version: 6,
  objective: { mishap: "PT5M", reach: "P18D" },
  schedules: [{ id: "weekly", kind: "full", cron: "40 22 * * 6", within: "PT4H" }],
  retain: [{ role: "near", reach: "P18D" }],
};

const policy = {
  id: "sailings",
  name: "Sailings",
  now: "2026-11-23T00:00:00Z",
  versions: [{ version: 6, effectiveFrom: "2026-09-02T00:00:00Z", state: "in-force", document }],
  draft: null,
  followers: [
    {
      id: "bookings",
      name: "bookings",
      site: "Northquay",
      zone: "UTC",
      grade: "covered",
      readiness: "not-ready",
      lacks: ["Quay near refuses writes."],
    },
  ],
  closures: [
    { id: "c", from: "2026-11-25T21:00:00Z", to: "2026-11-25T23:30:00Z", reason: "port works" },
    { id: "past", from: "2026-11-20T21:00:00Z", to: "2026-11-20T23:30:00Z", reason: "dredging" },
  ],
};

const open = (more: Record<string, unknown> = {}) =>
  renderAt(
    "/policies/sailings",
    <Routes>
      <Route path="/policies/:id" element={<PolicyPage />} />
    </Routes>,
    {
      "/api/policies/sailings": policy,
      "/api/policies/sailings/replay": replay,
      "/api/policies/sailings/ahead": {
        bad: null,
        from: replay.to,
        days: 1,
        unchanging: 0,
        stores: [],
        restoreBefore: null,
        restoreAfter: null,
        misses: [],
        foreseen,
      },
      ...more,
    },
  );

const value = (label: string) => screen.getByRole("button", { name: new RegExp(`^${label}`) });

describe("a policy", () => {
  it("is read aloud, and stands as it is until something is changed", async () => {
    open();
    await screen.findByText("One thing does not fit.");
    expect(screen.getByText("As it stands")).toBeInTheDocument();
    expect(value("Loss to a mishap")).toHaveTextContent("5 min");
    expect(value("weekly: when")).toHaveTextContent("every Saturday at 22:40");
    expect(value("Loss with the site")).toHaveTextContent("no limit");
    expect(screen.queryByText("Put in force…")).not.toBeInTheDocument();
    expect(value("Loss to a mishap")).toHaveAccessibleDescription(/cannot be kept/);
  });

  it("is changed where the value stands; a bad value is said there and changes nothing", async () => {
    const { asked } = open();
    await screen.findByText("As it stands");
    fireEvent.click(value("Loss to a mishap"));
    const field = screen.getByRole("textbox", { name: "Loss to a mishap" });
    fireEvent.change(field, { target: { value: "soon" } });
    fireEvent.keyDown(field, { key: "Enter" });
    expect(await screen.findByRole("alert")).toHaveTextContent("is not a duration such as 10 min");
    fireEvent.change(field, { target: { value: "20 min" } });
    fireEvent.keyDown(field, { key: "Enter" });
    expect(value("Loss to a mishap")).toHaveTextContent("20 min");
    await waitFor(() => expect(asked).toContain("/api/policies/sailings/draft"));
    fireEvent.click(screen.getByText("Discard the draft"));
    expect(value("Loss to a mishap")).toHaveTextContent("5 min");
  });

  it("shows what a few of very many followers say until all have been looked at", async () => {
    const many = Array.from({ length: 50 }, (_, i) => ({
      ...(policy.followers[0] as (typeof policy.followers)[number]),
      id: `db-${i}`,
    }));
    let whole: (answer: unknown) => void = () => {};
    const { asked } = open({
      "/api/policies/sailings": { ...policy, followers: many },
      "/api/policies/sailings/replay?enough=40": { ...replay, followers: 40, others: 10 },
      "/api/policies/sailings/replay": new Promise((resolve) => (whole = resolve)),
    });
    expect(await screen.findByTestId("still-looking")).toHaveTextContent(
      "Of 40 of those who follow it; 10 more are being looked at.",
    );
    await waitFor(() => expect(asked).toContain("/api/policies/sailings/replay"));
    whole({ ...replay, followers: 50 });
    await waitFor(() => expect(screen.queryByTestId("still-looking")).toBeNull());
  });

  it("says beside the editor what is to come: how it was, as it stands, as written, and what is lost by name", async () => {
    open();
    fireEvent.click(await screen.findByRole("button", { name: "Set the loss to a mishap to 15 min" }));
    const table = await screen.findByTestId("consequence");
    await waitFor(() =>
      expect(within(table).getByRole("row", { name: /^Time within objective/ })).toHaveTextContent(
        "Time within objective98.1 %98.1 %90.0 % (worse)mean",
      ),
    );
    expect(within(table).getByRole("row", { name: /^Reach kept/ })).toHaveTextContent(
      "5 of 65 of 64 of 6 (worse)",
    );
    expect(screen.getByTestId("lost")).toHaveTextContent(
      /berths: 4 d from Thu 5 Nov, .* to Mon 9 Nov, .*, 48 h of it promised/,
    );
    expect(screen.getByTestId("lost")).toHaveTextContent(/A purge here keeps back what is promised/);
    expect(screen.getByTestId("worse")).toHaveTextContent(
      "One database will fare worse.tides: time within objective",
    );
    expect(screen.getByTestId("too-new")).toHaveTextContent(
      "Too new to tell, and left out of the days to come: kiosk-9.",
    );
  });

  it("takes the way out the core found", async () => {
    open();
    fireEvent.click(await screen.findByRole("button", { name: "Set the loss to a mishap to 15 min" }));
    expect(value("Loss to a mishap")).toHaveTextContent("15 min");
    fireEvent.click(screen.getByText("Undo"));
    expect(value("Loss to a mishap")).toHaveTextContent("5 min");
  });

  it("is not put in force before somebody says who and why, and why although it contradicts itself", async () => {
    window.localStorage.clear();
    open();
    fireEvent.click(await screen.findByRole("button", { name: "Set the loss to a mishap to 15 min" }));
    const button = await screen.findByText("Put in force…");
    await waitFor(() => expect(button).toBeEnabled());
    fireEvent.click(button);
    const form = screen.getByRole("form", { name: "Put in force" });
    expect(within(form).getByText(/when bookings is out of its nightly window/)).toBeInTheDocument();
    expect(within(form).getByRole("region", { name: "Not ready" })).toHaveTextContent(
      "1 of 1 followers is not ready:bookings Quay near refuses writes.",
    );
    const say = within(form).getByRole("button", { name: "Put version 7 in force" });
    expect(say).toBeDisabled();
    fireEvent.change(within(form).getByLabelText("Why"), { target: { value: "tides" } });
    expect(say).toBeDisabled();
    fireEvent.change(within(form).getByLabelText(/^Why although/), { target: { value: "next month" } });
    expect(say).toBeEnabled();
  });

  it("asks what becomes of what is planned before a version is put in force", async () => {
    window.localStorage.clear();
    const coming = { version: 7, effectiveFrom: "2026-12-24T00:00:00Z", state: "coming", document };
    open({ "/api/policies/sailings": { ...policy, versions: [coming, ...policy.versions] } });
    fireEvent.click(await screen.findByRole("button", { name: "Set the loss to a mishap to 15 min" }));
    const button = await screen.findByText("Put in force…");
    await waitFor(() => expect(button).toBeEnabled());
    fireEvent.click(button);
    const form = screen.getByRole("form", { name: "Put in force" });
    expect(form).toHaveTextContent("Still to come: version 7 from Thu 24 Dec");
    fireEvent.change(within(form).getByLabelText("Why"), { target: { value: "tides" } });
    fireEvent.change(within(form).getByLabelText(/^Why although/), { target: { value: "next month" } });
    const say = within(form).getByRole("button", { name: "Put version 8 in force" });
    expect(say).toBeDisabled();
    expect(form).toHaveTextContent("Say what becomes of what is planned.");
    fireEvent.click(within(form).getByLabelText(/Version 8 stands; that one is withdrawn/));
    expect(say).toBeEnabled();
  });

  it("names the closures to come, and makes none without a reason", async () => {
    open();
    const closures = await screen.findByRole("region", { name: "Closures" });
    expect(closures).toHaveTextContent("Nothing runs from Wed 25 Nov");
    expect(closures).toHaveTextContent("port works");
    expect(closures).not.toHaveTextContent("dredging");
    fireEvent.click(within(closures).getByText("Close it for a while…"));
    const form = within(closures).getByRole("form", { name: "Closure" });
    fireEvent.change(within(form).getByLabelText(/^Nothing runs from/), {
      target: { value: "2026-12-01T21:00" },
    });
    fireEvent.change(within(form).getByLabelText(/^to/), { target: { value: "2026-12-01T20:00" } });
    expect(form).toHaveTextContent("Say an end after the beginning, why.");
    expect(within(form).getByRole("button", { name: "Close" })).toBeDisabled();
    fireEvent.change(within(form).getByLabelText(/^to/), { target: { value: "2026-12-01T23:00" } });
    fireEvent.change(within(form).getByLabelText("because"), { target: { value: "spring tide" } });
    expect(within(form).getByRole("button", { name: "Close" })).toBeEnabled();
  });
});
