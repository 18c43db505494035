import { RRule } from "rrule";
import { describe, expect, it } from "vitest";
import { pickCron, pickedWords, pickRule, ruleOf, type Picked } from "./picked";
import { DAYS } from "./values";

const DAY_MS = 86_400_000;
/** A Wednesday. */
const ANCHOR = Date.UTC(2026, 0, 7);
const LOOKED_AT = 800;

/** The same numbers every time. */
function random(seed: number) {
  let state = seed;
  return (below: number) => {
    state = (Math.imul(state, 1_103_515_245) + 12_345) & 0x7fffffff;
    return Math.floor((state / 0x80000000) * below);
  };
}

const NAMES = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];
const MONTHS = "January February March April May June July August September October November December".split(
  " ",
);
const ORDINALS = ["first", "second", "third", "fourth"];

const spread = (text: string) => text.split(/, | and /);
const mondayOf = (t: number) => t - ((new Date(t).getUTCDay() + 6) % 7) * DAY_MS;
const monthOf = (t: number) => new Date(t).getUTCFullYear() * 12 + new Date(t).getUTCMonth();
const dayOf = (t: number) => NAMES[(new Date(t).getUTCDay() + 6) % 7] as string;
const lengthOf = (t: number) =>
  new Date(Date.UTC(new Date(t).getUTCFullYear(), new Date(t).getUTCMonth() + 1, 0)).getUTCDate();

function isDay(name: string, text: string): boolean {
  if (text === "day") return true;
  const run = /^(\w+) to (\w+)$/.exec(text);
  if (run)
    return NAMES.slice(NAMES.indexOf(run[1] as string), NAMES.indexOf(run[2] as string) + 1).includes(name);
  const but = /^day but (.+)$/.exec(text);
  return but ? !spread(but[1] as string).includes(name) : spread(text).includes(name);
}

/** Which of the days of its month a day is, of those with some names, counted from the front and the back. */
function places(t: number, names: string[]): [number, number] {
  const date = new Date(t).getUTCDate();
  const all = Array.from({ length: lengthOf(t) }, (_, i) => i + 1).filter((d) =>
    names.includes(dayOf(t + (d - date) * DAY_MS)),
  );
  const at = all.indexOf(date);
  return at < 0 ? [0, 0] : [at + 1, at - all.length];
}

const isPlace = (word: string, [front, back]: [number, number]) =>
  word === "last" ? back === -1 : front === ORDINALS.indexOf(word) + 1;

function isInMonth(t: number, on: string): boolean {
  const date = new Date(t).getUTCDate();
  const working = /^the (\w+) working day$/.exec(on);
  if (working) return isPlace(working[1] as string, places(t, NAMES.slice(0, 5)));
  const one = /^the (\w+) of all (.+)$/.exec(on);
  if (one)
    return isPlace(
      one[1] as string,
      places(
        t,
        spread(one[2] as string).map((d) => d.replace(/s$/, "")),
      ),
    );
  return spread(on.replace(/^days? /, "")).some((part) => {
    if (part === "the last day") return date === lengthOf(t);
    const nth = /^the (\w+) (\w+)$/.exec(part);
    return nth ? isPlace(nth[1] as string, places(t, [nth[2] as string])) : date === Number(part);
  });
}

/** Whether words say that a day is one of theirs: an own reading of them, day by day. */
function says(words: string, t: number): boolean {
  const said = /^(.*?)(?: in ((?:[A-Z]\w+(?:, | and )?)+))? at [\d:, and]+$/.exec(words);
  const [, what = "", months] = said ?? [];
  if (months && !spread(months).includes(MONTHS[new Date(t).getUTCMonth()] as string)) return false;
  const days = /^every (\d+) days$/.exec(what);
  if (days) return ((t - ANCHOR) / DAY_MS) % Number(days[1]) === 0;
  const weeks = /^every (\d+) weeks on (.+)$/.exec(what);
  if (weeks) {
    const passed = (mondayOf(t) - mondayOf(ANCHOR)) / (7 * DAY_MS);
    return passed % Number(weeks[1]) === 0 && isDay(dayOf(t), weeks[2] as string);
  }
  const month = /^every (?:(\d+) months|month) on (.+)$/.exec(what);
  if (month)
    return (monthOf(t) - monthOf(ANCHOR)) % Number(month[1] ?? 1) === 0 && isInMonth(t, month[2] as string);
  return isDay(dayOf(t), what.replace(/^every /, ""));
}

function said(words: string): number[] {
  const times = spread(/ at ([\d:, and]+)$/.exec(words)?.[1] ?? "");
  const out: number[] = [];
  for (let n = 0; n < LOOKED_AT; n++) {
    const t = ANCHOR + n * DAY_MS;
    if (says(words, t))
      times.forEach((at) => out.push(Date.parse(`${new Date(t).toISOString().slice(0, 10)}T${at}:00Z`)));
  }
  return out.sort((a, b) => a - b);
}

