import { describe, expect, it } from "vitest";
import { asRecurrence, recurrenceWords, shifted, weekly, weeklyRuleOf } from "./recurrence";

describe("recurrences in words", () => {
  it.each([
    [{ rrule: "FREQ=WEEKLY;BYDAY=SA;BYHOUR=22;BYMINUTE=40" }, "every Saturday at 22:40"],
    [{ cron: "40 22 * * 0-5" }, "every day but Saturday at 22:40"],
    [{ cron: "5 1 * * 6,7" }, "every Saturday and Sunday at 01:05"],
    [{ rrule: "FREQ=DAILY;BYHOUR=6" }, "every day at 06:00"],
    [{ rrule: "FREQ=MONTHLY;BYDAY=1SU;BYHOUR=2;BYMINUTE=30" }, "every month on the first Sunday at 02:30"],
    [{ cron: "0 3 1 * *" }, "every month on day 1 at 03:00"],
    [{ rrule: "nonsense" }, "by the rule nonsense"],
    [{ cron: "0 3 1 * 1" }, "by the cron line 0 3 1 * 1"],
    [{}, "never"],
    [
      { rrule: "FREQ=WEEKLY;INTERVAL=2;BYDAY=SA;BYHOUR=2", anchor: "2026-03-07" },
      "every 2 weeks on Saturday at 02:00, counted from Sat 7 Mar 2026",
    ],
  ])("%o", (schedule, words) => expect(recurrenceWords(schedule)).toBe(words));

  it("tells days and a time from more than that", () => {
    expect(weekly({ rrule: "FREQ=WEEKLY;INTERVAL=2;BYDAY=SA;BYHOUR=2" })).toBeNull();
    expect(weekly({ rrule: "FREQ=WEEKLY;BYDAY=SA;BYHOUR=2,14" })).toBeNull();
    expect(weekly({ cron: "*/5 2 * * *" })).toBeNull();
    expect(weekly({ cron: "0 2 1 * *" })).toBeNull();
  });

  it("writes what it reads", () => {
    for (const rule of ["FREQ=WEEKLY;BYDAY=MO,SA;BYHOUR=22;BYMINUTE=40", "FREQ=DAILY;BYHOUR=0;BYMINUTE=5"]) {
      expect(weeklyRuleOf(weekly({ rrule: rule }) ?? { days: [], time: "" })).toBe(rule);
    }
  });

  it("takes the days along past midnight", () => {
    expect(shifted({ days: ["SA"], time: "22:40" }, 90)).toEqual({ days: ["SU"], time: "00:10" });
    expect(shifted({ days: ["MO", "SU"], time: "00:10" }, -15)).toEqual({
      days: ["SA", "SU"],
      time: "23:55",
    });
    expect(shifted({ days: ["SU"], time: "23:00" }, 60)).toEqual({ days: ["MO"], time: "00:00" });
  });

  it("knows a rule from a cron line", () => {
    expect(asRecurrence("RRULE:FREQ=DAILY;BYHOUR=1")).toEqual({ rrule: "FREQ=DAILY;BYHOUR=1" });
    expect(asRecurrence(" 40 22 * * 6 ")).toEqual({ cron: "40 22 * * 6" });
  });
});
