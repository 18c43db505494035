import { describe, expect, it } from "vitest";
import type { WeekBar } from "../../api/types";
import { nights, place, within } from "./nights";
import { tried } from "./TryPanel";

const bar = (name: string, open: string, minutes: number): WeekBar => ({
  database: name,
  name,
  policy: "p",
  version: 1,
  schedule: "weekly",
  kind: "full",
  open,
  close: new Date(Date.parse(open) + 3_600_000).toISOString(),
  mustFinish: false,
  state: "planned",
  medianSeconds: minutes * 60,
  longestSeconds: minutes * 90,
  runs: 8,
  store: "n",
  overrunSeconds: 0,
});

describe("nights", () => {
  it("are a day apart on the clock, 25 hours long when the clocks go back", () => {
    const found = nights("2026-10-23T11:00:00Z", "2026-10-26T12:00:00Z", "Europe/Lisbon");
    expect(found.map((n) => (n.to - n.from) / 3_600_000)).toEqual([24, 25, 24]);
    expect(nights("2027-03-27T12:00:00Z", "2027-03-28T11:00:00Z", "Europe/Lisbon")).toHaveLength(1);
  });

  it("keep bars of one time in lanes of their own and share lanes where there is room", () => {
    const night = { from: Date.parse("2026-11-23T12:00:00Z"), to: Date.parse("2026-11-24T12:00:00Z") };
    const bars = [
      bar("b", "2026-11-23T22:00:00Z", 60),
      bar("a", "2026-11-23T22:00:00Z", 60),
      bar("c", "2026-11-24T04:00:00Z", 60),
      bar("d", "2026-11-24T13:00:00Z", 60),
    ];
    const { placed, lanes } = place(bars, night, 1200);
    expect(lanes).toBe(2);
    expect(placed.map((p) => [p.bar.name, p.lane])).toEqual([
      ["a", 0],
      ["b", 1],
      ["c", 0],
    ]);
    expect(within("2026-11-24T10:00:00Z", "2026-11-24T20:00:00Z", night)?.to).toBe(night.to);
    expect(within("2026-11-25T10:00:00Z", "2026-11-25T20:00:00Z", night)).toBeNull();
  });
});

describe("another time for a slot", () => {
  const base = {
    schedules: [
      { id: "weekly", kind: "full", cron: "40 22 * * 6", within: "PT4H" },
      { id: "monthly", kind: "full", rrule: "FREQ=MONTHLY;BYDAY=1SU;BYHOUR=2", within: "PT4H" },
    ],
  };
  const trial = (schedule: string, shiftMinutes: number, windowMinutes: number) => ({
    bar: { ...bar("a", "2026-11-28T22:40:00Z", 60), schedule },
    shiftMinutes,
    windowMinutes,
  });

  it("moves the whole schedule, or the end of its window", () => {
    expect(tried(base, trial("weekly", 90, 0))?.schedules?.[0]).toEqual({
      id: "weekly",
      kind: "full",
      rrule: "FREQ=WEEKLY;BYDAY=SU;BYHOUR=0;BYMINUTE=10",
      within: "PT4H",
    });
    expect(tried(base, trial("weekly", 0, 30))?.schedules?.[0]).toMatchObject({
      cron: "40 22 * * 6",
      within: "PT270M",
    });
  });

  it("does not guess at rules that are more than days and a time", () => {
    expect(tried(base, trial("monthly", 60, 0))).toBeNull();
    expect(tried(base, trial("monthly", 0, 60))?.schedules?.[1]?.within).toBe("PT5H");
    expect(tried(base, trial("gone", 60, 0))).toBeNull();
  });
});
