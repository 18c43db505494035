import { fireEvent, screen, waitFor } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { FleetChoices, FleetView } from "../../api/types";
import { fleetRow } from "../../test-fleet";
import { renderAt } from "../../test-render";
import { AssignBar } from "./AssignBar";
import { EnrolForm } from "./EnrolForm";
import { PasteTable, type PutBack } from "./PasteTable";

const rows = [
  fleetRow("bookings"),
  fleetRow("manifests", { readiness: { state: "not-ready", lacking: 2, unknown: 0 } }),
];

const seen: FleetView["unenrolled"][number] = {
  name: "pilots",
  engine: "PostgreSQL 16",
  fromRecords: false,
  near: null,
  seen: { host: "northquay-3", identity: "7466", at: "2026-11-22T00:00:00Z" },
};

const choices: FleetChoices = {
  policies: [{ id: "sailings", name: "Sailings" }],
  routes: [
    { id: "north", name: "From Northquay", data: ["near"], log: [], copies: [], takers: [], takenBy: 0 },
  ],
  stores: [],
  sites: [{ id: "northquay", name: "Northquay" }],
  owners: [],
  labels: [],
  standing: [],
};

const taken = () => vi.fn((records: object[]) => Promise.resolve(records.length > 0));

beforeEach(() => window.localStorage.clear());

describe("enrolling", () => {
  const open = (id: string | null, name = "", answers = {}) => {
    const onState = taken();
    const onClose = vi.fn();
    renderAt(
      "/fleet",
      <EnrolForm id={id} name={name} fleet={choices} seen={seen} onClose={onClose} onState={onState} />,
      { "/api/fleet": { rows }, ...answers },
    );
    return { onState, onClose };
  };

  it("begins with what was seen on the host, and states a database", async () => {
    const { onState, onClose } = open(null, "pilots");
    expect(await screen.findByLabelText(/^Engine/)).toHaveValue("PostgreSQL 16");
    expect(screen.getByLabelText(/^Host/)).toHaveValue("northquay-3");
    expect(screen.getByLabelText(/What the engine calls itself/)).toHaveValue("7466");
    fireEvent.change(screen.getByLabelText(/^Site/), { target: { value: "northquay" } });
    fireEvent.change(screen.getByLabelText(/^Labels/), { target: { value: "class=sailings" } });
    fireEvent.click(screen.getByRole("button", { name: "Enrol" }));
    await waitFor(() => expect(onClose).toHaveBeenCalled());
    expect(onState.mock.calls[0]?.[0][0]).toMatchObject({
      type: "database",
      id: "pilots",
      host: "northquay-3",
      site: "northquay",
      labels: { class: "sailings" },
    });
  });

  it.each([
    ["Name", "", "Name is missing."],
    ["Name", "bookings", "Name is enrolled already."],
    ["Time zone", "Atlantis/Deep", /Time zone is/],
    ["Labels", "tall", /Labels contains "tall"/],
    ["Stopped", "yesterday", /Stopped/],
  ])("says at %s what is wrong with '%s', and states nothing", async (field, value, says) => {
    const { onState, onClose } = open(null, "pilots");
    fireEvent.change(await screen.findByLabelText(new RegExp(`^${field}`)), { target: { value } });
    fireEvent.click(screen.getByRole("button", { name: "Enrol" }));
    expect(await screen.findByRole("alert")).toHaveTextContent(says);
    expect(screen.getByLabelText(new RegExp(`^${field}`))).toHaveAttribute("aria-invalid", "true");
    expect(onState).not.toHaveBeenCalled();
    expect(onClose).not.toHaveBeenCalled();
  });

  it("keeps what it does not show when one is edited, and retires by name", async () => {
    const { onState } = open("bookings", "", {
      "/api/fleet/bookings": {
        document: {
          type: "database",
          id: "bookings",
          name: "bookings",
          inServiceFrom: "2026-01-01T00:00:00Z",
          mood: "calm",
          stopped: [{ from: "2026-11-20T20:00:00Z", to: "2026-11-22T06:00:00Z" }],
          components: [{ name: "orders" }],
          labels: { class: "sailings" },
        },
      },
    });
    expect(await screen.findByLabelText(/^Stopped/)).toHaveValue("2026-11-20T20:00:00Z/2026-11-22T06:00:00Z");
    expect(screen.getByLabelText(/^Components/)).toHaveValue("orders");
    fireEvent.change(screen.getByLabelText(/^Owner/), { target: { value: "Sales" } });
    fireEvent.click(screen.getByRole("button", { name: "Keep" }));
    await waitFor(() => expect(onState).toHaveBeenCalled());
    expect(onState.mock.calls[0]?.[0][0]).toMatchObject({ id: "bookings", owner: "Sales", mood: "calm" });

    fireEvent.click(screen.getByText("Retire it…"));
    fireEvent.click(screen.getByRole("button", { name: "Retire it now" }));
    await waitFor(() => expect(onState).toHaveBeenCalledTimes(2));
    const [database, none] = onState.mock.calls[1]?.[0] as Record<string, unknown>[];
    expect(database?.retired).toMatch(/^20\d\d-/);
    expect(none).toMatchObject({ type: "assignment", database: "bookings", by: "Maren", why: "retired" });
    expect(none).not.toHaveProperty("policy");
  });
});

