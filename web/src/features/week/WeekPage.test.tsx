import { fireEvent, screen, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { WeekBar, WeekView } from "../../api/types";
import { renderAt } from "../../test-render";
import { tried } from "./TryPanel";
import { WeekPage } from "./WeekPage";

const bar = (name: string, change: Partial<WeekBar> = {}): WeekBar => ({
  database: name,
  name,
  policy: "sailings",
  version: 1,
  schedule: "nightly",
  kind: "incr",
  open: "2026-11-23T22:40:00Z",
  close: "2026-11-24T02:40:00Z",
  mustFinish: false,
  state: "planned",
  medianSeconds: 600,
  longestSeconds: 900,
  runs: 8,
  store: "quay-near",
  overrunSeconds: 0,
  ...change,
});

const week: WeekView = {
  from: "2026-11-23T12:00:00Z",
  to: "2026-11-30T12:00:00Z",
  zone: "UTC",
  choices: [
    { by: "store", id: "quay-near", name: "Quay near" },
    { by: "all", id: "", name: "the whole fleet" },
  ],
  chosen: "store:quay-near",
  slots: 3,
  bands: [],
  unservedAll: 1,
  bars: [
    bar("bookings"),
    bar("cargo", { schedule: "weekly", kind: "full", overrunSeconds: 1200, medianSeconds: 16_000 }),
    bar("fuel", { schedule: "yearly", policy: "shore-office", state: "off" }),
  ],
  open: [
    {
      from: "2026-11-23T21:00:00Z",
      to: "2026-11-24T07:00:00Z",
      what: "open hours of Sailings",
      policy: "sailings",
    },
  ],
  closures: [
    { from: "2026-11-25T21:00:00Z", to: "2026-11-25T23:30:00Z", what: "port works", policy: "sailings" },
  ],
  collisions: [
    {
      store: "quay-near",
      storeName: "Quay near",
      from: "2026-11-23T22:40:00Z",
      to: "2026-11-23T23:10:00Z",
      together: 2,
      databases: ["bookings", "cargo"],
      bytesPerSecond: 61e6,
      shownBytesPerSecond: 33e6,
    },
  ],
  unserved: [
    {
      database: "kiosk-north",
      name: "kiosk-north",
      schedule: null,
      missed: 0,
      since: null,
      why: "The scheduler is off.",
    },
    {
      database: "fuel",
      name: "fuel",
      schedule: "nightly",
      missed: 4,
      since: "2026-11-19T22:40:00Z",
      why: null,
    },
  ],
};

const soon = {
  misses: [
    {
      database: "cargo",
      schedule: "weekly",
      open: "2027-01-02T22:40:00Z",
      expectedSeconds: 18_240,
      allowedSeconds: 18_000,
    },
    {
      database: "elsewhere",
      schedule: "weekly",
      open: "2027-01-02T22:40:00Z",
      expectedSeconds: 1,
      allowedSeconds: 1,
    },
  ],
};

const open = (change: Partial<WeekView> = {}) =>
  renderAt("/week", <WeekPage />, { "/api/week": { ...week, ...change }, "/api/week/soon": soon });

describe("the week", () => {
  it("says what stands in its way, the gravest first", async () => {
    open();
    const notes = within(await screen.findByTestId("week-notes"));
    await notes.findByText(/misses its window from/);
    const said = notes.getAllByRole("listitem").map((li) => li.textContent);
    expect(said[0]).toBe("Nobody starts the runs of kiosk-north: The scheduler is off.");
    expect(said[1]).toMatch(
      /Nobody starts the nightly run of fuel: 4 were due since Thu 19 Nov, 22:40 .*none was tried\./,
    );
    expect(said[2]).toContain("2 at once on Quay near, Mon 23 Nov, 22:40: 61 of the 33 MB/s it has shown");
    expect(said[3]).toContain(
      "The weekly run of cargo on Mon 23 Nov, 22:40 usually ends 20 min after its window.",
    );
    expect(said[4]).toMatch(
      /The weekly run of cargo misses its window from \d Jan.* on, at its present growth/,
    );
    expect(said[5]).toBe("Switched off, so nothing runs: yearly of shore-office.");
    expect(said).toHaveLength(6);
  });

  it("has a row a night and says each bar in words", async () => {
    open();
    const night = await screen.findByRole("group", { name: /Night of Mon 23 Nov/ });
    expect(screen.getAllByRole("group", { name: /^Night of/ })).toHaveLength(7);
    const own = night.querySelector("[data-bar='bookings nightly']");
    expect(own?.getAttribute("aria-label")).toMatch(/usually 10 min/);
    expect(screen.getByText("closure: port works")).toBeInTheDocument();
  });

  it("is of what is chosen, and of another week, in the address", async () => {
    open();
    fireEvent.change(await screen.findByLabelText("of"), { target: { value: "all:" } });
    expect(screen.getByTestId("address")).toHaveTextContent("/week?week=all%3A");
    fireEvent.click(screen.getByText("Week after"));
    expect(screen.getByTestId("address")).toHaveTextContent("from=2026-11-30");
    fireEvent.click(screen.getByText("Week before"));
    expect(screen.getByTestId("address")).toHaveTextContent("from=2026-11-16");
  });

  it("says so when nothing is scheduled", async () => {
    open({ slots: 0, bars: [], collisions: [], unserved: [], unservedAll: 0 });
    expect(await screen.findByText("Nothing is scheduled in this week.")).toBeInTheDocument();
  });
});

describe("a slot tried at another time", () => {
  const base = {
    type: "policy",
    id: "sailings",
    schedules: [
      { id: "weekly", kind: "full", rrule: "FREQ=WEEKLY;BYDAY=SA;BYHOUR=22;BYMINUTE=40", within: "PT4H" },
      { id: "nightly", kind: "incr", cron: "40 22 * * 0-5", within: "PT4H" },
      { id: "first", kind: "full", rrule: "FREQ=MONTHLY;BYMONTHDAY=1;BYHOUR=2", within: "PT4H" },
    ],
  };
  const of = (schedule: string, shiftMinutes: number, windowMinutes = 0) =>
    tried(base, { bar: bar("bookings", { schedule }), shiftMinutes, windowMinutes });

  it.each([
    ["nightly", 30, "FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR,SU;BYHOUR=23;BYMINUTE=10"],
    ["weekly", -40, "FREQ=WEEKLY;BYDAY=SA;BYHOUR=22;BYMINUTE=0"],
    ["weekly", 90, "FREQ=WEEKLY;BYDAY=SU;BYHOUR=0;BYMINUTE=10"],
  ])("%s moved by %d min opens at %s", (schedule, by, rule) => {
    const moved = of(schedule, by)?.schedules?.find((s) => s.id === schedule);
    expect(moved?.rrule).toBe(rule);
    expect(moved?.cron).toBeUndefined();
    expect(moved?.within).toBe("PT4H");
  });

  it("keeps its time when only the window changes, which is never shorter than a minute", () => {
    const wider = of("nightly", 0, 30)?.schedules?.[1];
    expect(wider).toMatchObject({ cron: "40 22 * * 0-5", within: "PT270M" });
    expect(of("weekly", 0, -500)?.schedules?.[0]?.within).toBe("PT1M");
  });

  it("cannot be moved where its rule is more than days and a time, or is not there", () => {
    expect(of("first", 15)).toBeNull();
    expect(of("nobody", 15)).toBeNull();
    expect(of("first", 0, 60)?.schedules?.[2]?.within).toBe("PT5H");
  });

  it("shows many slots as bands, which open to single slots where one points", async () => {
    const many: WeekView = {
      ...week,
      slots: 1312,
      bars: [],
      bands: [
        { from: "2026-11-23T22:00:00Z", to: "2026-11-23T22:30:00Z", slots: 900, bytesPerSecond: 61e6 },
        { from: "2026-11-24T01:00:00Z", to: "2026-11-24T02:00:00Z", slots: 1, bytesPerSecond: 0 },
      ],
      unservedAll: week.unserved.length + 39,
    };
    const { asked } = renderAt("/week", <WeekPage />, {
      "/api/week": many,
      "/api/week/soon": { misses: [] },
      "/api/week/slots": { found: 900, rows: [bar("bookings"), bar("fuel", { medianSeconds: 1200 })] },
    });
    const band = await screen.findByRole("button", { name: "23 Nov 22:00 – 22:30: 900 slots, 61 MB/s" });
    expect(screen.getByRole("button", { name: "24 Nov 01:00 – 02:00: 1 slot" })).toBeInTheDocument();
    expect(screen.getByText(/1 312 slots are too many to be told apart/)).toBeInTheDocument();
    expect(screen.getByText("Nor those of 39 more.")).toBeInTheDocument();
    fireEvent.keyDown(band, { key: "Enter" });
    expect(await screen.findByText(/usually 20 min/)).toBeInTheDocument();
    expect(screen.getByText(`Show 50 more of 850`)).toBeInTheDocument();
    expect(asked.find((a) => a.startsWith("/api/week/slots"))).toContain("by=store%3Aquay-near");
  });
});
