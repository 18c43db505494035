import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { BLOCK } from "../../api/stretch";
import type { GapRow, GapsView, Schemas } from "../../api/types";
import { FROM, TO } from "../../test-fleet";
import { renderAt } from "../../test-render";
import { GapsPage } from "./GapsPage";
import { length, lost, tally } from "./say";

function gap(database: string, change: Partial<GapRow> = {}, of: Partial<GapRow["gap"]> = {}): GapRow {
  return {
    database,
    name: database,
    zone: "UTC",
    engine: null,
    policy: "Sailings",
    gap: {
      lineage: "1",
      stream: "main",
      fromPosition: 100,
      toPosition: 200,
      after: "2026-11-04T00:00:00Z",
      before: "2026-11-04T03:00:00Z",
      state: "bridged",
      bridgedBy: `${database}-full`,
      leavesReach: "2026-11-22T00:00:00Z",
      cause: "never-backed-up",
      ...of,
    },
    lostFrom: "2026-11-04T00:00:00Z",
    lostTo: "2026-11-04T03:00:00Z",
    inside: true,
    leavesReach: "2026-11-22T00:00:00Z",
    store: "quay-near",
    storeName: "Quay near",
    ...change,
  };
}

const open = gap("fares", {}, { state: "unbridged", bridgedBy: null, before: null, cause: "purged" });
const beyond = gap("tides", { inside: false, storeName: "South near" });
const rows = [open, gap("berths"), beyond];

describe("gaps", () => {
  it("are counted and measured in words", () => {
    expect(tally({ gaps: 3, databases: 3, open: 0, unbridged: 1 })).toBe(
      "3 gaps in 3 databases; 1 unbridged",
    );
    expect(tally({ gaps: 1, databases: 1, open: 0, unbridged: 0 })).toBe(
      "1 gap in 1 database; all are bridged",
    );
    expect(length(beyond, TO)).toBe("3 h");
    expect(length(open, TO)).toBe("open");
  });

  it("are open where logs have stopped: how long so far, and what is lost with it", () => {
    const stopped = gap(
      "cargo",
      { lostFrom: "2026-11-10T20:00:00Z", lostTo: null },
      { state: "open", after: "2026-11-10T21:00:00Z", before: null, bridgedBy: null, cause: "logs-stopped" },
    );
    expect(length(stopped, "2026-11-11T00:00:00Z")).toBe("3 h so far");
    expect(lost(stopped, "2026-11-11T00:00:00Z")).toBe("4 h so far");
    expect(lost(gap("a", { lostFrom: null, lostTo: null }), TO)).toBe("nothing");
    expect(lost(beyond, TO)).toBe("3 h");
    expect(tally({ gaps: 3, databases: 3, open: 1, unbridged: 1 })).toBe(
      "3 gaps in 3 databases; 1 open, 1 unbridged",
    );
  });

  const show = (shown: GapRow[], found = shown) => {
    const tallied = (of: GapRow[]) => ({
      gaps: of.length,
      databases: new Set(of.map((r) => r.database)).size,
      open: 0,
      unbridged: of.filter((r) => r.gap.state === "unbridged").length,
    });
    const view: GapsView = {
      asOf: TO,
      all: tallied(shown),
      found: tallied(found),
      rows: found.slice(0, BLOCK),
    };
    const outages: Schemas["Outages"] = {
      from: FROM,
      to: TO,
      stores: [
        {
          store: "quay-near",
          name: "Quay near",
          slices: [
            {
              from: "2026-11-04T00:00:00Z",
              to: "2026-11-04T01:00:00Z",
              databases: 3,
              names: ["berths", "fares"],
            },
            { from: "2026-11-04T01:00:00Z", to: "2026-11-04T02:00:00Z", databases: 1, names: ["fares"] },
          ],
        },
      ],
      others: 2,
    };
    return renderAt("/gaps", <GapsPage />, { "/api/gaps": view, "/api/gaps/outages": outages });
  };

  it("stand as one column where a store failed several databases at once", async () => {
    show(rows);
    expect(await screen.findByText("3 gaps in 3 databases; 1 unbridged")).toBeInTheDocument();
    expect(
      await screen.findByRole("img", { name: "Quay near: logs of berths, fares are missing" }),
    ).toBeInTheDocument();
    expect(screen.getByText(/berths, fares and 1 more$/)).toBeInTheDocument();
    expect(screen.getByText("and 2 stores with fewer")).toBeInTheDocument();
  });

  it("are asked for by words, by whether they are bridged, and by reach", async () => {
    const { asked } = show(rows, []);
    expect(await screen.findByText("No gap is like that.")).toBeInTheDocument();
    fireEvent.change(screen.getByPlaceholderText("Words"), { target: { value: "quay" } });
    fireEvent.change(screen.getByRole("combobox", { name: "Reach" }), { target: { value: "beyond" } });
    expect(screen.getByTestId("address")).toHaveTextContent("/gaps?words=quay&reach=beyond");
    await waitFor(() =>
      expect(asked.some((a) => /^\/api\/gaps\?.*words=quay.*reach=beyond/.test(a))).toBe(true),
    );
  });

  it("come a stretch at a time", async () => {
    const { asked } = show(Array.from({ length: 3 * BLOCK }, (_, i) => gap(`d${i}`)));
    expect(
      await screen.findByText(`${3 * BLOCK} gaps in ${3 * BLOCK} databases; all are bridged`),
    ).toBeVisible();
    expect(asked.filter((a) => a.startsWith("/api/gaps?"))).toEqual([
      `/api/gaps?words=&state=&reach=&from=0&most=${BLOCK}`,
    ]);
  });

  it("are none where every log is there", async () => {
    show([]);
    expect(await screen.findByText("No log of any database is missing.")).toBeInTheDocument();
    expect(screen.queryByPlaceholderText("Words")).toBeNull();
  });
});
