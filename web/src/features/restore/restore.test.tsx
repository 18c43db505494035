import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { describe, expect, it } from "vitest";
import type { Course, KeptRestore, PlanStep, RestorePlan } from "./api";
import { measured } from "./Measured";
import { database, row } from "../../test-fleet";
import { renderAt, signedIn } from "../../test-render";
import { DoingPage } from "./DoingPage";
import { RestorePage } from "./RestorePage";
import { stairs } from "./Staircase";
import { wantedOf } from "./wanted";

const step = (kind: PlanStep["kind"], starts: number, change: Partial<PlanStep> = {}): PlanStep => ({
  kind,
  backup: `b-${kind}-${starts}`,
  last: null,
  count: 1,
  store: "near",
  storeName: "Quay near",
  stream: kind === "log" ? "main" : null,
  at: "2026-11-10T00:00:00Z",
  bytes: 4e9,
  starts,
  seconds: 600,
  path: "/near/b",
  checksum: null,
  evidence: null,
  key: "quay-2026",
  copies: [
    { store: "near", storeName: "Quay near" },
    { store: "far", storeName: "Harbour far" },
  ],
  ...change,
});

const way = (tip: string, seconds: number, why: string) => ({
  tip,
  lineage: "1",
  title: `full of ${tip}`,
  why,
  steps: [step("full", 0), step("log", 600, { count: 87, last: "b-log-9" })],
  logs: 87,
  seconds,
  secondsKnown: true,
});

const plan = (change: Partial<RestorePlan> = {}): RestorePlan => ({
  database: "berths",
  name: "berths",
  zone: "Europe/Lisbon",
  asOf: "2026-11-11T00:00:00Z",
  hazard: "mishap",
  target: "2026-11-10T14:31:50Z",
  lastCommit: null,
  engine: "postgresql",
  positions: [],
  ways: [way("f-9", 1200, ""), way("f-8", 9000, "2 h 10 min longer")],
  more: 3,
  hole: null,
  before: "2026-11-10T14:31:50Z",
  after: "2026-11-10T14:31:50Z",
  promised: 7200,
  factor: null,
  proof: null,
  places: [
    { store: "near", name: "Quay near", site: "Northquay", siteId: "n", medium: "disk", role: "near" },
    { store: "far", name: "Harbour far", site: "Southquay", siteId: "s", medium: "object", role: "far" },
  ],
  streams: ["main"],
  lineages: ["1"],
  script: false,
  components: [],
  destination: {
    name: "berths-10nov",
    host: "h7",
    bytes: 4e11,
    keys: ["quay-2026"],
    states: [{ id: "files", text: "Files restored" }],
  },
  ...change,
});

function show(of: RestorePlan, address = "/restore?database=berths") {
  return renderAt(address, <RestorePage />, {
    "/api/choices/databases": [{ id: "berths", name: "berths" }],
    "/api/restore/of/": of,
    "/api/restore/begun": [],
    "/api/databases/berths": database(row("berths")),
  });
}

