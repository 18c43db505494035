import { fireEvent, screen, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { behind, cover, row } from "../../test-fleet";
import { renderAt } from "../../test-render";
import { RestorePage } from "./RestorePage";

describe("where nothing is chosen to restore", () => {
  it("lists what the server says is furthest from its promise first, and leads there", async () => {
    const kept = row("tides");
    const stranded = row("webshop", { grade: "stranded", water: [] });
    renderAt("/restore?period=P7D", <RestorePage />, {
      "/api/cover": cover([stranded, behind, kept]),
    });
    const list = await screen.findByRole("region", { name: "What may need it most" });
    const names = within(list)
      .getAllByRole("button")
      .map((b) => b.textContent);
    expect(names).toEqual(["manifests", "tides"]);
    expect(list).toHaveTextContent("behind, 50 h 6 min old");
    fireEvent.click(within(list).getByRole("button", { name: "manifests" }));
    expect(screen.getByTestId("address")).toHaveTextContent("/restore?period=P7D&database=manifests");
  });
});