function expanded(rule: string): number[] {
  const options = RRule.parseString(`${rule};WKST=MO`);
  const all = new RRule({ ...options, bysecond: [0], dtstart: new Date(ANCHOR) });
  return all
    .between(new Date(ANCHOR), new Date(ANCHOR + LOOKED_AT * DAY_MS - 1), true)
    .map((d) => d.getTime());
}

function some<T>(all: readonly T[], n: (below: number) => number, most = all.length): T[] {
  const wanted = 1 + n(most);
  const at = new Set(Array.from({ length: wanted }, () => n(all.length)));
  return all.filter((_, i) => at.has(i));
}

const upTo = (n: number) => Array.from({ length: n }, (_, i) => i + 1);

/** A rule somebody might write, whether it can be picked or not. */
function anyRule(n: (below: number) => number): string {
  const parts = [`FREQ=${["DAILY", "WEEKLY", "MONTHLY", "YEARLY"][n(4)]}`];
  if (n(3) === 0) parts.push(`INTERVAL=${1 + n(5)}`);
  if (n(4) === 0) parts.push(`BYMONTH=${some(upTo(12), n, 4).join(",")}`);
  if (n(2) === 0) {
    const days = some(DAYS, n);
    const nth =
      parts[0] === "FREQ=MONTHLY" || parts[0] === "FREQ=YEARLY" ? ["", "1", "2", "-1", "5"][n(5)] : "";
    parts.push(`BYDAY=${days.map((d) => `${nth}${d}`).join(",")}`);
  }
  if (n(4) === 0) parts.push(`BYMONTHDAY=${[...some(upTo(31), n, 3), ...(n(2) ? [-1] : [])].join(",")}`);
  if (n(6) === 0) parts.push(`BYSETPOS=${[1, 2, -1, -2][n(4)]}`);
  if (n(12) === 0) parts.push("COUNT=9");
  parts.push(`BYHOUR=${some(upTo(23), n, 3).join(",")}`, `BYMINUTE=${some([0, 15, 40], n, 2).join(",")}`);
  return parts.join(";");
}

describe("recurrences that can be picked", () => {
  it("are said as they are kept: 500 of any rules, each against its expansion", () => {
    const n = random(20_261_202);
    let picked = 0;
    for (let tried = 0; picked < 500 && tried < 20_000; tried++) {
      const rule = anyRule(n);
      const found = pickRule(rule);
      if (!found) continue;
      picked++;
      expect(said(pickedWords(found)), `${rule}: ${pickedWords(found)}`).toEqual(expanded(rule));
      expect(expanded(ruleOf(found)), ruleOf(found)).toEqual(expanded(rule));
    }
    expect(picked).toBe(500);
  });

  it.each<[string, string]>([
    ["FREQ=WEEKLY;INTERVAL=2;BYDAY=SA;BYHOUR=2", "every 2 weeks on Saturday at 02:00"],
    ["FREQ=DAILY;INTERVAL=3;BYHOUR=6,18", "every 3 days at 06:00 and 18:00"],
    ["FREQ=MONTHLY;BYMONTHDAY=1,15;BYHOUR=3", "every month on days 1 and 15 at 03:00"],
    ["FREQ=MONTHLY;BYMONTHDAY=-1;BYHOUR=3", "every month on the last day at 03:00"],
    ["FREQ=MONTHLY;BYDAY=1SU,3SU;BYHOUR=3", "every month on the first Sunday and the third Sunday at 03:00"],
    [
      "FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-1;BYHOUR=3",
      "every month on the last working day at 03:00",
    ],
    ["FREQ=YEARLY;BYMONTH=1,7;BYMONTHDAY=1;BYHOUR=3", "every month on day 1 in January and July at 03:00"],
  ])("%s", (rule, words) => expect(pickedWords(pickRule(rule) as Picked)).toBe(words));

  it.each([
    "FREQ=DAILY",
    "FREQ=DAILY;BYHOUR=99",
    "FREQ=DAILY;BYHOUR=1;COUNT=3",
    "FREQ=WEEKLY;BYHOUR=1",
    "FREQ=WEEKLY;INTERVAL=2;BYDAY=MO;WKST=SU;BYHOUR=1",
    "FREQ=MONTHLY;BYDAY=MO,TU;BYSETPOS=1;BYHOUR=1,2",
    "FREQ=YEARLY;BYMONTHDAY=1;BYHOUR=1",
    "nonsense",
  ])("%s is left alone", (rule) => expect(pickRule(rule)).toBeNull());

  it.each<[string, string | null]>([
    ["0 23 1 * *", "every month on day 1 at 23:00"],
    ["30 */6 * * *", "every day at 00:30, 06:30, 12:30 and 18:30"],
    ["5 1 * JAN,JUL MON-FRI", "every Monday to Friday in January and July at 01:05"],
    ["5 1 * * 6,7", "every Saturday and Sunday at 01:05"],
    ["0 3 1 * 1", null],
    ["* * * * *", null],
    ["0 99 * * *", null],
  ])("the cron line %s", (line, words) => {
    const found = pickCron(line);
    expect(found && pickedWords(found)).toBe(words);
  });
});
