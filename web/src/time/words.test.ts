import { describe, expect, it } from "vitest";
import { count, duration, longMoment, moment, promise, size, span } from "./words";

describe("durations", () => {
  it.each([
    [0, "0 s"],
    [59.9, "59 s"],
    [60, "1 min"],
    [3599, "59 min"],
    [3600, "1 h"],
    [50 * 3600 + 6 * 60, "50 h 6 min"],
    [72 * 3600 - 1, "71 h 59 min"],
    [72 * 3600, "3 d"],
    [12 * 86400 + 3600, "12 d 1 h"],
    [-5, "0 s"],
  ])("says %s seconds as %s", (seconds, words) => expect(duration(seconds)).toBe(words));

  it("leaves the minutes out of a promise of whole hours or days", () => {
    expect(promise(14400)).toBe("4 h");
    expect(promise(18 * 86400)).toBe("18 d");
    expect(promise(86400)).toBe("24 h");
    expect(promise(900)).toBe("15 min");
  });
});

describe("sizes", () => {
  it.each([
    [0, "0 B"],
    [999, "999 B"],
    [1000, "1.0 kB"],
    [93e9, "93 GB"],
    [999.9e9, "1.0 TB"],
    [1.34e12, "1.3 TB"],
  ])("says %s bytes as %s", (bytes, words) => expect(size(bytes)).toBe(words));
});

describe("moments", () => {
  it("are told in the zone asked for, across a clock change", () => {
    expect(moment("2026-10-25T00:30:00Z", "Europe/Lisbon")).toBe("25 Oct 01:30");
    expect(moment("2026-10-25T01:30:00Z", "Europe/Lisbon")).toBe("25 Oct 01:30");
    expect(moment("2026-10-25T00:30:00Z", "UTC")).toBe("25 Oct 00:30");
  });

  it("carry the weekday where a page is about them", () => {
    expect(longMoment("2026-11-23T09:12:00Z", "UTC")).toBe("Mon 23 Nov, 09:12");
  });

  it("name the day once where both lie on it", () => {
    expect(span("2026-11-09T15:40:00Z", "2026-11-09T18:00:00Z", "UTC")).toBe("9 Nov 15:40 – 18:00");
    expect(span("2026-11-09T15:40:00Z", "2026-11-10T12:55:00Z", "UTC")).toBe("9 Nov 15:40 – 10 Nov 12:55");
  });
});

it("parts thousands", () => expect(count(9214)).toBe("9\u202f214"));
