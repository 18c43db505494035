import { describe, expect, it } from "vitest";
import { fullsApart, furthest, kept } from "./shelf";

const DAY = 86_400;

describe("a rule on the shelf", () => {
  it("keeps a stretch, the newest fulls and rungs, and says so", () => {
    const near = kept({ role: "near", reach: "P18D", fulls: 2, rungs: { month: 9 }, lock: "P7D" }, 7 * DAY);
    expect(near.says).toBe("near: every moment of 18 days, 2 fulls, 9 monthlies; locked 7 days");
    expect(near.fulls).toEqual([0, 7 * DAY]);
    expect(near.rungs).toHaveLength(9);
    expect(near.rungs[8]).toBeCloseTo(9 * 30.44 * DAY);
    expect(furthest([near])).toBeGreaterThan(9 * 30.44 * DAY);
  });

  it("says one of a kind in the singular, and nothing where nothing is kept", () => {
    expect(kept({ role: "deep", fulls: 1, rungs: { year: 1 } }, DAY).says).toBe("deep: 1 full, 1 yearly");
    const none = kept({ role: "far" }, null);
    expect(none.says).toBe("far: nothing");
    expect([none.reach, none.lock, ...none.fulls]).toEqual([0, 0]);
    expect(furthest([none])).toBeCloseTo(2 * DAY * 1.1);
  });

  it("counts how often fulls come", () => {
    const full = (rrule: string, enabled = true) => ({ id: rrule, kind: "full", rrule, enabled });
    expect(fullsApart([])).toBeNull();
    expect(fullsApart([full("FREQ=DAILY;BYHOUR=1;BYMINUTE=30", false)])).toBeNull();
    expect(fullsApart([full("FREQ=DAILY;BYHOUR=1;BYMINUTE=30")])).toBe(DAY);
    expect(fullsApart([full("FREQ=WEEKLY;BYDAY=SA;BYHOUR=22;BYMINUTE=40")])).toBe(7 * DAY);
    expect(fullsApart([full("FREQ=MONTHLY;BYMONTHDAY=1;BYHOUR=2")])).toBeCloseTo(30.44 * DAY);
    expect(fullsApart([{ id: "c", kind: "full", cron: "30 2 * * 3,6" }])).toBe(3.5 * DAY);
  });

  it("draws no fulls where none are scheduled, and never more than sixty", () => {
    expect(kept({ fulls: 3 }, null).fulls).toEqual([]);
    expect(kept({ fulls: 1_000_000 }, DAY).fulls).toHaveLength(60);
  });
});
