import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { describe, expect, it } from "vitest";
import { backups, database, holed, finding } from "../../test-fleet";
import { renderAt } from "../../test-render";
import { WhyProvider } from "../../why/WhyPanel";
import { Aside } from "./Aside";
import { DatabasePage } from "./DatabasePage";
import { Lineages } from "./Lineages";
import { Shelves } from "./Shelves";
import { SlotsChart } from "./SlotsChart";

const why = {
  title: "Why needed",
  answer: [
    { words: "Taken ", moment: null, seconds: null },
    { words: null, moment: "2026-11-01T00:00:00Z", seconds: null },
    { words: " and kept ", moment: null, seconds: null },
    { words: null, moment: null, seconds: 7200 },
  ],
  facts: [
    { label: "locked until", id: "berths-full-2", at: "2026-11-30T00:00:00Z", note: "nobody can delete it" },
  ],
  rule: "A copy is needed while any rule asks for it.",
  section: "Retention",
};

const open = (of = holed) =>
  renderAt(
    `/databases/${of.id}`,
    <WhyProvider>
      <Routes>
        <Route path="/databases/:id" element={<DatabasePage />} />
      </Routes>
    </WhyProvider>,
    {
      [`/api/databases/${of.id}`]: database(of),
      [`/api/databases/${of.id}/backups`]: backups,
      [`/api/databases/${of.id}/why`]: why,
    },
  );

