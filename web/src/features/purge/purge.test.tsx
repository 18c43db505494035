import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { describe, expect, it, vi } from "vitest";
import type { PurgeLine, PurgeList, PurgeView } from "./api";
import { renderAt, signedIn } from "../../test-render";
import { WhyProvider } from "../../why/WhyPanel";
import { PurgeListPage } from "./PurgeListPage";
import { PurgePage } from "./PurgePage";

const line = (key: string, change: Partial<PurgeLine> = {}): PurgeLine => ({
  key,
  database: "fares",
  name: "fares",
  store: "quay-near",
  storeName: "Quay near",
  backup: key,
  kind: "full",
  count: 1,
  from: "2026-10-01T00:00:00Z",
  to: "2026-10-01T00:00:00Z",
  bytes: 9e9,
  verdict: "obsolete",
  why: "f-9 of 4 Nov contains what the rules need",
  kept: null,
  until: null,
  chosen: true,
  ...change,
});

const view: PurgeView = {
  asOf: "2026-11-20T09:00:00Z",
  stores: [{ id: "quay-near", name: "Quay near", role: "near", obsoleteBytes: 2.7e10, agent: true }],
  store: "quay-near",
  databases: ["fares"],
  others: 0,
  otherBytes: 0,
  rows: [],
  lines: [
    line("f-1"),
    line("f-2"),
    line("f-3", { kept: "locked", until: "2026-12-01T00:00:00Z", chosen: false }),
  ],
  proofs: [
    {
      database: "fares",
      name: "fares",
      copies: 2,
      bytes: 1.8e10,
      point: "2026-11-20T08:50:00Z",
      since: "2026-11-02T09:00:00Z",
      pieces: 1,
      coveredSeconds: 1_555_000,
      whole: 21,
      hazards: [
        { hazard: "mishap", since: "2026-11-02T09:00:00Z", pieces: 1, coveredSeconds: 1_555_000 },
        { hazard: "siteLoss", since: "2026-11-02T09:00:00Z", pieces: 1, coveredSeconds: 864_000 },
      ],
      flaws: [],
    },
  ],
  hash: "seen",
  copies: 2,
  bytes: 1.8e10,
  levels: [{ store: "quay-near", name: "Quay near", capacity: 2e11, before: 1.8e11, after: 1.62e11 }],
  lists: [],
};

/** What was sent to an address, as JSON. */
function sent(path: string) {
  const bodies: unknown[] = [];
  const fetch = globalThis.fetch as unknown as (request: Request) => Promise<Response>;
  vi.stubGlobal("fetch", async (request: Request) => {
    if (new URL(request.url).pathname === path)
      bodies.push(JSON.parse((await request.clone().text()) || "null"));
    return fetch(request);
  });
  return bodies;
}

function open(answer: PurgeView, session = signedIn()) {
  const made = renderAt(
    "/purge",
    <WhyProvider>
      <PurgePage />
    </WhyProvider>,
    {
      "/api/session": session,
      "/api/purge": { id: "purge-1" },
      "/api/purge/choice": answer,
      "/api/purge/coming": [],
    },
  );
  return made;
}

