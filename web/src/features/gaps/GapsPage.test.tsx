import { fireEvent, screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { GapRow, GapsView } from "../../api/types";
import { FROM, TO } from "../../test-fleet";
import { renderAt } from "../../test-render";
import { GapsPage } from "./GapsPage";
import { chosenGaps, length, lost, tally } from "./say";

function gap(database: string, change: Partial<GapRow> = {}, of: Partial<GapRow["gap"]> = {}): GapRow {
  return {
    database,
    name: database,
    zone: "UTC",
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
const none = { words: "", state: "", reach: "" };

describe("gaps", () => {
  it("are chosen by words, by whether they are bridged, and by reach", () => {
    expect(chosenGaps(rows, none)).toEqual(rows);
    expect(chosenGaps(rows, { ...none, words: "quay PURGED" })).toEqual([open]);
    expect(chosenGaps(rows, { ...none, state: "bridged", reach: "inside" }).map((r) => r.name)).toEqual([
      "berths",
    ]);
    expect(chosenGaps(rows, { ...none, reach: "beyond" })).toEqual([beyond]);
  });

  it("are counted and measured in words", () => {
    expect(tally(rows)).toBe("3 gaps in 3 databases; 1 unbridged");
    expect(tally([beyond])).toBe("1 gap in 1 database; all are bridged");
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
    expect(tally([stopped, open, beyond])).toBe("3 gaps in 3 databases; 1 open, 1 unbridged");
  });

  const show = (shown: GapRow[]) => {
    const view: GapsView = {
      asOf: TO,
      from: FROM,
      to: TO,
      rows: shown,
      stores: shown.length
        ? [
            {
              store: "quay-near",
              name: "Quay near",
              slices: [
                { from: "2026-11-04T00:00:00Z", to: "2026-11-04T01:00:00Z", databases: ["berths", "fares"] },
              ],
            },
          ]
        : [],
    };
    return renderAt("/gaps", <GapsPage />, { "/api/gaps": view });
  };

  it("stand as one column where a store failed several databases at once", async () => {
    show(rows);
    expect(await screen.findByText("3 gaps in 3 databases; 1 unbridged")).toBeInTheDocument();
    expect(
      screen.getByRole("img", { name: "Quay near: logs of berths, fares are missing" }),
    ).toBeInTheDocument();
    fireEvent.change(screen.getByPlaceholderText("Words"), { target: { value: "nobody" } });
    expect(screen.getByText("No gap is like that.")).toBeInTheDocument();
    expect(screen.getByTestId("address")).toHaveTextContent("/gaps?words=nobody");
  });

  it("are none where every log is there", async () => {
    show([]);
    expect(await screen.findByText("No log of any database is missing.")).toBeInTheDocument();
    expect(screen.queryByPlaceholderText("Words")).toBeNull();
  });
});
