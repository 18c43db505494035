import { describe, expect, it } from "vitest";
import { daysWords, durationWords, isoSeconds, readDuration, readTime, secondsIso } from "./values";

describe("durations as people type them", () => {
  it.each([
    ["10 min", "PT10M"],
    ["4h", "PT4H"],
    ["1 h 30", "PT90M"],
    ["1 h 30 min", "PT90M"],
    ["90 minutes", "PT90M"],
    ["2 weeks", "P14D"],
    ["3 months", "P93D"],
    ["1 year", "P366D"],
    ["P1Y2M", "P428D"],
    ["1 day 6 h", "PT30H"],
    ["PT10M", "PT10M"],
    ["P18D", "P18D"],
    ["0 min", "PT0H"],
  ])("%s is %s", (typed, iso) => expect(readDuration(typed)).toBe(iso));

  it.each(["", "soon", "10", "10 parsecs", "-4 h", "P", "PT", "4 h and a bit"])("%s is none", (typed) =>
    expect(readDuration(typed)).toBeNull(),
  );

  it.each([
    ["PT15M", "15 min"],
    ["PT90M", "1 h 30 min"],
    ["PT26H", "26 h"],
    ["P1D", "1 day"],
    ["PT432H", "18 days"],
    ["P2W", "14 days"],
    ["P1Y", "1 year"],
    ["P7Y", "7 years"],
    ["PT45S", "45 s"],
  ])("%s reads %s", (iso, words) => expect(durationWords(iso)).toBe(words));

  it("come out as they went in", () => {
    for (const seconds of [1, 60, 90, 3600, 5400, 86400, 30 * 86400, 366 * 86400, 7 * 366 * 86400]) {
      expect(isoSeconds(secondsIso(seconds))).toBe(seconds);
      expect(isoSeconds(readDuration(durationWords(secondsIso(seconds))) ?? "")).toBe(seconds);
    }
  });
});

describe("times and days", () => {
  it("takes a time of day with a colon or a point", () => {
    expect(readTime("9:05")).toBe("09:05");
    expect(readTime("22.40")).toBe("22:40");
    expect(readTime("24:00")).toBeNull();
    expect(readTime("22")).toBeNull();
  });

  it("says days as people do", () => {
    expect(daysWords(["MO", "TU", "WE", "TH", "FR", "SA", "SU"])).toBe("day");
    expect(daysWords(["MO", "TU", "WE", "TH", "FR", "SU"])).toBe("day but Saturday");
    expect(daysWords(["MO", "TU", "WE", "TH", "FR"])).toBe("Monday to Friday");
    expect(daysWords(["SU", "SA"])).toBe("Saturday and Sunday");
    expect(daysWords(["SA"])).toBe("Saturday");
  });
});
