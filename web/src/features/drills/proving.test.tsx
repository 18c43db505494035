import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { DrillDone, DrillRow, DrillsView } from "./api";
import type { Rehearsal, RehearsedRow } from "../rehearsal/api";
import { renderAt, signedIn } from "../../test-render";
import { DrillsPage } from "./DrillsPage";
import { RehearsalPage } from "../rehearsal/RehearsalPage";

const NOW = "2026-11-11T00:00:00Z";

const drillRow = (database: string, change: Partial<DrillRow> = {}): DrillRow => ({
  database,
  name: database,
  policy: "Sailings",
  every: 90 * 86400,
  proved: null,
  due: "2026-11-01T00:00:00Z",
  state: "due",
  proposed: null,
  ...change,
});

const drillDone = (id: string, change: Partial<DrillDone> = {}): DrillDone => ({
  id,
  database: "cargo",
  name: "cargo",
  zone: "UTC",
  at: "2026-11-05T00:00:00Z",
  moment: "2026-11-04T00:00:00Z",
  reached: null,
  backup: null,
  outcome: "failed",
  took: 21600,
  expected: 1800,
  checks: [],
  message: "tariffs was missing",
  suspects: 2,
  ...change,
});

const proposal = {
  id: "drill-1",
  database: "tides",
  moment: "2026-11-09T14:31:50Z",
  seed: 4711,
  expected: 600,
  tip: "t-9",
  title: "full of 8 Nov, 3 logs",
  by: "Maren",
  at: NOW,
};

const drills: DrillsView = {
  asOf: NOW,
  databases: 3,
  promised: 2,
  proved: 1,
  tested: 1,
  due: 2,
  most: drillRow("berths"),
  rows: [
    drillRow("berths"),
    drillRow("tides", { proposed: proposal }),
    drillRow("fuel", { every: null, state: "none" }),
  ],
  done: [
    drillDone("q1"),
    drillDone("q2", { outcome: "unchecked", suspects: 0, message: "" }),
    drillDone("q3", { outcome: "proved", checks: ["row counts"], suspects: 0 }),
  ],
};

describe("Drills", () => {
  const show = (session?: ReturnType<typeof signedIn>) =>
    renderAt("/drills", <DrillsPage />, {
      "/api/drills": drills,
      ...(session ? { "/api/session": session } : {}),
    });

  it("says how the fleet stands and that a drill without a check proves nothing", async () => {
    show();
    expect(await screen.findByTestId("drill-coverage")).toHaveTextContent(
      "Drills are promised for 2 databases; 1 is proved. Of all 3, 1 has ever been.",
    );
    expect(screen.getByText(/nothing checked: proves nothing/)).toBeInTheDocument();
    expect(
      screen.getByText(/took 6 h for 30 min expected/, { exact: false, selector: "li:nth-child(1) span" }),
    ).toBeInTheDocument();
  });

  it("shows a proposal with its seed and its plan, and takes what became of it", async () => {
    const { asked } = show();
    expect(await screen.findByText(/chosen by chance from seed/)).toHaveTextContent("4711");
    expect(screen.getByRole("link", { name: "The plan" })).toHaveAttribute(
      "href",
      "/restore?database=tides&moment=2026-11-09T14%3A31%3A50Z",
    );
    fireEvent.click(screen.getByText("Enter the result"));
    const form = await screen.findByRole("form", { name: "The result" });
    expect(within(form).getByText(/Without a check it proves nothing/)).toBeInTheDocument();
    expect(within(form).getByText(/Say when it began and when it ended/)).toBeInTheDocument();
    fireEvent.change(within(form).getByLabelText(/Began/), { target: { value: "10 Nov 2026 10:00" } });
    fireEvent.change(within(form).getByLabelText(/Ended/), { target: { value: "2026-11-10T10:20" } });
    fireEvent.submit(form);
    await waitFor(() => expect(asked).toContain("/api/drills/drill-1/result"));
  });

  it("marks the copies a failed drill read with one click", async () => {
    const { asked } = show();
    fireEvent.click(await screen.findByText(/Mark the 2 copies it read/));
    await waitFor(() => expect(asked).toContain("/api/drills/q1/suspect"));
  });

  it("offers viewers nothing to do", async () => {
    show(signedIn({ person: { id: "v", name: "V", can: ["viewer"] }, roles: ["viewer"] }));
    await screen.findByTestId("drill-coverage");
    expect(screen.queryByText("Propose one")).toBeNull();
    expect(screen.queryByText(/Mark the/)).toBeNull();
  });
});

