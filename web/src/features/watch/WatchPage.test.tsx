import { fireEvent, screen, within, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Watch } from "../../api/types";
import { finding } from "../../test-fleet";
import { renderAt } from "../../test-render";
import { logsLine } from "./Aside";
import { headline, pathOf } from "./finding";
import { looks } from "./looked";
import { heading, WatchPage } from "./WatchPage";

const named = (id: string) => ({ id, name: id, grade: "covered" }) as const;
const accepted = {
  id: "a1",
  by: "Ines",
  reason: "bridged by the next full",
  at: "2026-11-20T00:00:00Z",
  until: "2026-11-30T00:00:00Z",
};
const way: Watch["findings"][number]["waysOut"][number] = {
  action: "take",
  kind: "incr",
  store: "near",
  seconds: 720,
  bytes: 1e9,
  resumes: "2026-11-23T09:24:00Z",
  ends: true,
  holeFrom: "2026-11-21T07:06:00Z",
  holeTo: "2026-11-23T09:24:00Z",
  leaves: "2026-12-11T09:24:00Z",
  text: "Take an incremental now to Quay near: 12 min",
};
const watch: Watch = {
  asOf: "2026-11-23T09:12:00Z",
  zone: "UTC",
  databases: 4,
  counts: { broken: 1, willBreak: 0, besides: 1, housekeeping: 0, accepted: 1 },
  folds: [],
  findings: [
    finding({ waysOut: [way, { ...way, ends: false, text: "Let the archiver clear its backlog: 2 min" }] }),
    finding({
      key: "lock|policy:sailings/retain.1.lock",
      code: "lock-longer-than-retention",
      severity: "contradiction",
      urgency: "besides",
      databases: ["berths", "fares", "tides", "fuel"].map(named),
      title: "Sailings contradicts itself",
      policy: "sailings",
    }),
    finding({
      key: "hole-in-reach|berths/x",
      severity: "bridged-gap",
      urgency: "besides",
      databases: [named("berths")],
      title: "21 h 15 min inside reach cannot be restored",
      accepted,
    }),
  ],
  night: {
    from: "2026-11-22T12:00:00Z",
    to: "2026-11-23T09:12:00Z",
    asked: 64,
    kept: 61,
    failed: { count: 1, first: [named("manifests")] },
    missed: { count: 14, first: [named("kiosk"), named("tides")] },
    late: { count: 0, first: [] },
    bytes: 1.3e12,
    usualBytes: 1.5e12,
  },
  runningCount: 1,
  nextCount: 1,
  running: [
    {
      database: "cargo",
      name: "cargo",
      kind: "full",
      run: "r1",
      started: "2026-11-23T09:00:00Z",
      expectedEnd: "2026-11-23T09:24:00Z",
      usualBytes: 1e9,
      progress: { at: "2026-11-23T09:12:00Z", readBytes: 9e8, writtenBytes: 5e8, bytesPerSecond: 1e6 },
    },
  ],
  ordered: [
    {
      run: "hand:tides:1",
      database: "tides",
      name: "tides",
      kind: "full",
      at: "2026-11-23T09:11:00Z",
      by: "Ines",
    },
  ],
  next: [
    {
      database: "tides",
      name: "tides",
      kind: "incr",
      open: "2026-11-23T18:40:00Z",
      close: "2026-11-23T22:40:00Z",
      seconds: 1200,
    },
  ],
  logs: { every: [{ seconds: 600, databases: 12 }], streamed: 2 },
  glance: {
    lastGood: { database: "fares", name: "fares", kind: "incr", at: "2026-11-23T02:00:00Z" },
    lastFailed: null,
    nextSlot: null,
  },
  since: null,
};

const show = () => renderAt("/watch", <WatchPage />, { "/api/watch": watch });
const entry = (name: RegExp) => screen.findByRole("article", { name });