describe("The Restore view", () => {
  it("says the way, how long it takes, and why others are second", async () => {
    show(plan());
    expect(await screen.findByRole("heading", { name: /The way there, 20 min/ })).toBeInTheDocument();
    expect(screen.getByText("full of f-8")).toBeInTheDocument();
    expect(screen.getByText("2 h 30 min")).toHaveClass("text-coral-text");
    expect(screen.getByText("and 3 slower ones")).toBeInTheDocument();
  });

  it("goes by drills where there were some", async () => {
    show(plan({ factor: 7 }));
    expect(await screen.findByText("2 h 20 min")).toBeInTheDocument();
    expect(screen.getByText(/promised 2 h, not kept/)).toBeInTheDocument();
  });

  it("plans anew without what is unticked", async () => {
    const { asked } = show(plan());
    fireEvent.click(await screen.findByRole("checkbox", { name: /^Quay near/ }));
    await waitFor(() => expect(asked.some((a) => a.includes("store=near"))).toBe(true));
    fireEvent.click(screen.getByText("A copy does not read…"));
    const copies = screen.getAllByRole("checkbox", { name: /b-full-0/ });
    fireEvent.click(copies[1] as HTMLElement);
    await waitFor(() =>
      expect(asked.some((a) => a.includes(`copy=${encodeURIComponent("far|b-full-0")}`))).toBe(true),
    );
    fireEvent.click(screen.getByRole("checkbox", { name: "all of Southquay" }));
    await waitFor(() => expect(asked.some((a) => a.includes("site=s"))).toBe(true));
  });

  it("takes a moment to the second in the database's zone, and positions", async () => {
    const { asked } = show(plan());
    const field = await screen.findByLabelText(/Moment.*Europe\/Lisbon/);
    fireEvent.change(field, { target: { value: "1 Jul 2026 10:00:05" } });
    fireEvent.submit(field.closest("form") as HTMLFormElement);
    await waitFor(() => expect(asked.some((a) => a.includes("moment=2026-07-01T09%3A00%3A05Z"))).toBe(true));
    fireEvent.click(screen.getByText("A log position…"));
    fireEvent.change(screen.getByLabelText("main"), { target: { value: "5000" } });
    fireEvent.submit(screen.getByRole("form", { name: "Log positions" }));
    await waitFor(() => expect(asked.some((a) => a.includes("positions=main%3A5000"))).toBe(true));
  });

  it("says in which gap a moment lies and leads to what is nearest", async () => {
    show(
      plan({
        ways: [],
        hole: {
          stream: "main",
          after: "2026-11-10T12:00:00Z",
          before: "2026-11-10T16:00:00Z",
          cause: "never-backed-up",
        },
        before: "2026-11-10T12:00:00Z",
        after: "2026-11-10T23:40:00Z",
      }),
    );
    expect(await screen.findByText(/its logs were never backed up/)).toBeInTheDocument();
    fireEvent.click(screen.getByRole("button", { name: /Nearest after/ }));
    expect(screen.getByTestId("address")).toHaveTextContent("moment=2026-11-10T23%3A40%3A00Z");
    expect(screen.queryByText("Begin the restore")).toBeNull();
  });

  it("lets only operators begin, and says what is lost over the old one", async () => {
    show(plan());
    expect(await screen.findByText("Begin the restore")).toBeInTheDocument();
    fireEvent.click(screen.getByRole("checkbox", { name: /over the old berths/ }));
    expect(screen.getByText(/what it contains now is lost/)).toBeInTheDocument();
    expect(screen.queryByLabelText("New name")).toBeNull();
    expect(screen.getByText("Begin the restore")).toBeDisabled();
    fireEvent.change(screen.getByLabelText("Type berths to insist"), { target: { value: "berths" } });
    expect(screen.getByText("Begin the restore")).toBeEnabled();
  });

  it("begins nothing with what was left at another moment", async () => {
    const then = show(plan(), "/restore?database=berths&asOf=2026-11-09T10:00:00Z");
    expect(await screen.findByText("Print the checklist")).toBeInTheDocument();
    expect(screen.queryByText("Begin the restore")).toBeNull();
    expect(then.asked.some((a) => a.includes("asOf="))).toBe(true);
  });
});

