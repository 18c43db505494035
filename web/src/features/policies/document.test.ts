import { describe, expect, it } from "vitest";
import { emptyPolicy, freeId, idOf, saysTheSame, valueAt, withValue, withWayOut } from "./document";
import { openStretches, windows } from "./NightsChart";
import { readDays } from "./OpenHoursSentences";
import { sentences, sideBySide, summary } from "./sentences";
import { wayOutWords } from "./Flaws";

const policy = {
  ...emptyPolicy("p", "Sailings"),
  objective: { mishap: "PT15M", reach: "P18D" },
  schedules: [
    { id: "weekly", kind: "full", rrule: "FREQ=WEEKLY;BYDAY=SA;BYHOUR=22;BYMINUTE=40", within: "PT5H" },
    { id: "logs", kind: "log", every: "PT10M" },
  ],
  retain: [{ role: "near", reach: "P18D", fulls: 2 }],
};

describe("a policy as it is written", () => {
  it("is changed at a path and nowhere else", () => {
    const changed = withValue(policy, "retain.0.rungs.week", 5);
    expect(valueAt(changed, "retain.0.rungs.week")).toBe(5);
    expect(valueAt(policy, "retain.0.rungs")).toBeUndefined();
    expect(withValue(changed, "schedules.0", undefined).schedules?.map((s) => s.id)).toEqual(["logs"]);
    expect(withValue(policy, "copies.stores", 2).copies).toEqual({ stores: 2 });
    expect("mishap" in (withValue(policy, "objective.mishap", undefined).objective ?? {})).toBe(false);
  });

  it("takes a way out as the core says it", () => {
    expect(withWayOut(policy, "objective.mishap", "PT30M").objective?.mishap).toBe("PT30M");
    expect(withWayOut(policy, "retain.0.fulls", "3").retain?.[0]?.fulls).toBe(3);
    expect(withWayOut(policy, "enabled", "false").enabled).toBe(false);
    const added = withWayOut(policy, "schedules.+nightly-full", "FREQ=DAILY;BYHOUR=22");
    expect(added.schedules?.[2]).toMatchObject({
      id: "nightly-full",
      kind: "full",
      rrule: "FREQ=DAILY;BYHOUR=22",
    });
    expect(withWayOut(policy, "schedules.+logs", "PT5M").schedules?.[2]).toMatchObject({
      every: "PT5M",
      kind: "log",
    });
  });

  it("says the same whoever put it in force", () => {
    const again = { ...policy, version: 9, putInForce: { by: "Maren" }, copies: {} };
    expect(saysTheSame(policy, again)).toBe(true);
    expect(saysTheSame(policy, withValue(policy, "retain.0.fulls", 3))).toBe(false);
  });

  it("makes ids of names, none twice", () => {
    expect(idOf("  Café & Kiosks ")).toBe("cafe-kiosks");
    expect(freeId(policy, "weekly")).toBe("weekly-2");
    expect(freeId(policy, "nightly")).toBe("nightly");
  });
});

describe("a policy read aloud", () => {
  it("is a sentence a rule", () => {
    const said = sentences(policy).map((s) => s.text);
    expect(said).toContain("Lose at most 15 min to a mishap.");
    expect(said).toContain("A full every Saturday at 22:40, started within 5 h.");
    expect(said).toContain("In near stores: a reach of 18 days; the 2 newest fulls.");
    expect(summary(policy)).toBe("lose 15 min, go back 18 days");
  });

  it("lays two versions side by side", () => {
    const newer = withValue(withValue(policy, "objective.mishap", "PT5M"), "schedules.1", undefined);
    const pairs = sideBySide(policy, newer);
    expect(pairs.find((p) => p.key === "mishap")).toMatchObject({
      same: false,
      new: "Lose at most 5 min to a mishap.",
    });
    expect(pairs.find((p) => p.key === "schedule logs")).toMatchObject({ new: null, same: false });
    expect(pairs.filter((p) => !p.same)).toHaveLength(2);
    expect(sideBySide(policy, policy).every((p) => p.same)).toBe(true);
  });

  it("words a way out as something to do", () => {
    expect(wayOutWords({ path: "objective.siteLoss", from: "PT8H", to: "PT30H" })).toBe(
      "Set the loss with the site to 30 h",
    );
    expect(wayOutWords({ path: "retain.1.lock", from: "P30D", to: "" })).toBe("Remove the lock");
    expect(wayOutWords({ path: "retain.0.rungs.month", from: "9", to: "" })).toBe("Remove the month rungs");
    expect(wayOutWords({ path: "schedules.+logs", from: "", to: "PT5M" })).toBe("Add logs every 5 min");
    expect(wayOutWords({ path: "retain.0.lock", from: "", to: "P14D" })).toBe("Add a lock of 14 days");
    expect(wayOutWords({ path: "retain.1", from: "deep", to: "" })).toBe("Remove that rule");
    expect(wayOutWords({ path: "retain.1.role", from: "deep", to: "near" })).toBe(
      "Set the role of that rule to near",
    );
  });

  it("takes a way out", () => {
    const kept = withWayOut(policy, "retain.+deep", "P14D").retain?.at(-1);
    expect(kept).toEqual({ role: "deep", reach: "P14D", fulls: 2 });
    const opened = withWayOut(policy, "schedules.0.at", "FREQ=WEEKLY;BYDAY=SA;BYHOUR=22;BYMINUTE=0")
      .schedules?.[0];
    expect(opened?.rrule).toBe("FREQ=WEEKLY;BYDAY=SA;BYHOUR=22;BYMINUTE=0");
    expect(opened?.cron).toBeUndefined();
    expect(withWayOut(policy, "retain.0", "").retain).toHaveLength((policy.retain?.length ?? 0) - 1);
  });
});

describe("nights", () => {
  it("run noon to noon, so a window after midnight belongs to the night before", () => {
    const early = { id: "e", kind: "diff", cron: "30 1 * * 0", within: "PT2H" };
    expect(windows([early], new Map([["diff", 3600]]))).toEqual([
      { day: 5, from: 25.5, window: 2, kind: "diff", takes: 1, id: "e" },
    ]);
    expect(windows([{ ...early, enabled: false }], new Map())).toEqual([]);
  });

  it("open hours are cut at noon", () => {
    expect(openStretches([{ days: ["MO"], from: "22:00", to: "06:00" }])).toEqual([
      { day: 0, from: 22, to: 30 },
    ]);
    expect(openStretches([{ days: ["SU"], from: "00:00", to: "24:00" }])).toEqual([
      { day: 5, from: 24, to: 36 },
      { day: 6, from: 12, to: 24 },
    ]);
    expect(openStretches([])).toHaveLength(7);
  });

  it("takes days as people type them", () => {
    expect(readDays("Mon-Fri")).toEqual(["MO", "TU", "WE", "TH", "FR"]);
    expect(readDays("sat, sun")).toEqual(["SA", "SU"]);
    expect(readDays("Fri-Mon")).toEqual(["MO", "FR", "SA", "SU"]);
    expect(readDays("every day")).toHaveLength(7);
    expect(readDays("Blursday")).toEqual([]);
  });
});
