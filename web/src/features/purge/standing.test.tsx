import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { renderAt, signedIn } from "../../test-render";
import type { StandingEntry, StandingRow, Terms, Trial } from "./standing";
import { said } from "./standing";
import { StandingPurgesPage } from "./StandingPurgesPage";

const terms: Terms = {
  policy: "kiosks",
  obsoleteFor: "P7D",
  copies: 200,
  bytes: 5e11,
  from: "22:00",
  to: "05:00",
  zone: "Europe/Lisbon",
  pausedBy: "will-break",
};

const entry = (change: Partial<StandingEntry> = {}): StandingEntry => ({
  num: 4,
  terms,
  hash: "h4",
  reason: "the store fills up",
  by: "ines",
  at: "2026-11-19T09:00:00Z",
  agreedBy: null,
  agreedAt: null,
  may: [],
  flaw: "",
  ...change,
});

const row = (change: Partial<StandingRow> = {}): StandingRow => ({
  policy: "kiosks",
  name: "Kiosks",
  followers: 3,
  approvals: 1,
  inForce: null,
  proposed: null,
  nights: [],
  ...change,
});

const trial: Trial = {
  nights: [
    { date: "2026-11-17", opens: "2026-11-17T22:00:00Z", copies: 2, bytes: 1e10, pausedBy: "" },
    { date: "2026-11-18", opens: "2026-11-18T22:00:00Z", copies: 0, bytes: 0, pausedBy: "fares is behind" },
  ],
  copies: 2,
  bytes: 1e10,
  databases: 3,
  others: 0,
  left: 5,
  leftBytes: 2e9,
  flaws: [],
  first: [
    {
      date: "2026-11-17",
      database: "fares",
      name: "fares",
      backup: "f-1",
      kind: "full",
      storeName: "Quay near",
      bytes: 9e9,
      why: "f-9 contains what the rules need",
    },
  ],
};

type Sent = { path: string; body: unknown }[];

/** The page for somebody who may do some things; what it sends goes into the list. */
function show(rows: StandingRow[], can: string[], gives: Trial = trial): Sent {
  const session = signedIn();
  renderAt("/purge/standing", <StandingPurgesPage />, {
    "/api/session": { ...session, person: { ...session.person, can } },
  });
  const sent: Sent = [];
  vi.stubGlobal("fetch", async (asked: Request) => {
    const path = new URL(asked.url).pathname;
    if (asked.method === "POST") sent.push({ path, body: JSON.parse((await asked.text()) || "null") });
    if (/(agree|withdraw)$/.test(path)) return new Response(null, { status: 204 });
    const answer = path.endsWith("/trial") ? gives : asked.method === "POST" ? { num: 5 } : rows;
    return new Response(JSON.stringify(answer), { headers: { "content-type": "application/json" } });
  });
  return sent;
}

describe("what terms say", () => {
  it("is said in a sentence", () => {
    expect(said(terms)).toBe(
      "What no rule has needed for 7 days goes by itself: at most 200 copies and 500 GB a night, 22:00 to 05:00 (Europe/Lisbon), and nothing while a promise is broken or will break.",
    );
    expect(said({ ...terms, to: "22:00" })).toContain("a night, at any hour (Europe/Lisbon)");
    expect(said({ ...terms, obsoleteFor: "PT0S", copies: 1, pausedBy: "broken" })).toContain(
      "What no rule needs goes by itself: at most 1 copy",
    );
  });
});

describe("standing purges", () => {
  it("are proposed once one has seen what they would have done", async () => {
    const sent = show([row()], ["keeper"]);
    fireEvent.click(await screen.findByRole("button", { name: "Propose one" }));
    fireEvent.change(screen.getByLabelText("Why may it go by itself?"), { target: { value: "room" } });
    expect(screen.getByRole("button", { name: "Propose it" })).toBeDisabled();
    fireEvent.click(screen.getByRole("button", { name: "See what it would have done" }));
    const tried = await screen.findByTestId("trial");
    expect(tried).toHaveTextContent("In the last 2 nights 2 copies would have gone, 10 GB.");
    expect(tried).toHaveTextContent("5 copies more, 2.0 GB, would still wait their turn.");
    expect(tried).toHaveTextContent("One night would have been left out, the last for: fares is behind.");
    expect(tried).toHaveTextContent("Everything that today's rules and promises need would still be there.");
    fireEvent.change(screen.getByLabelText("Copies a night, at most"), { target: { value: "7" } });
    expect(screen.queryByTestId("trial")).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "See what it would have done" }));
    await screen.findByTestId("trial");
    fireEvent.click(screen.getByRole("button", { name: "Propose it" }));
    await waitFor(() => expect(sent.at(-1)?.path).toBe("/api/standing-purges"));
    expect(sent.at(-1)?.body).toMatchObject({
      terms: { policy: "kiosks", copies: 7, obsoleteFor: "P7D" },
      reason: "room",
    });
  });

  it("name what today's rules would miss", async () => {
    show([row({ proposed: entry() })], ["viewer"], { ...trial, flaws: ["fares: a moment would be lost"] });
    expect(await screen.findByRole("alert")).toHaveTextContent("fares: a moment would be lost");
    expect(screen.queryByRole("button", { name: /Put it in force|Withdraw it|Propose/ })).toBeNull();
  });

  it("are put in force by who may, with the hash of what was seen", async () => {
    const sent = show([row({ proposed: entry({ may: ["agree"] }) })], ["approver"]);
    const waiting = await screen.findByTestId("waiting");
    await within(waiting).findByTestId("trial");
    fireEvent.click(within(waiting).getByRole("button", { name: "Put it in force" }));
    await waitFor(() =>
      expect(sent.at(-1)).toEqual({ path: "/api/standing-purges/4/agree", body: { hash: "h4" } }),
    );
  });

  it("tell what became of their nights, and are withdrawn", async () => {
    const sent = show(
      [
        row({
          inForce: entry({ agreedBy: "tomas", agreedAt: "2026-11-19T10:00:00Z", may: ["withdraw"] }),
          nights: [
            {
              date: "2026-11-19",
              purge: null,
              state: null,
              copies: 0,
              bytes: 0,
              said: "paused by a finding: x",
            },
            { date: "2026-11-18", purge: "purge-1", state: "done", copies: 12, bytes: 3e11, said: "" },
          ],
        }),
        row({ policy: "fuel", name: "Fuel", approvals: 2 }),
      ],
      ["keeper"],
    );
    const kiosks = await screen.findByRole("region", { name: "Kiosks" });
    expect(kiosks).toHaveTextContent("paused by a finding: x");
    expect(within(kiosks).getByRole("link", { name: "12 copies, 300 GB" })).toHaveAttribute(
      "href",
      "/purge/purge-1",
    );
    expect(screen.getByRole("region", { name: "Fuel" })).toHaveTextContent("the policy asks for 2 approvals");
    fireEvent.click(within(kiosks).getByRole("button", { name: "Withdraw it" }));
    await waitFor(() => expect(sent.at(-1)?.path).toBe("/api/standing-purges/4/withdraw"));
  });
});
