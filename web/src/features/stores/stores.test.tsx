import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { describe, expect, it } from "vitest";
import type { StockFind, StockView, StoreRow } from "./api";
import { renderAt, signedIn } from "../../test-render";
import { StocktakePage } from "../stocktake/StocktakePage";
import { StoresPage } from "./StoresPage";

const take = {
  id: "stock-1",
  store: "quay-near",
  storeName: "Quay near",
  askedBy: "ines",
  askedAt: "2026-11-20T08:00:00Z",
  taken: "2026-11-20T08:00:05Z",
  state: "taken",
  told: "agent",
  agreed: 18_402,
  files: 18_410,
  unplaced: 0,
  sums: false,
} as const;

const store: StoreRow = {
  id: "quay-near",
  name: "Quay near",
  site: "Northquay",
  medium: "disk",
  role: "near",
  capacity: 8e12,
  back: Array.from({ length: 61 }, (_, i) => 6e12 + i * 1e10),
  ahead: Array.from({ length: 61 }, (_, i) => 6.6e12 + i * 5e10),
  purged: Array.from({ length: 61 }, () => 4e12),
  full: "2026-12-14T00:00:00Z",
  fullPurged: null,
  obsolete: 2e12,
  way: 0,
  givesWay: "refuse-new",
  minimumStaySeconds: null,
  readStated: 4e8,
  read: { usual: 3e8, best: 3.3e8, backups: 2 },
  written: { usual: 2e7, best: 3e7, backups: 12 },
  copied: null,
  agent: true,
  measured: {
    at: "2026-11-20T08:59:00Z",
    freeBytes: 1.2e12,
    capacityBytes: 8e12,
    writable: false,
    locks: "none",
    trouble: "Read-only file system",
  },
  stock: { take, open: { missing: 3, stray: 1 } },
};

const answers = {
  "/api/stores": { asOf: "2026-11-20T09:00:00Z", days: 60, stores: [store] },
  "/api/stores/quay-near": {
    id: "quay-near",
    name: "Quay near",
    databases: 1,
    rows: [
      {
        id: "bookings",
        name: "bookings",
        held: 1.6e12,
        needed: 1.4e12,
        week: 1.8e10,
        kinds: { full: 1.2e12, log: 4e11 },
        copies: "2 backups lack copies",
        copiesHeld: false,
      },
    ],
    reliefs: [{ what: "purging once what no rule needs", bytes: 2e12, full: null }],
  },
  "/api/stores/back-test": {
    made: "2026-10-21T09:00:00Z",
    days: 2,
    stores: [
      {
        store: "quay-near",
        name: "Quay near",
        forecast: [1e12, 2e12, 2.8e12],
        actual: [1e12, 2e12, 3e12],
        error: -0.0667,
      },
    ],
  },
  "/api/stocktakes/of/quay-near": [take],
};

describe("stores", () => {
  it("say when they are full, what is needed there and how good the forecast is", async () => {
    renderAt("/stores", <StoresPage />, answers);
    expect(await screen.findByText(/2 backups lack copies/)).toBeInTheDocument();
    expect(screen.getByTestId("store-databases")).toHaveTextContent("full 1.2 TB, log 400 GB");
    expect(screen.getByText(/Nothing gives way/)).toBeInTheDocument();
    expect(screen.getByTestId("measured")).toHaveTextContent(
      /1.2 TB free of 8.0 TB; nothing keeps files from being deleted.*could not write there: Read-only file system/,
    );
    fireEvent.click(screen.getByRole("button", { name: "How good is the forecast?" }));
    expect(await screen.findByText(/-6.7 %/)).toBeInTheDocument();
  });

  it("show what the last stocktake found and take stock again", async () => {
    const { asked } = renderAt("/stores", <StoresPage />, answers);
    const stock = await screen.findByTestId("stock");
    await waitFor(() => expect(stock).toHaveTextContent("3 missing"));
    expect(stock).toHaveTextContent("1 stray");
    fireEvent.click(within(stock).getByLabelText("Read every file"));
    fireEvent.click(within(stock).getByRole("button", { name: "Take stock now" }));
    await waitFor(() =>
      expect(asked.some((a) => a.startsWith("/api/stocktakes/of/quay-near?sums=true"))).toBe(true),
    );
  });

  it("offer a viewer no stocktake", async () => {
    renderAt("/stores", <StoresPage />, {
      ...answers,
      "/api/session": signedIn({ person: { id: "oona", name: "Oona", can: ["viewer"] } }),
    });
    const stock = await screen.findByTestId("stock");
    expect(within(stock).queryByRole("button", { name: "Take stock now" })).toBeNull();
  });
});

describe("a stocktake", () => {
  it("lets a person decide and undo, one find at a time", async () => {
    const find: StockFind = {
      num: 1,
      what: "missing",
      database: "bookings",
      backup: "f-1",
      path: "/quay-near/bookings/f-1",
      told: "the store lists no such file",
      size: null,
      expected: 1e9,
      written: null,
      since: "2026-11-19T08:00:00Z",
      unasked: true,
      state: "open",
      by: null,
      may: ["drop"],
    };
    const view: StockView = {
      take,
      may: true,
      found: [
        { what: "missing", finds: 51 },
        { what: "stray", finds: 1 },
      ],
      toRemove: 0,
      finds: [
        find,
        {
          ...find,
          num: 2,
          what: "stray",
          state: "adopted",
          by: "ines",
          unasked: false,
          may: ["undo"],
          told: "it bears the name of f-2",
        },
      ],
    };
    const last = { ...find, num: 60, may: [], told: "the last of them" };
    const { asked } = renderAt(
      "/stores/stocktakes/stock-1",
      <Routes>
        <Route path="/stores/stocktakes/:id" element={<StocktakePage />} />
      </Routes>,
      {
        "/api/stocktakes/stock-1": {
          ...view,
          finds: [...Array.from({ length: 49 }, (_, i) => ({ ...find, num: i + 3, may: [] })), ...view.finds],
        },
        "/api/stocktakes/stock-1/finds?": [last],
      },
    );
    expect((await screen.findAllByText("; on no approved list")).length).toBe(50);
    fireEvent.click(screen.getByRole("button", { name: "Show the last 1" }));
    expect(await screen.findByText(/the last of them/)).toBeInTheDocument();
    expect(screen.getByText(/adopted by ines/)).toBeInTheDocument();
    fireEvent.click(screen.getByRole("button", { name: "Drop it from the catalog" }));
    await waitFor(() => expect(asked).toContain("/api/stocktakes/stock-1/finds/1"));
  });
});
