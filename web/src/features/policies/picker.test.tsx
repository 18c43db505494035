import { fireEvent, render, screen } from "@testing-library/react";
import { createRef } from "react";
import { describe, expect, it } from "vitest";
import { pickRule, ruleOf, type Picked } from "./picked";
import { kindOf, readDates, RulePicker } from "./RulePicker";
import { countsFrom } from "./recurrence";

function show(rule: string) {
  const taken: string[] = [];
  const pick = (p: Picked, from: string) => taken.push(`${ruleOf(p)}${p.every > 1 ? ` from ${from}` : ""}`);
  const first = createRef<HTMLSelectElement>();
  render(<RulePicker first={first} rule={rule} is={pickRule(rule)} anchor="2026-03-07" onPick={pick} />);
  return taken;
}

const type = (label: string, text: string) => {
  const field = screen.getByLabelText(label);
  fireEvent.change(field, { target: { value: text } });
  fireEvent.keyDown(field, { key: "Enter" });
};

const SATURDAYS = "FREQ=WEEKLY;BYDAY=SA;BYHOUR=22;BYMINUTE=40";

describe("picking a recurrence", () => {
  it("changes days, weeks and times where they stand", () => {
    const taken = show(SATURDAYS);
    fireEvent.click(screen.getByLabelText("Wed"));
    type("Times", "6:15");
    type("Every how many weeks", "2");
    expect(taken[0]).toBe("FREQ=WEEKLY;BYDAY=WE,SA;BYHOUR=22;BYMINUTE=40");
    expect(taken[1]).toBe("FREQ=WEEKLY;BYDAY=SA;BYHOUR=6;BYMINUTE=15");
    expect(taken[2]).toMatch(/^FREQ=WEEKLY;INTERVAL=2;BYDAY=SA;BYHOUR=22;BYMINUTE=40 from 20\d\d-\d\d-\d\d$/);
    expect(screen.getByLabelText("Sat")).toBeChecked();
  });

  it("refuses 99 o'clock at once, and takes nothing", () => {
    const taken = show(SATURDAYS);
    type("Times", "99:00");
    expect(screen.getByRole("alert")).toHaveTextContent("is not a time of day such as 22:00");
    expect(screen.getByLabelText("Times")).toBeInvalid();
    type("Times", "06:00, 14:30");
    expect(screen.getByRole("alert")).toHaveTextContent("several with the same minutes");
    type("Every how many weeks", "0");
    expect(taken).toEqual([]);
  });

  it("goes over to days of the month and weekdays of the month", () => {
    const taken = show(SATURDAYS);
    const how = screen.getByLabelText("How it recurs");
    ["day", "dates", "nth", "one"].forEach((value) => fireEvent.change(how, { target: { value } }));
    expect(taken).toEqual([
      "FREQ=DAILY;BYHOUR=22;BYMINUTE=40",
      "FREQ=MONTHLY;BYMONTHDAY=1;BYHOUR=22;BYMINUTE=40",
      "FREQ=MONTHLY;BYDAY=1SU;BYHOUR=22;BYMINUTE=40",
      "FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=1;BYHOUR=22;BYMINUTE=40",
    ]);
  });

  it("shows where it counts from, and moves that alone", () => {
    const taken = show("FREQ=MONTHLY;INTERVAL=3;BYMONTHDAY=1,-1;BYHOUR=2;BYMINUTE=0");
    expect(screen.getByLabelText("Days of the month")).toHaveValue("1, last");
    expect(screen.getByLabelText("Counted from")).toHaveValue("7 Mar 2026");
    type("Counted from", "1 Apr 2026");
    type("Counted from", "soon");
    expect(screen.getByRole("alert")).toHaveTextContent("is not a date such as");
    type("Counted from", "7 Mar 2026");
    type("Days of the month", "15, last");
    type("Days of the month", "32");
    expect(taken).toEqual([
      "FREQ=MONTHLY;INTERVAL=3;BYMONTHDAY=1,-1;BYHOUR=2;BYMINUTE=0 from 2026-04-01",
      "FREQ=MONTHLY;INTERVAL=3;BYMONTHDAY=15,-1;BYHOUR=2;BYMINUTE=0 from 2026-03-07",
    ]);
    expect(screen.getByRole("alert")).toHaveTextContent("is not days such as 1, 15, last");
  });

  it("says what it cannot show, and leaves it alone", () => {
    const taken = show("FREQ=YEARLY;BYYEARDAY=100;BYHOUR=2");
    expect(screen.getByText(/It says more than can be picked here/)).toBeInTheDocument();
    expect(screen.queryByLabelText("Times")).toBeNull();
    expect(taken).toEqual([]);
    for (const rule of ["FREQ=MONTHLY;BYDAY=1SU,3SU;BYHOUR=1", "FREQ=DAILY;BYMONTH=1;BYHOUR=1"])
      expect(kindOf(pickRule(rule))).toBeNull();
  });

  it("reads days of a month", () => {
    expect(readDates("15, 1,last")).toEqual([1, 15, -1]);
    expect(readDates("0")).toBeNull();
    expect(readDates("first")).toBeNull();
  });
});

describe("where intervals are counted from", () => {
  const rule = "FREQ=WEEKLY;INTERVAL=2;BYDAY=SA;BYHOUR=2";
  const since = "2026-03-02T00:00:00Z";

  it("stays where it was for as long as the rule does", () => {
    expect(countsFrom({ rrule: rule, anchor: "2026-01-05" }, undefined, since)).toBe("2026-01-05");
    expect(countsFrom({ rrule: rule }, { rrule: rule, anchor: "2026-01-05" }, since)).toBe("2026-01-05");
    expect(countsFrom({ rrule: rule }, { rrule: rule }, since)).toBe("2026-03-02");
    expect(countsFrom({ rrule: rule }, { rrule: "FREQ=DAILY;BYHOUR=1" }, since)).not.toBe("2026-03-02");
  });
});
