import { describe, expect, it } from "vitest";
import { database, row } from "../../test-fleet";
import { slotBars, slotTally } from "./slots";

const { slots } = database(row("a"));
const first = slots[0] as (typeof slots)[number];

describe("slots", () => {
  it("are counted by what they came to", () => {
    expect(slotTally(slots)).toBe("1 on-time, 1 failed, 1 missed");
    expect(slotTally([])).toBe("");
  });

  it("hold their runs where and as long as they ran within the window", () => {
    expect(slotBars(first, "2026-11-11T00:00:00Z", 240)).toEqual([{ id: "r1", top: 30, height: 30 }]);
  });

  it("end a bar at the bottom where the run outlasted the window", () => {
    const long = { ...first, runs: first.runs.map((r) => ({ ...r, ended: "2026-11-04T00:00:00Z" })) };
    expect(slotBars(long, "2026-11-11T00:00:00Z", 240)).toEqual([{ id: "r1", top: 30, height: 210 }]);
  });

  it("draw a running attempt up to now and a late one at the bottom", () => {
    const running = { ...first, runs: [{ id: "r", started: first.open, ended: null, state: "running" }] };
    expect(slotBars(running, "2026-11-03T00:00:00Z", 240)).toEqual([{ id: "r", top: 0, height: 120 }]);
    const late = {
      ...first,
      runs: [{ id: "r", started: "2026-11-04T00:00:00Z", ended: null, state: "running" }],
    };
    expect(slotBars(late, "2026-11-05T00:00:00Z", 240)).toEqual([{ id: "r", top: 238, height: 2 }]);
  });

  it("draw no bar for an attempt that failed", () => {
    expect(slotBars(slots[1] as (typeof slots)[number], "2026-11-11T00:00:00Z", 240)).toEqual([]);
  });
});
