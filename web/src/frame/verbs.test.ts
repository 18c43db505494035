import { describe, expect, it } from "vitest";
import type { Row } from "../api/types";
import { row as anyRow } from "../test-fleet";
import { named, verbs } from "./verbs";

const row = (id: string, grade: Row["grade"] = "covered"): Row => anyRow(id, { name: id, grade });
const rows = [row("bookings", "stranded"), row("bookings-old")];
const graded = [{ value: "stranded", databases: 1 }];
const keys = (words: string) => verbs(words, rows, graded, "?asOf=2026-11-24T09:00:00Z").map((v) => v.key);

describe("verbs", () => {
  it("start and restore what is named", () => {
    expect(keys("start book")).toEqual(["start bookings", "start bookings-old"]);
    expect(keys("restore book")).toEqual(["restore bookings", "restore bookings-old"]);
    expect(keys("restore")).toEqual([]);
    expect(verbs("start nobody", [], graded, "")).toEqual([]);
  });

  it("leave what they are about to be found", () => {
    expect(named("start  Be rths ")).toBe("Be rths");
    expect(named("restore")).toBe("restore");
    expect(named("berths start")).toBe("berths start");
    expect(named("")).toBe("");
  });

  it("keep the moment that is looked from", () => {
    expect(verbs("restore bookings", rows, graded, "?asOf=2026-11-24T09:00:00Z")[0]).toMatchObject({
      path: "/restore?database=bookings&asOf=2026-11-24T09:00:00Z",
    });
  });

  it("show what has a grade, with how many there are", () => {
    expect(verbs("stranded", rows, graded, "")).toEqual([
      {
        key: "grade stranded",
        text: "Databases that are stranded",
        note: "1",
        path: "/cover?grade=stranded",
      },
    ]);
  });

  it("change the colours", () => {
    expect(keys("dark")).toEqual(["dark"]);
    expect(keys("light")).toEqual(["light"]);
    expect(keys("")).toEqual([]);
  });
});