describe("the morning", () => {
  it("says how much needs whoever looks, and names who it befalls", async () => {
    show();
    await entry(/^manifests: 50 h 6 min would be lost/);
    expect(screen.getByText("1 broken now · 1 accepted")).toBeVisible();
    expect(await entry(/^Sailings contradicts itself/)).toHaveTextContent("Open policy");
    expect(await entry(/^berths: 21 h 15 min/)).toHaveTextContent("accepted by Ines until");
  });

  it("stands in the order of time left, with what will break by when, and housekeeping folded", async () => {
    const tidy = finding({
      key: "u|a",
      severity: "unusual",
      urgency: "housekeeping",
      title: "its full is 45 GB",
    });
    const disk = finding({
      key: "d|a",
      severity: "will-break",
      urgency: "will-break",
      breaks: "2026-11-23T18:12:00Z",
      title: "its log disk is filling",
    });
    const besides = finding({
      key: "s|a",
      severity: "spill",
      urgency: "besides",
      title: "its full started late",
    });
    const broken = finding({ key: "b|a" });
    renderAt("/watch", <WatchPage />, {
      "/api/watch": {
        ...watch,
        counts: { broken: 1, willBreak: 1, besides: 1, housekeeping: 1, accepted: 0 },
        findings: [broken, disk, besides, tidy],
      },
    });
    expect(await screen.findByText("1 broken now · 1 will break")).toBeVisible();
    const shown = screen.getAllByRole("article").map((a) => a.dataset.finding);
    expect(shown).toEqual(["b|a", "d|a", "s|a"]);
    expect(within(screen.getByRole("region", { name: "Will break" })).getByRole("article")).toHaveTextContent(
      /breaks Mon 23 Nov, 18:12/,
    );
    fireEvent.click(screen.getByRole("button", { name: "Housekeeping, 1" }));
    expect(await entry(/its full is 45 GB/)).toBeVisible();
    fireEvent.click(screen.getByRole("button", { name: "Housekeeping, 1" }));
    await waitFor(() => expect(screen.queryByRole("article", { name: /its full is 45 GB/ })).toBeNull());
  });

  it("shows the first of a kind of which there are many, and more when that is wanted", async () => {
    const many = ["a", "b", "c", "d", "e"].map((id) =>
      finding({ key: `behind|${id}`, databases: [named(id)], title: "2 h would be lost" }),
    );
    const other = finding({
      key: "hole|x",
      code: "hole",
      severity: "unbridged-gap",
      databases: [named("x")],
    });
    renderAt("/watch", <WatchPage />, {
      "/api/watch/findings": many.slice(3),
      "/api/watch": {
        ...watch,
        counts: { broken: 6, willBreak: 0, besides: 0, housekeeping: 0, accepted: 0 },
        findings: [...many.slice(0, 3), other],
        folds: [
          { code: "behind", severity: "behind", urgency: "broken", shown: 3, more: 2, names: ["d", "e"] },
        ],
      },
    });
    const row = await screen.findByText("2 more like these");
    expect(row.parentElement).toHaveTextContent("2 more like these: d, eShow them");
    expect(row.compareDocumentPosition(await entry(/^c: /))).toBe(Node.DOCUMENT_POSITION_PRECEDING);
    fireEvent.click(screen.getByText("Show them"));
    await entry(/^e: 2 h would be lost/);
    const order = screen.getAllByRole("article").map((a) => a.dataset.finding);
    expect(order).toEqual(["behind|a", "behind|b", "behind|c", "behind|d", "behind|e", "hole|x"]);
    expect(screen.queryByText(/more like these/)).toBeNull();
  });

  it("tells of the night, what runs, what comes and how logs come", async () => {
    show();
    expect(await screen.findByTestId("night")).toHaveTextContent(
      "61 of 64 slots kept. manifests failed. Of kiosk, tides and 12 more nothing was started. 1.3 TB written, 200 GB less than usual",
    );
    expect(screen.getByRole("progressbar", { name: "cargo full" })).toHaveAttribute("aria-valuenow", "50");
    expect(screen.getByRole("img", { name: /1 slots: tides incremental 18:40/ })).toBeVisible();
    expect(logsLine(watch.logs)).toBe("logs of 12 databases every 10 min, 2 streamed");
  });

  it("is gone through with j and k; w says what was tried, enter opens, a accepts", async () => {
    show();
    await entry(/^manifests/);
    fireEvent.keyDown(window, { key: "j" });
    fireEvent.keyDown(window, { key: "w" });
    const why = await screen.findByTestId("why");
    expect(why).toHaveTextContent("does not end it");
    expect(why).toHaveTextContent("the hole 21 Nov 07:06 to 23 Nov 09:24 stays until 11 Dec 09:24");
    fireEvent.click(within(why).getByText("Close"));
    fireEvent.keyDown(await entry(/^manifests/), { key: "Enter" });
    expect(screen.getByTestId("address")).toHaveTextContent("/databases/manifests");
  });

  it("shows what is ordered, and orders the backup that ends a finding", async () => {
    const offers = {
      database: "manifests",
      name: "manifests",
      runner: "northquay-2",
      offers: [
        {
          kind: "incr",
          store: "near",
          storeName: "Quay near",
          seconds: 720,
          bytes: 1e9,
          parent: "f",
          gives: "Cover resumes at 09:24.",
        },
      ],
    };
    const answers = { "/api/watch": watch, "/api/databases/manifests/starts": { ...offers, run: "hand:1" } };
    const { asked } = renderAt("/watch", <WatchPage />, answers);
    expect(await screen.findByTestId("running")).toHaveTextContent("full, ordered by Ines at 09:11");
    fireEvent.click(within(await entry(/^manifests/)).getByText("Start now"));
    const form = await screen.findByRole("form", { name: "Start a backup" });
    expect(form).toHaveTextContent("incremental to Quay near, about 12 min, 1.0 GBCover resumes at 09:24.");
    fireEvent.change(within(form).getByLabelText(/Why is it/), { target: { value: "the hole of 02:10" } });
    fireEvent.submit(form);
    expect(await screen.findByRole("status")).toHaveTextContent(
      "Ordered as hand:1. The runner on northquay-2",
    );
    expect(asked.filter((p) => p.endsWith("/starts"))).toHaveLength(2);
  });

  it("offers nothing of today where one looks back", async () => {
    renderAt("/watch?asOf=2026-11-20T09:00:00Z", <WatchPage />, { "/api/watch": watch });
    const then = await entry(/^manifests/);
    expect(within(then).getByText("Why?")).toBeVisible();
    for (const today of ["Start now", "Accept"]) expect(within(then).queryByText(today)).toBeNull();
    fireEvent.keyDown(window, { key: "j" });
    fireEvent.keyDown(window, { key: "s" });
    fireEvent.keyDown(window, { key: "a" });
    expect(screen.queryByRole("form")).toBeNull();
  });

  it("accepts with a reason and an end, and calls back", async () => {
    const { asked } = show();
    fireEvent.click(within(await entry(/^manifests/)).getByText("Accept"));
    const form = await screen.findByRole("form", { name: "Accept" });
    expect(within(form).getByRole("button", { name: "Accept" })).toBeDisabled();
    fireEvent.change(within(form).getByLabelText(/Why is it acceptable/), {
      target: { value: "moved on Friday" },
    });
    fireEvent.submit(form);
    await screen.findByText("1 broken now · 1 accepted");
    expect(asked).toContain("/api/watch/accepts");
    fireEvent.click(await screen.findByText("Call back"));
    await waitFor(() => expect(asked).toContain("/api/watch/accepts/a1"));
  });
});

