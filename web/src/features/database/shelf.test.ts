import { describe, expect, it } from "vitest";
import { database, row } from "../../test-fleet";
import { ageOf, lyingText, oldest, shelfScale, shelfText, shelfTicks } from "./shelf";

const data = database(row("a"));
const [shelf] = data.shelves;
const NOW = data.asOf;

describe("the shelf", () => {
  it("goes back to the oldest thing on it, with a little room", () => {
    expect(oldest(data.shelves, NOW)).toBeCloseTo(41 * 86_400 * 1.08);
    expect(oldest([], NOW)).toBe(2 * 86_400 * 1.08);
  });

  it("gives the newest days the most room", () => {
    const x = shelfScale(40 * 86_400, 800);
    expect(x(0)).toBe(0);
    expect(x(40 * 86_400)).toBe(800);
    expect(x(86_400) - x(0)).toBeGreaterThan(x(20 * 86_400) - x(19 * 86_400));
  });

  it("names ages that do not come close to each other", () => {
    const ticks = shelfTicks(400 * 86_400, 700);
    expect(ticks.length).toBeGreaterThan(3);
    ticks.slice(1).forEach((t, i) => expect(t.x - (ticks[i]?.x ?? 0)).toBeGreaterThanOrEqual(54));
  });

  it("never takes anything to be younger than now", () => {
    expect(ageOf("2030-01-01T00:00:00Z", NOW)).toBe(0);
  });

  it("is told in a sentence", () => {
    expect(shelf && shelfText(shelf, NOW)).toBe(
      "Quay near: 2 backups and 960 logs needed, 1 backup and 0 logs obsolete; the oldest is 41 d old",
    );
  });

  it("tells of each backup what keeps it", () => {
    const texts = shelf?.backups.map((b) => lyingText(b, NOW));
    expect(texts?.[0]).toBe("full-new, 24 h old: needed, month rung");
    expect(texts?.[1]).toBe("full-old, 40 d old: obsolete, replaced by");
    expect(texts?.[2]).toBe("full-kept, 41 d old: needed, held");
  });
});
