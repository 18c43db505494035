import { describe, expect, it } from "vitest";
import { kindsWords, readKinds } from "./kinds";
import { sentences } from "./sentences";

describe("kinds", () => {
  it("are read as they are typed, in their order", () => {
    expect(readKinds("full, diff")).toEqual(["full", "diff"]);
    expect(readKinds("config backup, then fulls")).toEqual(["config", "full"]);
    expect(readKinds("Incremental or differential")).toEqual(["incr", "diff"]);
    expect(readKinds("logs")).toEqual(["log"]);
    expect(readKinds("full full")).toEqual(["full"]);
  });

  it("are nothing else", () => {
    for (const typed of ["", "then", "fully", "diffs and more", "incremental, tape"])
      expect(readKinds(typed)).toBeNull();
  });

  it("are read again as they are written", () => {
    for (const kinds of [["full"], ["incr", "config"], ["full", "diff", "incr", "config", "log"]])
      for (const between of [", then ", " or "]) expect(readKinds(kindsWords(kinds, between))).toEqual(kinds);
  });
});

describe("how backups are taken", () => {
  it("is read aloud", () => {
    const said = sentences({
      rateLimits: [
        { bytesPerSecond: 5e7, hours: "closed" },
        { bytesPerSecond: 2e7, days: ["MO"], from: "08:00", store: "far", host: "pier" },
      ],
      order: ["full", "config"],
      then: [{ after: ["full", "incr"], take: "log", within: "PT30M" }],
      sourceLogs: { deletedBy: "runner", afterCopies: 2 },
    }).map((s) => s.text);
    expect(said).toContain("A run writes at most 50 MB/s in all but the open hours.");
    expect(said).toContain(
      "A run writes at most 20 MB/s into far from pier in all hours, every Monday from 08:00 to 24:00.",
    );
    expect(said).toContain("Of kinds due at once first full, then config backup.");
    expect(said).toContain(
      "After each full or incremental that succeeds, a log backup follows within 30 min.",
    );
    expect(said).toContain("The runner deletes source logs after 2 copies.");
  });
});
