import { expect, test } from "vitest";
import { meant, written } from "./positions";

test("a position is written as its engine does", () => {
  expect(written("postgresql", 0x1a2b3c4d)).toBe("0/1A2B3C4D");
  expect(written("postgresql", 3 * 2 ** 32 + 16)).toBe("3/10");
  expect(written("mariadb", 3 * 2 ** 32 + 4711)).toBe(".000003:4711");
  expect(written("Quaystone 14", 5000)).toBe("5000");
  expect(written(null, 5000)).toBe("5000");
});

test("what is typed is understood in whichever writing", () => {
  expect(meant("5000")).toBe("5000");
  expect(meant("3/10")).toBe(String(3 * 2 ** 32 + 16));
  expect(meant("ff/FFFFFFFF")).toBe(String(0xff * 2 ** 32 + 0xffffffff));
  expect(meant("binlog.000003:4711")).toBe(String(3 * 2 ** 32 + 4711));
  for (const none of ["", "x", "3/", "3/1/1", "binlog.3:1", "binlog.000003:9999999999", "-1"]) {
    expect(meant(none)).toBeNull();
  }
});

test("what is written is understood", () => {
  for (const n of [0, 1, 2 ** 32 - 1, 2 ** 32, 7 * 2 ** 32 + 12345]) {
    expect(meant(written("postgresql", n))).toBe(String(n));
    expect(meant(written("mariadb", n))).toBe(String(n));
  }
});
