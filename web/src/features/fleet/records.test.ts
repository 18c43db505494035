import { describe, expect, it } from "vitest";
import { assigned, databaseRecord, readLabels, readSize, readStopped, sizeText } from "./records";

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

describe("sizes", () => {
  it.each<[string, number | null]>([
    ["500 GB", 5e11],
    ["1.2TB", 1.2e12],
    ["1,5 tb", 1.5e12],
    ["2 GiB", 2 ** 31],
    ["40 G", 4e10],
    ["1200", 1200],
    ["big", null],
    ["-4 GB", null],
  ])("%s", (text, bytes) => expect(readSize(text)).toBe(bytes));

  it("come out as they went in", () => {
    for (const bytes of [5e11, 1.2e12, 1234567, 2 ** 31, 999, 1.234e9])
      expect(readSize(sizeText(bytes))).toBe(bytes);
  });

  it("are said of a database, or refused there", () => {
    expect(databaseRecord({ name: "a", sizeBytes: "40 GB" })).toMatchObject({ sizeBytes: 4e10 });
    expect(databaseRecord({ name: "a", sizeBytes: "much" })).toMatchObject({ field: "sizeBytes" });
    expect(databaseRecord({ name: "a", sizeBytes: "" }, { id: "a", sizeBytes: 7 })).not.toHaveProperty(
      "sizeBytes",
    );
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
