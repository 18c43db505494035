import { describe, expect, it } from "vitest";
import { changes, stepped } from "./events";

const slice = (hour: number, databases: number) => ({
  from: new Date(Date.UTC(2026, 10, 9, hour)).toISOString(),
  to: new Date(Date.UTC(2026, 10, 9, hour + 1)).toISOString(),
  share: databases / 10,
  databases,
});
const day = [slice(0, 0), slice(1, 0), slice(2, 3), slice(3, 3), slice(4, 1), slice(5, 1)];

describe("the moments that matter", () => {
  it("are the ends of the slices in which the share changed", () => {
    expect(changes(day).map((m) => new Date(m).getUTCHours())).toEqual([3, 5]);
  });

  it("are stepped to backwards and forwards, and forwards in the end to the newest facts", () => {
    expect(stepped(day, "2026-11-09T06:00:00Z", -1)).toBe("2026-11-09T05:00:00Z");
    expect(stepped(day, "2026-11-09T05:00:00Z", -1)).toBe("2026-11-09T03:00:00Z");
    expect(stepped(day, "2026-11-09T03:00:00Z", -1)).toBe("2026-11-09T03:00:00Z");
    expect(stepped(day, "2026-11-09T03:00:00Z", 1)).toBe("2026-11-09T05:00:00Z");
    expect(stepped(day, "2026-11-09T05:00:00Z", 1)).toBeNull();
  });

  it("are none where nothing changed", () => {
    expect(changes([slice(0, 2), slice(1, 2)])).toEqual([]);
    expect(changes([])).toEqual([]);
  });
});
