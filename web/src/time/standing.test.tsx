import { act, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { HazardNow } from "../api/types";
import { row, TO } from "../test-fleet";
import { renderAt } from "../test-render";
import { grown, useStanding } from "./standing";

const hazard = row("a").hazards[0] as HazardNow;

describe("ages", () => {
  it("grow by the time that has passed since they were told, unless they do not grow", () => {
    const later = Date.parse(TO) + 90_000;
    expect(grown(hazard, TO, later)).toBe(hazard.ageSeconds + 90);
    expect(grown({ ...hazard, grows: false }, TO, later)).toBe(hazard.ageSeconds);
    expect(grown(hazard, TO, null)).toBe(hazard.ageSeconds);
    expect(grown(hazard, TO, Date.parse(TO) - 5_000)).toBe(hazard.ageSeconds);
  });
});

function Stands() {
  const standing = useStanding();
  return <p data-testid="stands">{standing === null ? "still" : new Date(standing).toISOString()}</p>;
}

const sources = (reporting: boolean) => ({
  "/api/sources": { now: TO, reporting, newest: TO, oldest: TO, sources: [], silent: [] },
});

describe("where the page stands", () => {
  afterEach(() => void vi.useRealTimers());

  it("moves on with the clock while nothing comes", async () => {
    vi.useFakeTimers({ shouldAdvanceTime: true });
    renderAt("/cover", <Stands />, sources(true));
    await vi.waitFor(() => expect(screen.getByTestId("stands")).not.toHaveTextContent("still"));
    act(() => void vi.advanceTimersByTime(20_000));
    const moved = Date.parse(screen.getByTestId("stands").textContent) - Date.parse(TO);
    expect(moved).toBeGreaterThanOrEqual(14_000);
    expect(moved).toBeLessThan(60_000);
  });

  it.each(["/cover?asOf=2026-11-10T00:00:00Z", "/cover"])("stands still at %s", async (address) => {
    const { asked } = renderAt(address, <Stands />, sources(address.includes("asOf")));
    await vi.waitFor(() => expect(asked).toContain("/api/sources"));
    expect(screen.getByTestId("stands")).toHaveTextContent("still");
  });
});
