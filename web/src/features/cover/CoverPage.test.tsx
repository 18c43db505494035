import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { behind, cover, holed, row } from "../../test-fleet";
import { renderAt } from "../../test-render";
import { CoverPage } from "./CoverPage";

const open = (rows = [row("bookings"), holed, behind], address = "/cover") =>
  renderAt(address, <CoverPage />, { "/api/cover": cover(rows) });

const line = (name: string) =>
  screen.getByRole("rowheader", { name: new RegExp(name) }).closest("tr") as HTMLElement;

describe("Cover", () => {
  it("says each database's age, promise and reach in words", async () => {
    open();
    await screen.findByText("manifests");
    expect(within(line("manifests")).getByText("50 h 6 min")).toBeInTheDocument();
    expect(within(line("manifests")).getByText("behind")).toBeInTheDocument();
    expect(within(line("bookings")).getByText("15 min")).toBeInTheDocument();
    expect(within(line("bookings")).getByText("10 d")).toBeInTheDocument();
  });

  it("gives every ribbon as text", async () => {
    open();
    await screen.findByText("berths");
    expect(within(line("berths")).getByRole("img")).toHaveAccessibleName(
      "restorable 1 Nov 00:00 – 4 Nov 00:00, not restorable 24 h, restorable 5 Nov 00:00 – 11 Nov 00:00",
    );
  });

  it("asks for the rows that do not come at once as far as they are seen", async () => {
    const { asked } = renderAt("/cover", <CoverPage />, {
      "/api/cover/rows": [holed],
      "/api/cover": { ...cover([row("ada"), holed]), rows: [row("ada")] },
    });
    await screen.findByText("ada");
    await screen.findByRole("rowheader", { name: /berths/ });
    expect(within(line("berths")).getByRole("img", { name: /not restorable 24 h/ })).toBeVisible();
    expect(asked.filter((path) => path.startsWith("/api/cover/rows"))).toHaveLength(1);
  });

  it("lists the first of a very large fleet, and more when asked", async () => {
    const large = cover([row("ada"), holed]);
    const { asked } = renderAt("/cover", <CoverPage />, {
      "/api/cover": {
        ...large,
        groups: [...large.groups, { title: "Kiosks", promise: "", found: 2_000, databases: [] }],
      },
    });
    fireEvent.click(await screen.findByRole("button", { name: /^List more of the 2.000 that follow$/ }));
    expect(screen.queryByText("Kiosks")).toBeNull();
    await waitFor(() => expect(asked.some((path) => /[?&]ids=4000(&|$)/.test(path))).toBe(true));
  });

  it("asks the server for what is wanted, in which groups and order", async () => {
    const { asked } = open([row("ada")], "/cover?grade=behind&by=site&order=age");
    await screen.findByText("ada");
    const query = new URLSearchParams(asked.find((a) => a.startsWith("/api/cover?"))?.split("?")[1]);
    expect(Object.fromEntries(query)).toMatchObject({ grade: "behind", by: "site", order: "age", words: "" });
  });

  it("explains the stretch stepped to with the arrow keys", async () => {
    open();
    await screen.findByText("berths");
    fireEvent.focus(line("berths"));
    fireEvent.keyDown(line("berths"), { key: "ArrowRight" });
    fireEvent.keyDown(line("berths"), { key: "ArrowRight" });
    const card = screen.getByRole("tooltip");
    expect(card).toHaveTextContent("24 h that cannot be restored. Logs 100 – 200 were never backed up");
    expect(card).toHaveTextContent("It leaves reach on 22 Nov.");
    fireEvent.keyDown(line("berths"), { key: "Escape" });
    expect(screen.queryByRole("tooltip")).toBeNull();
  });

  it("moves with j and k and opens with enter, keeping the moment looked from", async () => {
    open([row("ada"), row("bea")], "/cover?asOf=2026-11-11T00:00:00Z");
    await screen.findByText("ada");
    fireEvent.keyDown(window, { key: "j" });
    fireEvent.keyDown(window, { key: "j" });
    expect(line("bea")).toHaveFocus();
    fireEvent.keyDown(window, { key: "k" });
    expect(line("ada")).toHaveFocus();
    fireEvent.keyDown(line("ada"), { key: "Enter" });
    expect(screen.getByTestId("address")).toHaveTextContent("/databases/ada?asOf=2026-11-11T00%3A00%3A00Z");
  });

  it("judges by the hazard chosen, in the address", async () => {
    open([row("ada")]);
    await screen.findByText("ada");
    expect(within(line("ada")).getByText("5 min")).toBeInTheDocument();
    fireEvent.keyDown(window, { key: "3" });
    expect(within(line("ada")).getAllByText("15 min")).toHaveLength(2);
    expect(screen.getByTestId("address")).toHaveTextContent("hazard=sabotage");
  });

  it("orders by age over objective when asked", async () => {
    const { asked } = open([row("ada"), behind]);
    await screen.findByText("ada");
    fireEvent.click(screen.getByRole("button", { name: /age now/ }));
    await waitFor(() => expect(asked.some((a) => a.includes("order=age"))).toBe(true));
    expect(screen.getByTestId("address")).toHaveTextContent("order=age");
  });

  it("says what to do where there is nothing yet", async () => {
    open([]);
    expect(await screen.findByText("No databases yet")).toBeInTheDocument();
    expect(screen.getByRole("button", { name: "Choose a file" })).toBeInTheDocument();
  });

  it("says what went wrong, what is unharmed and what to do", async () => {
    renderAt("/cover", <CoverPage />);
    expect(await screen.findByRole("alert")).toHaveTextContent("There is nothing at this address.");
  });
});