const lost = (database: string, change: Partial<RehearsedRow> = {}): RehearsedRow => ({
  database,
  name: database,
  policy: "Sailings",
  down: true,
  restored: true,
  reached: NOW,
  age: 900,
  within: true,
  seconds: 600,
  begins: 0,
  ends: 600,
  heldBack: false,
  promised: 7200,
  stores: ["Harbour far"],
  cure: null,
  ...change,
});

const rehearsal = (id: string, rows: RehearsedRow[], seconds: number): Rehearsal => ({
  id,
  losing: { title: id, sites: ["n"], stores: [], hosts: [], unlocked: false, moment: NOW, sideBySide: 2 },
  by: "Maren",
  at: NOW,
  asked: 4,
  judged: 4,
  trouble: "",
  result: {
    moment: NOW,
    databases: 4,
    down: 3,
    restored: 3,
    unreachable: 1,
    promised: 2,
    kept: 1,
    seconds,
    untimed: 0,
    worstAge: 900,
    heldBack: 1,
    atATime: [
      { most: 1, kept: 2, seconds: 9600 },
      { most: 2, kept: 1, seconds },
    ],
    rows,
  },
});

describe("The loss rehearsal", () => {
  const rows = [
    lost("webshop", {
      reached: null,
      age: null,
      begins: null,
      ends: null,
      cure: "cheapest: lock what lies there",
    }),
    lost("berths"),
    lost("cargo", { begins: 600, ends: 9000, heldBack: true, within: false, age: 9000 }),
    lost("fuel", { restored: false, down: false, begins: null, ends: null }),
  ];
  const answers = {
    "/api/rehearsals/losable": {
      sites: [{ id: "n", name: "Northquay", databases: 1 }],
      stores: [],
      hosts: [{ id: "h7", name: "h7" }],
    },
    "/api/rehearsals/one": rehearsal("one", rows, 9000),
    "/api/rehearsals/two": rehearsal("two", [lost("berths", { ends: 300 })], 300),
    "/api/rehearsals": [
      { id: "one", title: "one", by: "Maren", at: NOW, unreachable: 1, seconds: 9000 },
      { id: "two", title: "two", by: "Maren", at: NOW, unreachable: 0, seconds: 300 },
    ],
  };

  it("says what can be restored, in which order, and what cures the rest", async () => {
    renderAt("/rehearsals", <RehearsalPage />, answers);
    expect(await screen.findByTestId("rehearsal-summary")).toHaveTextContent(
      "3 of 4 databases are down. 2 can be restored, all back after 2 h 30 min, 1 of 2 promised restore times kept",
    );
    expect(screen.getByTestId("at-a-time")).toHaveTextContent(
      "At a time: 1 keeps 2 of 2 in 2 h 40 min, 2 keeps 1 of 2 in 2 h 30 min. One restore is held back",
    );
    expect(screen.getByText(/lock what lies there/)).toBeInTheDocument();
    expect(screen.getByText(/2 h 30 min, promised 2 h/)).toHaveClass("text-coral-text");
    expect(screen.getByText(/could go back to 15 min before/)).toBeInTheDocument();
  });

  it("stands beside another", async () => {
    renderAt("/rehearsals?rehearsal=one&beside=two", <RehearsalPage />, answers);
    const compared = await screen.findByRole("region", { name: "Compared" });
    expect(within(compared).getByText("2 h 30 min")).toBeInTheDocument();
    expect(within(compared).getByText("5 min")).toBeInTheDocument();
    expect(
      within(compared).getByText(/berths: back after 10 min, beside back after 5 min/),
    ).toBeInTheDocument();
  });

  it("begins with what is chosen, and only when something is", async () => {
    const { asked } = renderAt("/rehearsals", <RehearsalPage />, answers);
    const form = await screen.findByRole("form", { name: "What is lost" });
    expect(form).toHaveTextContent(/Most depends on/);
    const proposed = within(form)
      .getAllByRole<HTMLInputElement>("checkbox")
      .filter((c) => c.checked);
    expect(proposed).toHaveLength(1);
    proposed.forEach((c) => fireEvent.click(c));
    expect(within(form).getByRole("button", { name: "Rehearse it" })).toBeDisabled();
    fireEvent.click(within(form).getByRole("checkbox", { name: "h7" }));
    const before = asked.length;
    fireEvent.submit(form);
    await waitFor(() => expect(asked.slice(before)).toContain("/api/rehearsals"));
  });
});
