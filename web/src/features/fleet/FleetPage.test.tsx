import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { describe, expect, it } from "vitest";
import type { FleetChoices, FleetView } from "../../api/types";
import { BLOCK } from "../../api/stretch";
import { fleetRow } from "../../test-fleet";
import { renderAt } from "../../test-render";
import { FleetPage } from "./FleetPage";
import { ReadinessPage } from "./ReadinessPage";
import { readyWords } from "./readiness";
import { StandingPage } from "./StandingPage";

const fleet: FleetView = {
  now: "2026-11-23T00:00:00Z",
  databases: 5,
  found: 3,
  rows: [
    fleetRow("fares", {
      attention: ["clone"],
      namesake: { host: "southquay-2", identity: "99", at: "2026-11-23T00:00:00Z" },
    }),
    fleetRow("moorings", { policy: null, attention: ["no-policy"] }),
    fleetRow("bookings"),
  ],
  unenrolledAll: 2,
  unenrolled: [
    {
      name: "Bookings",
      engine: "",
      fromRecords: false,
      near: "bookings",
      seen: { host: "h", identity: "", at: "2026-11-22T00:00:00Z" },
    },
    { name: "stray", engine: "", fromRecords: true, near: null, seen: null },
  ],
};

const choices: FleetChoices = {
  policies: [{ id: "sailings", name: "Sailings" }],
  routes: [
    {
      id: "north",
      name: "From Northquay",
      data: ["near"],
      log: [],
      copies: ["far"],
      takers: ["bookings", "fares"],
      takenBy: 7,
    },
  ],
  owners: [],
  labels: [],
  stores: [
    { id: "near", name: "Quay near" },
    { id: "far", name: "Harbour far" },
  ],
  sites: [],
  standing: [
    {
      id: "r1",
      order: 1,
      labels: {},
      engine: null,
      site: null,
      system: null,
      name: "*",
      policy: "sailings",
      route: null,
      enabled: true,
    },
  ],
};

describe("the fleet", () => {
  it("says first who needs somebody, and why", async () => {
    renderAt("/fleet", <FleetPage />, { "/api/fleet": fleet, "/api/choices": choices });
    await screen.findByText("2 databases nobody enrolled");
    const rows = within(screen.getByTestId("fleet")).getAllByRole("rowheader");
    expect(rows.map((r) => r.querySelector("a")?.textContent)).toEqual(["fares", "moorings", "bookings"]);
    expect(rows[0]).toHaveTextContent("the engine there calls itself 99, this one 77");
    expect(screen.getByText(/is it the same, written differently/)).toBeInTheDocument();
    expect(screen.getByText(/is known only from records of its backups/)).toBeInTheDocument();
  });

  it("chooses many and asks what to assign", async () => {
    renderAt("/fleet?find=northquay", <FleetPage />, { "/api/fleet": fleet, "/api/choices": choices });
    fireEvent.click(await screen.findByLabelText("Choose all of these"));
    const form = await screen.findByRole("form", { name: "Assign" });
    expect(within(form).getByRole("button", { name: "Assign 3 databases" })).toBeDisabled();
    fireEvent.change(within(form).getByLabelText("Policy"), { target: { value: "sailings" } });
    expect(within(form).getByRole("button", { name: "Assign 3 databases" })).toBeEnabled();
  });
});

describe("the fleet, where it is long", () => {
  it("is found by the server, comes a stretch at a time, and can be chosen whole", async () => {
    const { asked } = renderAt("/fleet?find=quay&retired=shown", <FleetPage />, {
      "/api/fleet": { ...fleet, found: 120 },
      "/api/choices": choices,
    });
    expect(await screen.findByText("120 of 5")).toBeInTheDocument();
    expect(asked.filter((a) => a.startsWith("/api/fleet"))).toEqual([
      `/api/fleet?words=quay&retired=yes&from=0&most=${BLOCK}`,
    ]);
    expect(screen.getByTestId("fleet").querySelectorAll("tr").length).toBeLessThan(60);
    window.scrollY = 1_700;
    fireEvent.scroll(window);
    await waitFor(() =>
      expect(asked).toContain(`/api/fleet?words=quay&retired=yes&from=${BLOCK}&most=${BLOCK}`),
    );
    fireEvent.click(screen.getByLabelText("Choose all of these"));
    await waitFor(() => expect(asked).toContain("/api/fleet?words=quay&retired=yes&from=0&most=500"));
  });
});

