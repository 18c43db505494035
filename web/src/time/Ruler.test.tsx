import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { strip, TO } from "../test-fleet";
import { renderAt } from "../test-render";
import { Ruler } from "./Ruler";
import { daysOf, isoSecond } from "./view";

const sources = (now: string, oldest = TO, reporting = true, behind = 0) => ({
  now,
  reporting,
  newest: TO,
  oldest,
  sources: [
    { name: "Northquay hosts", received: TO, newestFact: TO },
    { name: "Southquay hosts", received: TO, newestFact: oldest },
    { name: "fleet list", received: TO, newestFact: null },
  ],
  silent: [],
  behind,
});

const open = (address: string, now = "2026-11-11T00:02:00Z", oldest = TO, reporting = true) =>
  renderAt(address, <Ruler />, {
    "/api/cover/strip": strip,
    "/api/sources": sources(now, oldest, reporting),
  });

describe("the ruler", () => {
  it("says of how many databases it shows what held before, while that is worked out", async () => {
    renderAt("/cover", <Ruler />, {
      "/api/cover/strip": strip,
      "/api/sources": sources("2026-11-11T00:02:00Z", TO, true, 1312),
    });
    expect(await screen.findByText("1 312 databases as they were: being worked out")).toBeVisible();
  });

  it("stands at the clock and says how old the newest fact is", async () => {
    open("/cover");
    await waitFor(() => expect(screen.getByTestId("as-of").title).toMatch(/^2026-11-11T00:02/));
    expect(await screen.findByTestId("freshness")).toHaveTextContent("facts 2 min old");
    expect(screen.queryByRole("status")).toBeNull();
  });

  it("stands at the newest fact where no program ever reported, says so and leads to the present", async () => {
    open("/cover", "2026-11-12T00:00:00Z", TO, false);
    const told = await screen.findByText(/Everything stands at their newest fact/);
    expect(screen.getByTestId("as-of")).toHaveAttribute("title", TO);
    expect(told).toHaveTextContent("does not grow older");
    fireEvent.click(screen.getByRole("button", { name: "Look at it as of now" }));
    await waitFor(() => expect(screen.getByTestId("address")).toHaveTextContent("/cover?asOf=now"));
    expect(screen.getByRole("status")).toHaveTextContent("as if nothing had happened since");
    expect(screen.getByTestId("as-of").title).toMatch(/^2026-11-12T00:00/);
    fireEvent.click(screen.getByRole("button", { name: "Return to the newest fact" }));
    await waitFor(() => expect(screen.getByTestId("address")).toHaveTextContent(/^\/cover$/));
  });

  it("says louder when the facts of a source are old", async () => {
    open("/cover", "2026-11-12T02:00:00Z", "2026-11-09T00:00:00Z");
    const freshness = await screen.findByTestId("freshness");
    expect(freshness).toHaveTextContent("facts 26 h old, some 3 d 2 h");
    expect(freshness.className).toContain("font-semibold");
    fireEvent.click(freshness);
    expect(await screen.findByText("Southquay hosts")).toBeInTheDocument();
    expect(screen.queryByText("fleet list")).toBeNull();
  });

  it("says unmistakably that one looks back, and leads out of it", async () => {
    open("/cover?asOf=2026-11-10T00:00:00Z&by=site");
    expect(await screen.findByRole("status")).toHaveTextContent(
      "Looking back: everything below is as it was known",
    );
    await waitFor(() => expect(screen.getByRole("status")).toHaveTextContent("24 h before the newest facts"));
    fireEvent.click(screen.getByRole("button", { name: "Return to now" }));
    await waitFor(() => expect(screen.getByTestId("address")).toHaveTextContent(/^\/cover\?by=site$/));
  });

  it("steps from event to event and says what happened", async () => {
    const { asked } = renderAt("/databases/a?asOf=2026-11-10T00:00:00Z", <Ruler />, {
      "/api/cover/strip": strip,
      "/api/sources": sources("2026-11-11T00:02:00Z"),
      "/api/step": {
        at: "2026-11-09T23:15:00.250Z",
        database: "a",
        name: "a",
        what: "landed",
        of: "incr a-incr-7",
        store: "Quay near",
      },
    });
    fireEvent.click(await screen.findByRole("button", { name: "Event before" }));
    await waitFor(() => expect(screen.getByTestId("address")).toHaveTextContent("23%3A15%3A00.250Z"));
    expect(screen.getByRole("status")).toHaveTextContent("a: incremental a-incr-7 landed in Quay near");
    fireEvent.keyDown(document.body, { key: "}" });
    await waitFor(() => expect(asked.filter((a) => a.startsWith("/api/step"))).toHaveLength(2));
    const [before, after] = asked.filter((a) => a.startsWith("/api/step"));
    expect(before).toContain("asOf=2026-11-10T00%3A00%3A00Z&to=previous&database=a");
    expect(after).toContain("asOf=2026-11-09T23%3A15%3A00.250Z&to=next&database=a");
  });

  it("says so where the server does not say what happened", async () => {
    open("/cover?asOf=2026-11-10T00:00:00Z");
    fireEvent.click(await screen.findByRole("button", { name: "Event before" }));
    await waitFor(() =>
      expect(screen.getByRole("status")).toHaveTextContent("There is nothing at this address."),
    );
  });

  it("keeps the period in the address", async () => {
    const { asked } = open("/cover?period=P7D");
    expect(await screen.findByText(/7 days from/)).toBeInTheDocument();
    expect(asked.some((a) => a.includes("period=P7D"))).toBe(true);
  });
});

describe("the address", () => {
  it.each([
    ["P7D", 7],
    ["P365D", 365],
    ["P0D", 1],
    [null, 30],
    ["P1M", 30],
    ["2026-01-01T00:00:00Z/2026-01-02T00:00:00Z", 30],
  ])("says with %s that the period has %s days", (period, days) => expect(daysOf(period)).toBe(days));

  it("steps back and forward by the same moments, though with the clock the slices have moved on", async () => {
    const slices = (minute: number) =>
      [0, 0, 3, 3, 1, 1, 4, 4].map((databases, hour) => ({
        from: new Date(Date.UTC(2026, 10, 9, hour, minute)).toISOString(),
        to: new Date(Date.UTC(2026, 10, 9, hour + 1, minute)).toISOString(),
        share: databases / 10,
        databases,
      }));
    renderAt("/cover?asOf=2026-11-09T09:00:00Z", <Ruler />, {
      "/api/cover/strip": { ...strip, outside: slices(0) },
      "/api/cover/strip?asOf=2026-11-09T0": { ...strip, outside: slices(23) },
      "/api/sources": sources("2026-11-11T00:02:00Z"),
    });
    await screen.findByRole("status");
    const seen = [];
    for (const key of ["[", "[", "[", "]", "]"]) {
      const before = screen.getByTestId("address").textContent;
      await waitFor(() => {
        fireEvent.keyDown(document.body, { key });
        expect(screen.getByTestId("address").textContent).not.toBe(before);
      });
      seen.push(screen.getByTestId("address").textContent);
    }
    expect(new Set(seen.slice(0, 3)).size).toBe(3);
    expect(seen.slice(3)).toEqual([seen[1], seen[0]]);
  });

  it("holds moments to the second", () => {
    expect(isoSecond(Date.parse("2026-11-11T00:00:00.999Z"))).toBe("2026-11-11T00:00:00Z");
  });
});