describe("the words", () => {
  it("count what needs somebody", () => {
    const counts = { broken: 0, willBreak: 0, besides: 9, housekeeping: 9, accepted: 0 };
    expect(heading(counts)).toBe("No promise is broken or about to be");
    expect(heading({ ...counts, broken: 1, willBreak: 3, accepted: 2 })).toBe(
      "1 broken now · 3 will break · 2 accepted",
    );
    expect(heading({ ...counts, willBreak: 1 })).toBe("1 will break");
  });

  it("name three and count the rest", () => {
    const many = ["a", "b", "c", "d", "e"].map(named);
    expect(headline(finding({ databases: many, title: "its full failed" }))).toBe(
      "a, b, c and 2 more: its full failed",
    );
    expect(pathOf(finding({ code: "not-ready-rights" }))).toBe("/fleet/manifests/readiness");
  });

  it("take looks within half an hour for one", () => {
    const at = (text: string) => Date.parse(text);
    const first = looks(null, at("2026-11-20T09:00:00Z"));
    expect(first.before).toBeNull();
    const again = looks(first, at("2026-11-20T09:10:00Z"));
    expect(again).toEqual({ last: "2026-11-20T09:10:00Z", before: null });
    expect(looks(again, at("2026-11-23T09:00:00Z")).before).toBe("2026-11-20T09:10:00Z");
  });
});