describe("what may be purged", () => {
  it("says what it frees, why, and what only a lock keeps", async () => {
    open(view);
    expect(await screen.findByText(/2 fulls that no rule needs/)).toBeInTheDocument();
    expect(screen.getByText(/store from 90 % to/)).toHaveTextContent("81 %");
    const lines = screen.getByTestId("purge-lines");
    expect(within(lines).getAllByRole("checkbox")).toHaveLength(3);
    expect(lines).toHaveTextContent("locked until 1 Dec");
    expect(screen.getByTestId("proof")).toHaveTextContent("All 21 needed data backups stay whole");
    expect(screen.getByTestId("proof")).toHaveTextContent("Left out: 1 copy with a lock");
  });

  it("asks for the proof anew without what is left out, and for what was seen", async () => {
    open(view);
    const choices = sent("/api/purge/choice");
    const asked = sent("/api/purge");
    fireEvent.click(await screen.findByRole("checkbox", { name: "f-1 of fares" }));
    await waitFor(() => expect(choices.at(-1)).toEqual({ store: null, leftOut: ["f-1"], most: null }));
    const form = await screen.findByRole("form", { name: "Ask for approval" });
    expect(within(form).getByRole("button")).toBeDisabled();
    fireEvent.change(within(form).getByRole("textbox"), { target: { value: "Friday" } });
    await waitFor(() => expect(within(form).getByRole("button")).toBeEnabled());
    fireEvent.submit(form);
    await waitFor(() =>
      expect(asked).toContainEqual({
        store: "quay-near",
        leftOut: ["f-1"],
        databases: ["fares"],
        reason: "Friday",
        hash: "seen",
        asOf: view.asOf,
      }),
    );
  });

  it("looks at those with the most that is obsolete, and at more when asked", async () => {
    open({
      ...view,
      databases: Array.from({ length: 6 }, (_, i) => `db-${i}`),
      others: 60,
      otherBytes: 3e9,
    });
    const choices = sent("/api/purge/choice");
    expect(await screen.findByTestId("purge-others")).toHaveTextContent(
      "Of the 6 databases with the most that is obsolete. 60 more have 3.0 GB obsolete. Take in 34 more",
    );
    fireEvent.click(screen.getByRole("button", { name: "Take in 34 more" }));
    await waitFor(() => expect(choices.at(-1)).toEqual({ store: null, leftOut: [], most: 40 }));
  });

  it("takes no more than a list does", async () => {
    open({ ...view, databases: Array.from({ length: 200 }, (_, i) => `db-${i}`), others: 1, otherBytes: 0 });
    expect(await screen.findByTestId("purge-others")).toHaveTextContent(
      "Of the 200 databases with the most that is obsolete. One more has nothing obsolete; a list takes at most 200 databases",
    );
    expect(screen.queryByRole("button", { name: /^Take in/ })).toBeNull();
  });

  it("is asked for by keepers alone, and not where something would be harmed", async () => {
    const harmed = view.proofs.map((p) => ({ ...p, flaws: ["from 2 Nov on nothing could be restored"] }));
    open({ ...view, proofs: harmed });
    expect(await screen.findByText(/fares: from 2 Nov on nothing/)).toBeInTheDocument();
    expect(screen.queryByRole("form", { name: "Ask for approval" })).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "Leave fares out" }));
  });

  it("shows a viewer everything and offers nothing", async () => {
    open(view, signedIn({ person: { id: "oona", name: "Oona", can: ["viewer"] } }));
    expect(await screen.findByText(/Only keepers can ask/)).toBeInTheDocument();
    expect(screen.queryByRole("form", { name: "Ask for approval" })).toBeNull();
  });
});

const list: PurgeList = {
  id: "purge-1",
  store: "quay-near",
  storeName: "Quay near",
  state: "asked",
  askedBy: "ines",
  askedAt: "2026-11-20T09:00:00Z",
  reason: "Friday",
  approvalsNeeded: 1,
  approvals: [],
  hash: "h",
  whole: true,
  trouble: "",
  proofs: view.proofs,
  now: [{ items: 3, bytes: 9e9, backup: "f-2", why: "it is needed again: held" }],
  may: ["approve"],
  tallies: [{ state: "waiting", items: 2, bytes: 1.8e10 }],
  asked: 1.8e10,
  freed: null,
  belied: [],
  lines: 1,
  groups: [
    {
      database: "fares",
      name: "fares",
      store: "quay-near",
      storeName: "Quay near",
      kind: "log",
      items: 41_000,
      bytes: 1.8e10,
      firstLanded: "2026-09-01T00:00:00Z",
      lastLanded: "2026-10-01T00:00:00Z",
      why: "f-9 of 4 Nov contains what the rules need",
      otherReasons: 0,
      tallies: [{ state: "waiting", items: 41_000, bytes: 1.8e10 }],
    },
  ],
  deed: 19,
  after: null,
};

