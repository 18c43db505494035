import { describe, expect, it } from "vitest";
import { assigned, databaseRecord, readLabels, readStopped, readTable } from "./records";

describe("a database as somebody states it", () => {
  it("lies over what was known", () => {
    expect(
      databaseRecord(
        { name: "Fares", engine: "", site: "northquay", labels: "class=sailings, tier=1", streams: "a, b" },
        { id: "fares", engine: "old", inServiceFrom: "2026-01-01T00:00:00Z", mood: "calm" },
      ),
    ).toEqual({
      type: "database",
      id: "fares",
      name: "Fares",
      site: "northquay",
      inServiceFrom: "2026-01-01T00:00:00Z",
      mood: "calm",
      labels: { class: "sailings", tier: "1" },
      streams: ["a", "b"],
    });
  });

  it.each([
    [{ name: " " }, "name"],
    [{ name: "x", zone: "Atlantis/Deep" }, "zone"],
    [{ name: "x", inServiceFrom: "soon" }, "inServiceFrom"],
    [{ name: "x", labels: "tall" }, "labels"],
    [{ name: "x", stopped: "yesterday/today" }, "stopped"],
  ])("%o is told at %s", (stated, field) => expect(databaseRecord(stated)).toMatchObject({ field }));

  it("reads labels and stopped stretches", () => {
    expect(readLabels("a=1; b:2")).toEqual({ a: "1", b: "2" });
    expect(readStopped("2026-11-20T20:00Z/2026-11-22T06:00Z, 2026-11-23T00:00Z/")).toEqual([
      { from: "2026-11-20T20:00:00Z", to: "2026-11-22T06:00:00Z" },
      { from: "2026-11-23T00:00:00Z" },
    ]);
  });
});

describe("a pasted table", () => {
  it("is taken with tabs or commas, good lines beside bad ones", () => {
    const tabs =
      "Name\tEngine\tTime zone\tColour\nferry-wifi\tPostgreSQL 16\tEurope/Lisbon\tblue\n\tMySQL\t\t\nx\t\tNowhere\t";
    const read = readTable(tabs);
    expect(read.records).toMatchObject([
      { id: "ferry-wifi", engine: "PostgreSQL 16", zone: "Europe/Lisbon" },
    ]);
    expect(read.bad.map((b) => [b.line, b.field])).toEqual([
      [3, "name"],
      [4, "zone"],
    ]);
    expect(read.unknown).toEqual(["Colour"]);
    expect(readTable('name,owner\n"a, b",Sales').records).toMatchObject([
      { id: "a-b", name: "a, b", owner: "Sales" },
    ]);
  });

  it("says of a database what its columns say, and nothing else", () => {
    expect(readTable("name,engine\nfares,PostgreSQL 16").records).toEqual([
      { type: "database", id: "fares", name: "fares", engine: "PostgreSQL 16" },
    ]);
  });

  it("does not take a name twice", () => {
    expect(readTable("name\na\na").bad).toEqual([
      { line: 3, field: "name", reason: "is the same database as in line 2" },
    ]);
  });
});

describe("the list", () => {
  it("assigns from a moment on, each with an id of its own", () => {
    const said = { from: "2026-11-23T00:00:00Z", by: "Maren", why: "" };
    const given = ["a", "b"].map((database) => ({ database, policy: "p", route: null }));
    const made = assigned(given, said) as { id: string; database: string; policy: string }[];
    expect(new Set(made.map((m) => m.id)).size).toBe(2);
    expect(made[1]).toMatchObject({ type: "assignment", database: "b", policy: "p", by: "Maren" });
    expect("policy" in (assigned([{ database: "a", policy: null, route: null }], said)[0] as object)).toBe(
      false,
    );
  });
});
