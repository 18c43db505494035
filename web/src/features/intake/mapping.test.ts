import { describe, expect, it } from "vitest";
import { asDocument, asTaken, fits, foreignWords, fromDocument, guess, isTable, sampleOf } from "./mapping";

const TABLE = `database;Type;started;Finish
bookings;COMPLETE;24/11/2026 03:10:00;24/11/2026 03:40:00
fares;full;24/11/2026 03:20:00;
tides;PART`;

describe("tables", () => {
  it("are told from fleet files by how they begin", async () => {
    const is = (text: BlobPart) => isTable(new File([text], "x"));
    expect(await is(TABLE)).toBe(true);
    expect(await is('{"type":"site","id":"a","name":"A, B"}')).toBe(false);
    expect(await is(new Uint8Array([0x1f, 0x8b, 1, 2]))).toBe(false);
    expect(await is("")).toBe(false);
    expect(await is("just words")).toBe(false);
  });

  it("are looked at up to the last whole row", () => {
    const part = sampleOf(TABLE, false);
    expect(part.columns).toEqual(["database", "Type", "started", "Finish"]);
    expect(part.rows.map((r) => r[0])).toEqual(["bookings", "fares"]);
    expect(sampleOf(TABLE, true).rows).toHaveLength(3);
  });

  it("are guessed at by the names of columns and the look of times", () => {
    const sample = sampleOf(TABLE, true);
    const mapping = guess(sample, "Europe/Lisbon");
    expect(mapping.columns).toEqual({
      database: "database",
      Type: "kind",
      started: "started",
      Finish: "ended",
    });
    expect(mapping.words).toEqual({ kind: { COMPLETE: "full" } });
    expect(mapping.pattern).toBe("dd/MM/yyyy HH:mm:ss");
    expect(mapping.zone).toBe("Europe/Lisbon");
    expect(fits(mapping, sample)).toBe(true);
    expect(fits({ ...mapping, columns: { Beginning: "started" } }, sample)).toBe(false);
    expect(foreignWords({ ...mapping, columns: { Type: "kind" } }, sample, "kind")).toEqual([
      "COMPLETE",
      "PART",
    ]);
  });

  it("may be runs and their backups, by what is commonly said of both", () => {
    const jobs = sampleOf(
      "DB Name,Backup_Type,Start,End,Status,Size (GB)\nberths,Incremental,2026-11-20 22:00:00,2026-11-20 22:10:00,Success,4\nberths,Full,2026-11-21 22:00:00,,Error,",
      true,
    );
    const mapping = guess(jobs, "UTC");
    expect(mapping.of).toBe("both");
    expect(mapping.columns).toEqual({
      "DB Name": "database",
      Backup_Type: "kind",
      Start: "started",
      End: "ended",
      Status: "outcome",
      "Size (GB)": "bytes:GB",
    });
    expect(mapping.words).toEqual({
      kind: { Incremental: "incr", Full: "full" },
      outcome: { Success: "ok", Error: "failed" },
    });
    expect(asDocument({ ...mapping, words: { database: { BERTHPRD: "" } } })).toMatchObject({
      words: { database: {} },
    });
  });

  it("are shown as they will be taken", () => {
    expect(
      asTaken([
        '{"type":"run","database":"berths","kind":"full","started":"2026-11-21T22:00:00Z","outcome":"failed","message":"no room"}',
        '{"type":"backup","database":"berths","kind":"incr","bytes":4000000000,"copies":[{"store":"near"}]}',
      ]).map((t) => [t.what, t.rest]),
    ).toEqual([
      ["run, failed", "no room"],
      ["backup", "4.0 GB; near"],
    ]);
  });

  it("are kept as a record that says the same when read again", () => {
    const mapping = { ...guess(sampleOf(TABLE, true), "UTC"), name: "Night ledger: Nº 2" };
    const document = asDocument(mapping);
    expect(document).toMatchObject({ type: "mapping", id: "night-ledger-n-2", name: "Night ledger: Nº 2" });
    expect(fromDocument(JSON.stringify(document))).toEqual({ ...mapping, id: "night-ledger-n-2" });
    expect(asDocument({ ...mapping, name: " " })).toMatchObject({ id: "unnamed" });
    expect(asDocument({ ...mapping, pattern: "" })).not.toHaveProperty("pattern");
  });
});
