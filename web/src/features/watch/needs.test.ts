import { describe, expect, it } from "vitest";
import type { Needed } from "./api";
import { takes, until } from "./needs";

const need = (over: Partial<Needed>): Needed => ({
  database: "berths",
  name: "berths",
  zone: "Europe/Lisbon",
  grade: "covered",
  component: null,
  kind: "log",
  by: "2026-11-24T10:00:00Z",
  why: "promise",
  restore: { increments: 2, logs: 41, seconds: 3100 },
  ...over,
});

describe("what needs a backup", () => {
  it("says how long is left, or how long it is overdue", () => {
    expect(until("2026-11-24T10:00:00Z", "2026-11-24T09:15:00Z")).toBe("in 45 min");
    expect(until("2026-11-24T10:00:00Z", "2026-11-24T10:00:00Z")).toBe("now");
    expect(until("2026-11-24T10:00:00Z", "2026-11-24T12:30:00Z")).toBe("overdue for 2 h 30 min");
  });

  it("says what a restore takes", () => {
    expect(takes(need({}))).toBe("full, 2 increments, 41 logs");
    expect(takes(need({ restore: { increments: 0, logs: 1, seconds: null } }))).toBe("full, 1 log");
    expect(takes(need({ restore: null }))).toBe("nothing is there");
  });
});
