import { describe, expect, it } from "vitest";
import { row } from "../test-fleet";
import { gradeText, overObjective, worst } from "./grade";

const told = row("a");
const change = (by: Record<string, Partial<(typeof told.hazards)[number]>>, of = told) => ({
  ...of,
  hazards: of.hazards.map((h) => ({ ...h, ...by[h.hazard] })),
});

describe("the worst promise", () => {
  it("decides: it is the one furthest from being kept, whichever hazard it speaks of", () => {
    const missed = change({
      siteLoss: { ageSeconds: 9000, attainment: 0.5 },
      sabotage: { objectiveSeconds: null, ageSeconds: 1e6, attainment: null },
    });
    expect(worst(missed)?.hazard).toBe("siteLoss");
    expect(overObjective(missed)).toBe(10);
  });

  it("comes last where nothing is promised", () => {
    const nothing = { objectiveSeconds: null, attainment: null };
    const none = change({ mishap: nothing, siteLoss: nothing, sabotage: nothing });
    expect(worst(none)).toBeUndefined();
    expect(overObjective(none)).toBe(-1);
    expect(gradeText({ ...none, reachTargetSeconds: null })).toBe("nothing promised");
    expect(gradeText(none)).toBe("covered");
    expect(gradeText({ ...none, reachTargetSeconds: null, grade: "stranded" })).toBe("stranded");
  });

  it("is named where a mishap would cost no more than is promised", () => {
    const site = { ...change({ siteLoss: { ageSeconds: 9000 } }), grade: "behind" } as const;
    expect(gradeText(site)).toMatch(/^behind, /);
    const both = {
      ...change({ mishap: { ageSeconds: 9000 }, siteLoss: { ageSeconds: 9000 } }),
      grade: "behind",
    } as const;
    expect(gradeText(both)).toBe("behind");
    expect(gradeText(told)).toBe("covered");
  });
});
