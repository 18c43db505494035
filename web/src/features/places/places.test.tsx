import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { renderAt, signedIn } from "../../test-render";
import type { Place, PlacesView } from "./api";
import { PlacesPage } from "./PlacesPage";
import { storeDocument, storeFlaw, storeValues } from "./store";

const nobody = { stores: [], routes: [], standing: [], databases: [], databasesAll: 0 };

const place = (id: string, name: string, document: object, change: Partial<Place> = {}): Place => ({
  id,
  name,
  retired: null,
  document: { id, name, ...document },
  usedBy: nobody,
  ...change,
});

const places: PlacesView = {
  sites: [
    place("north", "Northquay", {}, { usedBy: { ...nobody, stores: ["Quay near"] } }),
    place("old", "Old quay", {}, { retired: "2026-11-20T00:00:00Z" }),
  ],
  stores: [
    place("near", "Quay near", { site: "north", role: "near", medium: "disk", capacityBytes: 8e12 }),
    place("far", "Harbour far", { role: "far", lockable: true, readBytesPerSecond: 2e8 }),
  ],
  routes: [
    place(
      "north",
      "From Northquay",
      { data: ["near"], log: [], copies: ["far"] },
      { usedBy: { ...nobody, databases: ["bookings", "fares"], databasesAll: 7 } },
    ),
  ],
};

const show = (answers: object = {}) =>
  renderAt("/fleet/places", <PlacesPage />, { "/api/places": places, ...answers });

describe("places", () => {
  it("say what is known of each, and who goes by it", async () => {
    show();
    const stores = await screen.findByRole("region", { name: "Stores" });
    expect(stores).toHaveTextContent(
      "near · at Northquay · disk · 8.0 TB · read at no stated rate · locks nothing",
    );
    expect(stores).toHaveTextContent("far · at no site · no limit known · read at 200 MB/s · locks copies");
    const sites = screen.getByRole("region", { name: "Sites" });
    expect(sites).toHaveTextContent("In use by the store Quay near.");
    expect(within(sites).queryByText(/Retire/)).toBeNull();
    expect(sites).not.toHaveTextContent("Old quay");
    expect(screen.getByRole("region", { name: "Retired" })).toHaveTextContent("The site Old quay");
  });

  it("are retired once nothing goes by them", async () => {
    const { asked } = show({ "/api/places/store/far/retired": places });
    fireEvent.click(await screen.findByLabelText("Retire Harbour far"));
    await waitFor(() => expect(asked).toContain("/api/places/store/far/retired"));
  });

  it("are only read by who may not plan", async () => {
    show({ "/api/session": signedIn({ person: { id: "v", name: "V", can: ["viewer"] } }) });
    await screen.findByRole("region", { name: "Stores" });
    expect(screen.queryByText("Add a store…")).toBeNull();
    expect(screen.queryByLabelText("Edit Quay near")).toBeNull();
    expect(screen.queryByLabelText("Retire Harbour far")).toBeNull();
    expect(screen.queryByLabelText("From Northquay: data: add")).toBeNull();
    expect(screen.queryByLabelText("A new route named")).toBeNull();
  });
});

describe("routes", () => {
  it("are read aloud, changed where they stand, and begun by name", async () => {
    show();
    const route = await screen.findByRole("region", { name: "From Northquay" });
    expect(route).toHaveTextContent("Data backups go toQuay nearRemove");
    expect(route).toHaveTextContent("Logs go towhere data goes");
    expect(route).toHaveTextContent("In use by the databases bookings, fares; 5 databases more.");
    expect(within(route).queryByText("Keep")).toBeNull();
    fireEvent.change(within(route).getByLabelText("From Northquay: data: add"), { target: { value: "far" } });
    expect(route).toHaveTextContent("Quay nearRemoveelse toHarbour far");
    expect(within(route).getByText("Keep")).toBeEnabled();
    fireEvent.click(within(route).getByText("As it was"));
    expect(within(route).queryByText("Keep")).toBeNull();

    fireEvent.change(screen.getByLabelText("A new route named"), { target: { value: "From Northquay" } });
    expect(screen.getByText("Begin it")).toBeDisabled();
    fireEvent.change(screen.getByLabelText("A new route named"), { target: { value: "From the light" } });
    fireEvent.click(screen.getByText("Begin it"));
    const fresh = screen.getByRole("region", { name: "From the light" });
    expect(within(fresh).getByText("Keep")).toBeDisabled();
    expect(fresh).toHaveTextContent("Without a first store");
  });
});

describe("a store", () => {
  const before = {
    type: "store",
    id: "near",
    name: "Quay near",
    site: "north",
    capacityBytes: 8e12,
    minimumStay: "P30D",
    rack: "b7",
  };

  it("is said as a whole: what is emptied is no longer so, what nobody asks for stays", () => {
    const values = storeValues(before);
    expect(values).toMatchObject({ capacity: "8", stay: "30", reads: "", locks: false, role: "" });
    expect(storeDocument(values, before)).toEqual({ ...before, lockable: false, givesWay: "refuse-new" });
    const emptied = storeDocument({ ...values, site: "", capacity: " ", stay: "0.5", reads: "250" }, before);
    expect(emptied).not.toHaveProperty("site");
    expect(emptied).not.toHaveProperty("capacityBytes");
    expect(emptied).toMatchObject({
      id: "near",
      rack: "b7",
      minimumStay: "PT12H",
      readBytesPerSecond: 2.5e8,
    });
  });

  it("has a name, and amounts that are amounts", () => {
    const values = storeValues({});
    expect(values.role).toBe("near");
    expect(storeFlaw(values)).toBe("what it is called");
    expect(storeFlaw({ ...values, name: "Island" })).toBe("");
    expect(storeFlaw({ ...values, name: "Island", capacity: "8 TB" })).toMatch(/capacity/);
    expect(storeFlaw({ ...values, name: "Island", reads: "0" })).toMatch(/MB a second/);
    expect(storeFlaw({ ...values, name: "Island", stay: "-1" })).toMatch(/days/);
    expect(storeDocument({ ...values, name: "Island shelf" }, null)).toMatchObject({
      id: "Island-shelf",
      role: "near",
    });
  });
});
