import { describe, expect, it } from "vitest";
import { dateOf, instantOf, timeOf, typedDate, typedOf } from "./typed";

describe("moments that are typed", () => {
  it("are read in the zone they are shown in", () => {
    expect(instantOf("24 Nov 2026 22:00", "Europe/Lisbon")).toBe("2026-11-24T22:00:00Z");
    expect(instantOf("24 Nov 2026 22:00", "Pacific/Apia")).toBe("2026-11-24T09:00:00Z");
    expect(instantOf("2026-11-24 7:05:30", "UTC")).toBe("2026-11-24T07:05:30Z");
    expect(instantOf("2026-11-24T07:05", "UTC")).toBe("2026-11-24T07:05:00Z");
    expect(instantOf("24 november 2026, 22:00", "UTC")).toBe("2026-11-24T22:00:00Z");
    expect(instantOf("2026-11-24T22:00:00+02:00", "UTC")).toBe("2026-11-24T20:00:00Z");
    expect(instantOf("25 Oct 2026 01:30", "Europe/Lisbon")).toBe("2026-10-25T00:30:00Z");
    expect(instantOf("29 Mar 2026 01:30", "Europe/Lisbon")).toBe("2026-03-29T01:30:00Z");
  });

  it("are none where they are not", () => {
    for (const text of [
      "",
      "soon",
      "24 Nov 2026",
      "31 Feb 2026 10:00",
      "24 Foo 2026 10:00",
      "11/24/2026 10:00",
    ]) {
      expect(instantOf(text, "UTC"), text).toBeUndefined();
    }
    expect(instantOf("24 Nov 2026 25:00", "UTC")).toBeUndefined();
  });

  it("come back as they were typed", () => {
    for (const text of ["24 Nov 2026 22:00", "1 Mar 2026 07:05:09"]) {
      expect(typedOf(instantOf(text, "Europe/Lisbon") ?? "", "Europe/Lisbon")).toBe(text);
    }
    expect(typedDate(dateOf("1 Mar 2026") ?? "")).toBe("1 Mar 2026");
  });

  it("have dates and times of the day alike", () => {
    expect(dateOf("24 Nov 2026")).toBe("2026-11-24");
    expect(dateOf("2026-11-24")).toBe("2026-11-24");
    expect(dateOf(`3 May`)).toBe(`${new Date().getFullYear()}-05-03`);
    expect(dateOf("30 Feb 2026")).toBeUndefined();
    expect(timeOf("7:05")).toBe("07:05");
    expect(timeOf("24:00")).toBeUndefined();
  });
});