describe("a database", () => {
  it("shows what was promised and achieved, and its gaps", async () => {
    open();
    expect(await screen.findByRole("heading", { name: "berths" })).toBeInTheDocument();
    expect(screen.getByTestId("promised")).toHaveTextContent("within objective98.7 %");
    expect(screen.getByTestId("gap")).toHaveTextContent(
      "Logs 100 – 200 were never backed up; berths-full-2 begins cover",
    );
    expect(screen.getByTestId("copies")).toHaveTextContent("obsolete603.0 GB");
  });

  it("says what the way back would take, against what is promised of it", () => {
    const shown = database(holed);
    renderAt("/", <Aside data={shown} onHold={() => {}} />);
    expect(screen.getByTestId("way-back")).toHaveTextContent(
      "To Wed 11 Nov, 00:00: 1 full, 2 incrementals, then 38 logs of 1.2 GB to replay." +
        "About 34 min; 2 h promised.",
    );
  });

  it("says where a way back is longer than promised, or its length not wholly known", () => {
    const shown = database(holed);
    const way = { ...(shown.wayBack as NonNullable<typeof shown.wayBack>), seconds: 9000, complete: false };
    renderAt("/", <Aside data={{ ...shown, wayBack: way }} onHold={() => {}} />);
    expect(screen.getByText(/At least 2 h 30 min; not every/)).toHaveClass("text-coral-text");
  });

  it("compares runs with slots, and logs with their interval", () => {
    renderAt("/", <SlotsChart data={database(holed)} width={800} labels={80} />);
    const slots = screen.getByTestId("slots");
    expect(slots).toHaveTextContent("1 on-time, 1 failed, 1 missed.");
    expect(screen.getByTestId("cadence")).toHaveTextContent(
      /once, 143 landings were missed:.*4 Nov.*143 missed/,
    );
    expect(slots.querySelector("[data-verdict='missed']")).not.toBeNull();
  });

  const drawn = () =>
    renderAt(
      "/",
      <WhyProvider>
        <SlotsChart data={database(holed)} width={800} labels={80} />
        <Shelves data={database(holed)} width={800} labels={80} />
      </WhyProvider>,
      { [`/api/databases/${holed.id}/why`]: why },
    );

  it("shows the shelf and asks why a backup lies there", async () => {
    const { asked } = drawn();
    const kept = within(screen.getByTestId("shelf")).getByRole("button", { name: /full-kept.*held/ });
    fireEvent.keyDown(kept, { key: "Enter" });
    expect(await screen.findByTestId("why")).toBeInTheDocument();
    await waitFor(() => expect(asked.at(-1)).toContain("about=copy&backup=full-kept&store=n1"));
  });

  it("asks why of slots and of missed logs", async () => {
    const { asked } = drawn();
    fireEvent.click(within(screen.getByTestId("slots")).getByRole("button", { name: /missed. Why/ }));
    await waitFor(() => expect(asked.at(-1)).toContain("about=slot&schedule=nightly&at=2026-11-04T22"));
    fireEvent.click(within(screen.getByTestId("cadence")).getByText("Why?"));
    await waitFor(() =>
      expect(asked.at(-1)).toContain("about=cadence&schedule=logs&stream=main&at=2026-11-04"),
    );
  });

  it("tells of lineages and streams where there is more than one", () => {
    const data = database(holed);
    const forked = {
      id: "2",
      parent: "1",
      openedAt: "2026-11-04T10:20:00Z",
      until: null,
      forks: [{ stream: "main", position: 150 }],
    };
    const { container } = renderAt(
      "/",
      <Lineages data={{ ...data, lineages: [...data.lineages, forked], streams: ["east", "west"] }} />,
    );
    expect(container).toHaveTextContent("2 log streams: east, west");
    expect(container).toHaveTextContent("2 forked from 1 at 150 in main");
    expect(renderAt("/", <Lineages data={data} />).container).not.toHaveTextContent("Lineages");
  });

  it("names records that contradict one another, and breaches", () => {
    const data = database(holed);
    const wrong = finding({ action: "Correct landed or gone.", facts: ["berths-full-2"] });
    const breach = { from: "2026-11-03T00:00:00Z", to: "2026-11-03T05:00:00Z", worstSeconds: 18_000 };
    const channels = data.channels.map((c) => ({ ...c, breaches: [breach] }));
    renderAt("/", <Aside data={{ ...data, findings: [wrong], channels }} onHold={() => {}} />);
    expect(screen.getByTestId("findings")).toHaveTextContent("Correct landed or gone.berths-full-2");
    expect(screen.getByTestId("breaches")).toHaveTextContent("at worst 5 h");
  });

  it("lists copies with their verdicts and first reasons", async () => {
    open();
    const table = await screen.findByTestId("backups");
    expect(within(table).getByText("newest way back, inside reach and 1 more")).toBeInTheDocument();
    expect(within(table).getByText("no rule asks for it")).toBeInTheDocument();
    expect(screen.getByText("1 to 50 of 62")).toBeInTheDocument();
  });

  it("asks the server for the verdict and page chosen", async () => {
    const { asked } = open();
    await screen.findByTestId("backups");
    fireEvent.click(screen.getByRole("button", { name: "Older" }));
    await waitFor(() => expect(asked.at(-1)).toContain("offset=50"));
    fireEvent.click(screen.getByRole("button", { name: /obsolete 60/ }));
    await waitFor(() => expect(asked.at(-1)).toContain("verdict=obsolete&offset=0"));
  });

  it("answers why a copy is needed, with moments and durations in words", async () => {
    const { asked } = open();
    const table = await screen.findByTestId("backups");
    fireEvent.click(within(table).getByRole("button", { name: "needed" }));
    const panel = await screen.findByTestId("why");
    await within(panel).findByText("locked until");
    expect(panel).toHaveTextContent("Taken Sun 1 Nov, 00:00 and kept 2 h");
    expect(panel).toHaveTextContent("docs/semantics.md, Retention");
    expect(asked.at(-1)).toContain("about=copy&backup=berths-full-2&store=n1");
    fireEvent.click(within(panel).getByRole("button", { name: "Close" }));
    await waitFor(() => expect(screen.queryByTestId("why")).toBeNull());
  });

  it("answers w for what has focus", async () => {
    const { asked } = open();
    const promised = await screen.findByTestId("promised");
    within(promised).getAllByRole("button")[1]?.focus();
    fireEvent.keyDown(window, { key: "w" });
    await screen.findByTestId("why");
    await waitFor(() => expect(asked.at(-1)).toContain("about=age&hazard=siteLoss"));
  });
});