describe("standing assignment", () => {
  it("shows who falls where while a rule is changed, and keeps no rule that gives nothing", async () => {
    const a = { database: "a", name: "a", rules: ["r1"], policy: null };
    const b = { database: "b", name: "b", rules: [], policy: "sailings" };
    const falls = {
      groups: [
        { divided: false, rules: true, wouldFollow: "sailings", databases: 1_001, some: [a] },
        { divided: false, rules: false, wouldFollow: null, databases: 1, some: [b] },
      ],
      first: { r1: 1_001 },
    };
    renderAt("/fleet/standing", <StandingPage />, { "/api/choices": choices, "/api/fleet/falls": falls });
    const preview = await screen.findByTestId("falls");
    expect(await within(preview).findByText("under no rule")).toBeInTheDocument();
    expect(preview).toHaveTextContent("Sailings a (follows none) and 1 000 more");
    const keep = screen.getByRole("button", { name: "Keep these rules" });
    expect(keep).toBeDisabled();
    fireEvent.click(screen.getByText("Add a rule"));
    expect(keep).toBeDisabled();
    expect(screen.getByText("Each rule gives a policy or a route.")).toBeInTheDocument();
    fireEvent.change(screen.getByLabelText("Rule 2: policy"), { target: { value: "sailings" } });
    expect(keep).toBeEnabled();
    fireEvent.change(screen.getByLabelText("Rule 2: labels"), { target: { value: "tall" } });
    expect(screen.getByRole("alert")).toHaveTextContent("not written name=text");
  });
});

describe("the readiness of a database", () => {
  const check = (state: string, item: string, text: string, at: string | null) => ({
    item,
    state,
    text,
    source: at && "runner on northquay-2",
    at,
  });

  it("names each fact with its state, source and age", async () => {
    renderAt(
      "/fleet/manifests/readiness",
      <Routes>
        <Route path="/fleet/:id/readiness" element={<ReadinessPage />} />
      </Routes>,
      {
        "/api/fleet/manifests/readiness": {
          id: "manifests",
          name: "manifests",
          now: "2026-11-23T12:00:00Z",
          state: "not-ready",
          checks: [
            check("ready", "logs", "Logs are archived.", "2026-11-23T11:50:00Z"),
            check("not-ready", "destination", "Quay near refuses writes.", "2026-11-23T11:50:00Z"),
            check("unknown", "names", "It is not known what it is called.", null),
          ],
        },
      },
    );
    const table = await screen.findByTestId("readiness");
    expect(screen.getByText(/one thing is not as it should be/)).toBeInTheDocument();
    const [, , refused, unsaid] = within(table).getAllByRole("row");
    expect(refused).toHaveTextContent(
      "not readyDestinationQuay near refuses writes.runner on northquay-210 min",
    );
    expect(unsaid).toHaveTextContent("unknownNames matchIt is not known what it is called.");
  });

  it.each([
    [{ state: "ready", lacking: 0, unknown: 0 }, "ready"],
    [{ state: "waiting", lacking: 0, unknown: 0 }, "awaits a restart"],
    [{ state: "unknown", lacking: 0, unknown: 4 }, "4 unknown"],
    [{ state: "not-ready", lacking: 1, unknown: 4 }, "1 thing lacking"],
    [{ state: "not-ready", lacking: 2, unknown: 0 }, "2 things lacking"],
  ] as const)("%o reads %s", (ready, words) => expect(readyWords(ready)).toBe(words));
});
