import { describe, expect, it } from "vitest";
import { behind, holed, row } from "../../test-fleet";
import { choicesOf, chosenRows, filterOf, NO_POLICY } from "./filter";

const rows = [
  row("bookings", { labels: ["class: sailings", "tier: 1"], owner: "harbour office" }),
  row("fares", { labels: ["class: sailings"], engine: "MariaDB 11" }),
  row("moorings", { policy: null, site: "" }),
  holed,
  behind,
];
const asked = (search: string) => chosenRows(rows, filterOf(new URLSearchParams(search))).map((r) => r.name);

describe("what of the fleet is asked for", () => {
  it("is all of it where nothing is", () => {
    expect(asked("")).toEqual(rows.map((r) => r.name));
  });

  it("needs every word, in a name or in what the database has", () => {
    expect(asked("words=SAILINGS+harbour")).toEqual(["bookings"]);
    expect(asked("words=mariadb")).toEqual(["fares"]);
    expect(asked("words=nowhere")).toEqual([]);
  });

  it("goes by label, owner, grade, policy and site together", () => {
    expect(asked("label=class%3A+sailings")).toEqual(["bookings", "fares"]);
    expect(asked("label=owner%3A+harbour+office")).toEqual(["bookings"]);
    expect(asked(`policy=${NO_POLICY.replace(" ", "+")}`)).toEqual(["moorings"]);
    expect(asked("grade=behind")).toEqual([behind.name]);
    expect(asked("site=no+site&grade=covered")).toEqual(["moorings"]);
    expect(asked("site=no+site&grade=behind")).toEqual([]);
  });

  it("offers what there is, with how many have it", () => {
    expect(choicesOf(rows, "label")).toEqual([
      ["class: sailings", 2],
      ["owner: harbour office", 1],
      ["tier: 1", 1],
    ]);
    expect(choicesOf(rows, "grade").reduce((n, [, of]) => n + of, 0)).toBe(rows.length);
  });
});