const item = {
  num: 7,
  database: "fares",
  name: "fares",
  backup: "log-7",
  kind: "log",
  storeName: "Quay near",
  path: "fares/log-7",
  bytes: 1000,
  landed: "2026-09-01T00:00:00Z",
  why: "why",
  state: "deleted",
  told: "",
  freed: 1000,
  at: "2026-11-20T10:00:00Z",
  by: "agent at quay-near",
};

function openList(answer: PurgeList) {
  return renderAt(
    "/purge/purge-1",
    <Routes>
      <Route path="/purge/:id" element={<PurgeListPage />} />
    </Routes>,
    {
      "/api/purge/purge-1": answer,
      "/api/purge/purge-1/shelves": [],
      "/api/purge/purge-1/items": [item],
    },
  );
}

describe("a list", () => {
  it("is approved with the seal that was seen, and says what drops out", async () => {
    openList(list);
    const approved = sent("/api/purge/purge-1/approve");
    expect(await screen.findByText(/it is needed again: held/)).toHaveTextContent("f-2 and 2 more");
    fireEvent.click(screen.getByRole("button", { name: "Approve" }));
    await waitFor(() => expect(approved).toEqual([{ hash: "h" }]));
    expect(screen.queryByRole("button", { name: "Carry out" })).toBeNull();
  });

  it("shows whoever approves what the asker saw, thousands of logs as one line", async () => {
    openList(list);
    expect(await screen.findByTestId("proof-hazards")).toHaveTextContent(
      "after the loss of the site: one database, 10 d",
    );
    const groups = screen.getByTestId("purge-groups");
    expect(within(groups).getByText("waiting")).toBeInTheDocument();
    expect(groups).toHaveTextContent("contains what the rules need");
    fireEvent.click(within(groups).getByRole("button", { name: /41.000 logs/ }));
    expect(await within(groups).findByText(/told by agent at quay-near/)).toBeInTheDocument();
    expect(screen.getByText("Shelves when it was asked for")).toHaveAttribute("aria-expanded", "true");
  });

  it("names who told that files were gone which a later listing has", async () => {
    openList({
      ...list,
      belied: [
        {
          storeName: "Quay near",
          toldBy: "agent at quay-near",
          files: 3,
          path: "quay-near/fuel/f-1",
          listed: "2026-11-20T11:00:00Z",
        },
      ],
    });
    const said = await screen.findByRole("alert");
    expect(said).toHaveTextContent("agent at quay-near told that 3 files in Quay near were gone");
    expect(said).toHaveTextContent("quay-near/fuel/f-1");
  });

  it("that was altered says so and offers nothing", async () => {
    openList({
      ...list,
      state: "stopped",
      whole: false,
      trouble: "its items are not those it was sealed with",
      may: [],
    });
    expect(await screen.findByRole("alert")).toHaveTextContent("not those it was sealed with");
    expect(screen.queryByText("Save the list:")).toBeNull();
  });

  it("that is done compares what was freed and the cover", async () => {
    openList({
      ...list,
      state: "done",
      may: [],
      now: [],
      freed: 1.7e10,
      tallies: [{ state: "deleted", items: 2, bytes: 1.8e10 }],
      after: {
        at: "2026-11-20T10:00:00Z",
        equal: true,
        covers: [
          {
            database: "fares",
            since: "2026-11-02T09:00:00Z",
            secondsBefore: 1_555_000,
            secondsAfter: 1_555_000,
            pointBefore: null,
            pointAfter: null,
            equal: true,
          },
        ],
      },
    });
    expect(await screen.findByTestId("purge-after")).toHaveTextContent(
      "Cover within reach is what it was before",
    );
    expect(screen.getByTestId("purge-tally")).toHaveTextContent("Asked to free 18 GB, measured 17 GB");
  });
});