describe("a pasted table", () => {
  const row = (id: string, manner: string, change = {}) => ({
    id,
    manner,
    before: null,
    changes: [],
    field: "",
    reason: "",
    ...change,
  });
  const before = { id: "fares", name: "fares", sizeBytes: 4e10 };
  const compared = {
    databases: [
      row("wifi", "new"),
      row("fares", "changed", {
        before,
        changes: [
          { field: "labels", before: '{"class":"sailings"}', after: '{"class":"sailings","tier":"1"}' },
          { field: "sizeBytes", before: "40000000000", after: "60000000000" },
        ],
      }),
      row("bookings", "unchanged"),
      row("tolls", "refused", { field: "site", reason: "is no site Firth knows: Nordquay" }),
    ],
    unknown: [{ field: "site", text: "Nordquay", rows: 1 }],
  };
  const TABLE =
    "name\tsize GB\tsite\tcolour\nwifi\t1\t\tred\nfares\t60\t\t\nbookings\t1\t\t\ntolls\t1\tNordquay\t\n\t4\t\t\n";

  it("shows what would change field by field, takes that alone, and can put it back", async () => {
    const onState = vi.fn<(records: object[], back: () => PutBack) => Promise<boolean>>(() =>
      Promise.resolve(true),
    );
    const onClose = vi.fn();
    const { asked } = renderAt("/fleet", <PasteTable fleet={choices} onClose={onClose} onState={onState} />, {
      "/api/fleet/databases/compared": compared,
    });
    const take = await screen.findByRole("button", { name: /^Take/ });
    expect(take).toBeDisabled();
    fireEvent.change(screen.getByLabelText("Table"), { target: { value: TABLE } });
    expect(screen.getByLabelText("size GB is")).toHaveValue("sizeBytes:GB");
    expect(screen.getByLabelText("colour is")).toHaveValue("");
    const difference = await screen.findByTestId("difference");
    expect(difference).toHaveTextContent("1 new, 1 changed, 1 unchanged, 1 cannot be taken.");
    expect(difference).toHaveTextContent(
      "fares Labels: class=sailings → class=sailings, tier=1; Size: 40 GB → 60 GB",
    );
    expect(difference).toHaveTextContent("Line 5: site is no site Firth knows: Nordquay.");
    expect(screen.getByText("Line 6: name is missing.")).toBeInTheDocument();
    expect(onState).not.toHaveBeenCalled();
    fireEvent.change(screen.getByLabelText("colour is"), { target: { value: "label:colour" } });
    fireEvent.change(screen.getByLabelText("Meant by Nordquay"), { target: { value: "northquay" } });
    await waitFor(() => expect(asked.length).toBeGreaterThan(2));
    await waitFor(() => expect(take).toBeEnabled());
    fireEvent.click(take);
    await waitFor(() => expect(onClose).toHaveBeenCalled());
    const [records, back] = onState.mock.calls[0] as [{ id: string }[], () => PutBack];
    expect(records.map((r) => r.id)).toEqual(["wifi", "fares"]);
    expect(records[0]).toMatchObject({ labels: { colour: "red" } });
    expect(back().before).toEqual([before]);
    const undoneAt = Date.now();
    const [wifi] = back().retired as { retired: string }[];
    expect(wifi).toEqual({ type: "database", id: "wifi", name: "wifi", retired: wifi?.retired });
    expect(Date.parse(wifi?.retired ?? "")).toBeGreaterThan(undoneAt - 1000);
  });

  it("remembers what a heading was said to be", async () => {
    window.localStorage.setItem("firth.enrol.columns", JSON.stringify({ colour: "label:colour" }));
    renderAt("/fleet", <PasteTable fleet={choices} onClose={vi.fn()} onState={taken()} />, {
      "/api/fleet/databases/compared": compared,
    });
    fireEvent.change(await screen.findByLabelText("Table"), { target: { value: TABLE } });
    expect(screen.getByLabelText("colour is")).toHaveValue("label:colour");
  });
});

describe("assigning many", () => {
  it("warns of those whose schedules cannot be trusted yet, and says who assigned", async () => {
    const onState = vi.fn();
    renderAt("/fleet", <AssignBar rows={rows} fleet={choices} onState={onState} />);
    const form = screen.getByRole("form", { name: "Assign" });
    expect(form).not.toHaveTextContent("Not ready");
    fireEvent.change(screen.getByLabelText("Policy"), { target: { value: "sailings" } });
    expect(form).toHaveTextContent("Not ready: manifests; its schedules cannot be trusted there yet.");
    fireEvent.submit(form);
    await waitFor(() => expect(onState).toHaveBeenCalledTimes(1));
    const [records, before] = onState.mock.calls[0] as [object[], () => object[]];
    expect(records).toMatchObject([
      { database: "bookings", policy: "sailings", by: "Maren" },
      { database: "manifests", policy: "sailings" },
    ]);
    const known = rows.find((r) => r.id === "bookings");
    expect(before()[0]).toMatchObject({ database: "bookings", policy: known?.policy, why: "undone" });
  });
});
