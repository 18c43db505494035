import { describe, expect, it } from "vitest";
import { deedText } from "./deeds";

const deed = (act: string, about: string, detail: Record<string, unknown> = {}) =>
  deedText({ number: 1, at: "2026-11-24T10:00:00Z", who: "ines", act, about, detail, hash: "0" });

describe("the record in words", () => {
  it("says what was done to what", () => {
    expect(deed("import", "night.csv", { added: 1, updated: 2, rejected: 0 })).toBe(
      "took in night.csv: 1 fact added, 2 changed, 0 refused",
    );
    const hour = { first: "2026-11-24T10:00:07Z", last: "2026-11-24T10:59:40Z", deliveries: 240 };
    expect(deed("delivered", "northquay-1", { ...hour, added: 238, updated: 2, rejected: 0 })).toBe(
      "delivered 240 times as northquay-1, 10:00 to 10:59 UTC: 238 facts added, 2 changed, 0 refused",
    );
    expect(deed("person", "harald")).toBe("made harald known");
    expect(deed("person", "oona", { name: "Oona", roles: ["viewer", "keeper"] })).toBe(
      "let Oona be viewer, keeper",
    );
    expect(deed("purge-done", "purge-1", { outcomes: { deleted: 3, missing: 1 }, coverEqual: true })).toBe(
      "list purge-1 is done: 3 deleted, 1 missing; cover is as it was",
    );
  });

  it("says what records that were stated hold", () => {
    const order = { type: "order", kind: "full", database: "berths", reason: "before the move" };
    expect(deed("order", "hand:1", { records: [order] })).toBe(
      "stated that a full of berths is wanted now: before the move",
    );
    const hold = { type: "hold", backup: "b1", until: "2026-12-24T10:00:00Z", reason: "audit" };
    expect(deed("hold", "h", { records: [hold, order, order, order] })).toMatch(
      /^stated a hold on b1 until 2026-12-24 10:00 UTC: audit; .* and 1 more$/,
    );
  });

  it("falls back on the act and what it was about", () => {
    expect(deed("something-new", "x-1")).toBe("something new x-1");
    expect(deed("stocktake-adopted", "take-1", { path: "/near/a" })).toBe(
      "adopted /near/a after a stocktake",
    );
  });
});
