import { describe, expect, it } from "vitest";
import type { Mark, Sand, Water } from "../api/types";
import { bars, momentAt, NARROWEST, pieceAt, pieces, rings, scale } from "./geometry";

const FROM = "2026-11-01T00:00:00Z";
const TO = "2026-11-11T00:00:00Z";
const at = scale(FROM, TO, 1000);

const water = (from: string, to: string, depth = 1): Water => ({ from, to, depth, survives: ["mishap"] });
const sand = (from: string, to: string): Sand => ({ from, to, where: "between", gap: null });
const mark = (kind: Mark["kind"], moment: string, failed = false, count = 1): Mark => ({
  id: `${kind}-${moment}`,
  kind,
  at: moment,
  failed,
  count,
});

describe("the scale", () => {
  it("puts the ends of the period at the ends of the ribbon", () => {
    expect(at(FROM)).toBe(0);
    expect(at(TO)).toBe(1000);
    expect(at("2026-11-06T00:00:00Z")).toBe(500);
  });

  it("keeps moments outside the period outside", () => {
    expect(at("2026-10-31T00:00:00Z")).toBe(-100);
  });

  it("does not divide by an empty period", () => {
    expect(scale(FROM, FROM, 1000)(FROM)).toBe(0);
  });

  it("is undone by momentAt, which stays within the period", () => {
    expect(momentAt(FROM, TO, 1000, 500)).toBe(Date.parse("2026-11-06T00:00:00Z"));
    expect(momentAt(FROM, TO, 1000, -20)).toBe(Date.parse(FROM));
    expect(momentAt(FROM, TO, 1000, 2000)).toBe(Date.parse(TO));
    expect(momentAt(FROM, TO, 0, 10)).toBe(Date.parse(FROM));
  });
});

describe("pieces", () => {
  it("are as wide as their time and in order, stones without width", () => {
    const found = pieces(
      [
        water("2026-11-03T00:00:00Z", "2026-11-05T00:00:00Z", 2),
        water("2026-11-08T00:00:00Z", "2026-11-08T00:00:00Z"),
      ],
      [sand(FROM, "2026-11-03T00:00:00Z")],
      at,
    );
    expect(found.map((p) => [p.what, p.x, p.width])).toEqual([
      ["sand", 0, 200],
      ["water", 200, 200],
      ["stone", 700, 0],
    ]);
  });

  it("begin at the left end where they began before the period", () => {
    const found = pieces([water("2026-10-22T00:00:00Z", "2026-11-06T00:00:00Z")], [], at);
    expect(found.map((p) => [p.x, p.width])).toEqual([[0, 500]]);
  });

  it("never draw a hole too narrow to see", () => {
    const found = pieces([], [sand("2026-11-03T00:00:00Z", "2026-11-03T00:01:00Z")], at);
    expect(found[0]?.width).toBe(NARROWEST);
  });

  it("answer to the pixel they lie under: stones first, then sand, then water", () => {
    const all = pieces(
      [water(FROM, TO, 3), water("2026-11-02T00:00:00Z", "2026-11-02T00:00:00Z")],
      [sand("2026-11-05T00:00:00Z", "2026-11-06T00:00:00Z")],
      at,
    );
    expect(pieceAt(all, 103)?.what).toBe("stone");
    expect(pieceAt(all, 450)?.what).toBe("sand");
    expect(pieceAt(all, 300)?.what).toBe("water");
    expect(pieceAt(all, 1200)).toBeUndefined();
  });
});

describe("marks", () => {
  it("tell a full from a differential from an incremental by height", () => {
    const heights = bars([mark("full", FROM), mark("diff", FROM), mark("incr", FROM)], at, 16).map(
      (b) => b.height,
    );
    expect(heights[0]).toBeGreaterThan(heights[1] ?? 0);
    expect(heights[1]).toBeGreaterThan(heights[2] ?? 0);
  });

  it("are rings where runs failed, and rings that would touch count together", () => {
    const found = rings(
      [
        mark("log", "2026-11-05T00:00:00Z", true, 3),
        mark("log", "2026-11-05T01:00:00Z", true, 2),
        mark("full", "2026-11-07T00:00:00Z", true),
        mark("full", "2026-11-07T00:00:00Z"),
      ],
      at,
    );
    expect(found.map((r) => [r.x, r.count])).toEqual([
      [400, 5],
      [600, 1],
    ]);
  });
});
