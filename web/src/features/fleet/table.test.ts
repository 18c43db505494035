import { describe, expect, it } from "vitest";
import { databasesOf, guess, readTable, type Column } from "./table";

const all = (text: string, said: Record<string, Column> = {}) =>
  databasesOf(readTable(text), (h) => said[h] ?? guess(h));

describe("a pasted table", () => {
  it.each<[string, Column]>([
    ["Server", "host"],
    ["DB name", "name"],
    ["Version", "version"],
    ["Environment", "label:environment"],
    ["Size (GB)", "sizeBytes:GB"],
    ["Database size MiB", "sizeBytes:MiB"],
    ["Time zone", "zone"],
    ["Team", "owner"],
    ["Colour", ""],
  ])("takes the heading %s for what it most likely is", (heading, column) =>
    expect(guess(heading)).toBe(column),
  );

  it("is taken with tabs or commas, good lines beside bad ones", () => {
    const read = all(
      "Name\tEngine\tTime zone\tColour\nferry-wifi\tPostgreSQL 16\tEurope/Lisbon\tblue\n\tMySQL\t\t\nx\t\tNowhere\t",
    );
    expect(read.records).toEqual([
      {
        type: "database",
        id: "ferry-wifi",
        name: "ferry-wifi",
        engine: "PostgreSQL 16",
        zone: "Europe/Lisbon",
      },
    ]);
    expect(read.lines).toEqual([2]);
    expect(read.bad.map((b) => [b.line, b.field])).toEqual([
      [3, "name"],
      [4, "zone"],
    ]);
    expect(all('name,owner\n"a, b",Sales').records).toMatchObject([
      { id: "a-b", name: "a, b", owner: "Sales" },
    ]);
  });

  it("puts engine and version, sizes and their units, labels and their names together", () => {
    const text =
      "instance,dbms,version,size GB,env,colour\nfares,PostgreSQL,16,40,test,blue\nwifi,MariaDB 11,11,,prod,";
    expect(all(text, { colour: "label:colour" }).records).toMatchObject([
      { engine: "PostgreSQL 16", sizeBytes: 4e10, labels: { environment: "test", colour: "blue" } },
      { engine: "MariaDB 11", labels: { environment: "prod" } },
    ]);
  });

  it("does not take a name twice", () => {
    expect(all("name\na\na").bad).toEqual([
      { line: 3, field: "name", reason: "is the same database as in line 2" },
    ]);
  });
});