describe("A restore under way", () => {
  const kept: KeptRestore = {
    id: "restore-1",
    by: "Maren",
    at: "2026-11-11T00:00:00Z",
    plan: plan(),
    name: "berths-10nov",
    host: "h7",
    over: false,
    paths: [],
    items: [
      {
        id: "i1",
        state: "files",
        text: "Restore the full",
        details: { path: "/near/b" },
        done: null,
        by: null,
      },
      {
        id: "i2",
        state: "files",
        text: "Restore the logs",
        details: {},
        done: "2026-11-11T00:20:00Z",
        by: "Maren",
      },
    ],
    ended: null,
    course: null,
  };
  const render = (roles?: string[], more: Partial<KeptRestore> = {}) =>
    renderAt(
      "/restore/restore-1",
      <Routes>
        <Route path="/restore/:id" element={<DoingPage />} />
      </Routes>,
      {
        "/api/restore/begun/restore-1": { ...kept, ...more },
        ...(roles ? { "/api/session": signedIn({ person: { id: "v", name: "V", can: roles }, roles }) } : {}),
      },
    );

  const state = (
    name: string,
    from: string,
    until: string | null,
    done: number | null,
    of: number | null,
  ) => ({
    state: name,
    began: `2026-11-11T${from}Z`,
    ended: until && `2026-11-11T${until}Z`,
    done,
    of,
  });
  const course: Course = {
    host: "dock",
    into: "/srv/restored/berths",
    states: [
      state("ready", "00:01:00", "00:01:01", null, null),
      state("files", "00:01:02", "00:06:02", 2e9, 4e9),
      state("logs", "00:06:02", null, 12, 40),
    ],
    checks: [],
    opened: null,
    reached: null,
    positions: [],
    failed: null,
    told: "2026-11-11T00:07:02Z",
  };

  it("names the command that has a machine do it", async () => {
    render(undefined, { plan: { ...plan(), script: true }, over: true, name: "berths" });
    expect(
      await screen.findByText("./firth restore restore-1 --config FILE --into DIR --over berths"),
    ).toBeInTheDocument();
  });

  it("shows what a machine does as measured, on the staircase", async () => {
    render(undefined, { course });
    expect(await screen.findByText(/dock carries it out/)).toBeInTheDocument();
    expect(screen.queryByText(/--config FILE/)).toBeNull();
    expect(measured(course)).toEqual([
      { name: "files", from: 0, until: 300, going: false, text: "5 min, 2.0 GB of 4.0 GB" },
      { name: "logs", from: 300, until: 360, going: true, text: "1 min, 12 of 40" },
    ]);
    expect(screen.getByRole("region", { name: "The way there" })).toBeInTheDocument();
  });

  it("says why a machine failed, and with what it tries again", async () => {
    render(undefined, { course: { ...course, failed: "the server did not open: no room" } });
    expect(await screen.findByText("It failed on dock.")).toBeInTheDocument();
    expect(screen.getByText(/no room/)).toBeInTheDocument();
    expect(screen.getByText(/--into \/srv\/restored\/berths$/)).toBeInTheDocument();
  });

  it("has what a machine said ready where it is entered how it ended", async () => {
    render(undefined, {
      over: true,
      course: {
        ...course,
        opened: "2026-11-11T00:08:00Z",
        reached: "2026-11-10T23:00:00Z",
        positions: [{ stream: "main", position: 777 }],
        checks: ["pg_dumpall read every table"],
      },
    });
    expect(await screen.findByText("pg_dumpall read every table")).toBeInTheDocument();
    fireEvent.click(screen.getByText("Enter how it ended…"));
    expect(screen.getByLabelText(/Position of main/)).toHaveValue("0/309");
    expect(screen.getByLabelText("Notes to keep")).toHaveValue(
      "Carried out on dock, in /srv/restored/berths.",
    );
    expect((screen.getByLabelText(/Open since/) as HTMLInputElement).value).toMatch(/00:08/);
  });

  it("is ticked off and timed", async () => {
    const { asked } = render();
    const files = await screen.findByRole("region", { name: "Files restored" });
    expect(within(files).getByText(/after 20 min, Maren/)).toBeInTheDocument();
    fireEvent.click(within(files).getByRole("checkbox", { name: /Restore the full/ }));
    await waitFor(() => expect(asked).toContain("/api/restore/begun/restore-1/tick"));
  });

  it("is only looked at by viewers", async () => {
    render(["viewer"]);
    expect(await screen.findByRole("checkbox", { name: /Restore the full/ })).toBeDisabled();
    expect(screen.queryByText(/Enter how it ended/)).toBeNull();
  });

  it("ends with the new database looked after by the same rules", async () => {
    const { asked } = render();
    fireEvent.click(await screen.findByText(/Enter how it ended/));
    expect(screen.getByRole("checkbox", { name: /by the same rules as berths/ })).toBeChecked();
    fireEvent.submit(screen.getByRole("form", { name: "How it ended" }));
    await waitFor(() => expect(asked).toContain("/api/restore/begun/restore-1/end"));
  });
});

describe("The words of the address", () => {
  it("are what is asked for", () => {
    const params = new URLSearchParams("database=a&moment=2026-11-10T12:00:00Z&lostStore=x&lostStore=y");
    expect(wantedOf(params)).toEqual({ moment: "2026-11-10T12:00:00Z", store: ["x", "y"] });
  });
});

describe("The staircase", () => {
  it("puts many incrementals on one stair", () => {
    const many = {
      ...way("f", 1, ""),
      steps: [
        step("full", 0),
        ...Array.from({ length: 20 }, (_, k) => step("incr", 600 + k)),
        step("log", 900),
      ],
    };
    const all = stairs(many, "UTC");
    expect(all.map((s) => s.kind)).toEqual(["full", "incr", "log"]);
    expect(all[1]?.text).toBe("20 of them, 80 GB, Quay near");
    expect(all[1]?.seconds).toBe(12_000);
  });
});
