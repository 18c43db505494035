import { describe, expect, it } from "vitest";
import type { Sand } from "../api/types";
import { ribbonText, sandRemedy, sandSentence, waterSentence } from "./words";

const gap = {
  lineage: "1",
  stream: "main",
  fromPosition: 48112,
  toPosition: 48196,
  after: "2026-11-09T15:40:00Z",
  before: "2026-11-10T12:55:00Z",
  state: "bridged",
  bridgedBy: "berths-full",
  leavesReach: "2026-11-28T12:55:00Z",
  cause: "never-backed-up",
} as const;
const hole: Sand = { from: "2026-11-09T15:40:00Z", to: "2026-11-10T12:55:00Z", where: "between", gap };

describe("what a ribbon says", () => {
  it("of water: which hazards a moment survives", () => {
    const moment = { from: "2026-11-01T00:00:00Z", to: "2026-11-02T00:00:00Z", depth: 2 };
    expect(waterSentence({ ...moment, survives: ["mishap", "siteLoss"] })).toBe(
      "Every moment can be restored after mishap and site loss, not after sabotage.",
    );
    expect(waterSentence({ ...moment, survives: ["mishap", "siteLoss", "sabotage"] })).toContain("whichever");
  });

  it("of a bridged gap: how long, which logs, what ended it, and when it stops mattering", () => {
    expect(sandSentence(hole, "UTC")).toBe(
      "21 h 15 min that cannot be restored. Logs 48\u202f112 – 48\u202f196 were never backed up; berths-full begins cover again.",
    );
    expect(sandRemedy(hole, "UTC")).toBe("Nothing can repair it. It leaves reach on 28 Nov.");
  });

  it("of an open end: since when", () => {
    const tail: Sand = { ...hole, where: "after", gap: null };
    expect(sandSentence(tail, "UTC")).toBe("The last 21 h 15 min: nothing has come since 9 Nov 15:40.");
    expect(sandRemedy(tail, "UTC")).toBe("A data backup begins cover anew.");
  });

  it("of a database with nothing left: that, and what begins cover again", () => {
    const all: Sand = { ...hole, where: "everywhere", gap: null };
    expect(sandSentence(all, "UTC")).toContain("Nothing can be restored");
    expect(sandRemedy(all, "UTC")).toBe("A full begins cover anew.");
  });

  it("as text, in the order of time", () => {
    const water = [
      { from: "2026-11-08T00:00:00Z", to: "2026-11-09T15:40:00Z", depth: 1, survives: ["mishap"] },
    ];
    expect(ribbonText({ water, sand: [hole], zone: "UTC" })).toBe(
      "restorable 8 Nov 00:00 – 9 Nov 15:40, not restorable 21 h 15 min",
    );
    expect(ribbonText({ water: [], sand: [], zone: "UTC" })).toBe("nothing can be restored");
  });
});
