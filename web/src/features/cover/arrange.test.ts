import { describe, expect, it } from "vitest";
import type { Row } from "../../api/types";
import { arrange } from "./arrange";

const row = (name: string, policy: string | null, age: number, objective: number | null, reach = 0): Row => ({
  id: name,
  name,
  engine: "x",
  site: name < "m" ? "Northquay" : "Southquay",
  zone: "UTC",
  policy: policy ? { id: policy, name: policy, version: 1, enabled: true, promise: "lose 4 h" } : null,
  grade: "covered",
  pointsOnly: false,
  at: "2026-11-23T09:12:00Z",
  inServiceFrom: "2026-01-01T00:00:00Z",
  hazards: [
    {
      hazard: "mishap",
      recoveryPoint: null,
      ageSeconds: age,
      grows: true,
      objectiveSeconds: objective,
      worstSeconds: age,
      attainment: null,
    },
  ],
  reachSeconds: reach,
  reachTargetSeconds: null,
  reachCover: null,
  reachFrom: null,
  water: [],
  sand: [],
  marks: [],
  owner: null,
  labels: [],
});

const fleet = [
  row("tides", "Sailings", 100, 900, 5),
  row("berths", "Sailings", 2000, 900, 9),
  row("fuel", "Shore office", 3600, 14400, 7),
  row("moorings", null, 9, null, 1),
];

describe("the fleet", () => {
  it("stands by policy: none first, then the strictest promise", () => {
    const groups = arrange(fleet, "policy", "name", "mishap");
    expect(groups.map((g) => g.title)).toEqual(["No policy", "Sailings", "Shore office"]);
    expect(groups[1]?.rows.map((r) => r.name)).toEqual(["berths", "tides"]);
  });

  it("puts what is furthest beyond its objective first, and what promises nothing last", () => {
    const [all] = arrange(fleet, "none", "age", "mishap");
    expect(all?.rows.map((r) => r.name)).toEqual(["berths", "fuel", "tides", "moorings"]);
  });

  it("puts the shortest reach first", () => {
    const [all] = arrange(fleet, "none", "reach", "mishap");
    expect(all?.rows.map((r) => r.name)).toEqual(["moorings", "tides", "fuel", "berths"]);
  });

  it("puts the least attainment first, and what promises nothing last", () => {
    const kept = new Map([
      ["tides", 0.99],
      ["berths", 1],
      ["fuel", 0.5],
    ]);
    const rows = fleet.map((r) => ({
      ...r,
      hazards: r.hazards.map((h) => ({ ...h, attainment: kept.get(r.name) ?? null })),
    }));
    const [all] = arrange(rows, "none", "attainment", "mishap");
    expect(all?.rows.map((r) => r.name)).toEqual(["fuel", "tides", "berths", "moorings"]);
  });

  it("loses no database whatever the grouping", () => {
    for (const by of ["policy", "site", "engine", "none"] as const) {
      expect(arrange(fleet, by, "name", "mishap").flatMap((g) => g.rows)).toHaveLength(fleet.length);
    }
  });
});
