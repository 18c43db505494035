import type { Ahead, Column, Replay, WayOut, WrittenDocument, Schemas } from "../../api/types";
import { count, day, duration, longMoment, size, viewerZone } from "../../time/words";
import { RoomChart } from "./RoomChart";
import { durationWords, isoSeconds } from "./values";

type Props = {
  replay: Replay;
  ahead: Ahead | undefined;
  document: WrittenDocument;
  /** The version in force, where it is another, and the one shown. */
  names: [before: string | null, after: string];
  onTake: (way: WayOut) => void;
};

function percent(share: number | null, digits = 1): string {
  if (share === null) return "–";
  const scale = 10 ** (digits + 2);
  return `${((Math.floor(share * scale) / scale) * 100).toFixed(digits)} %`;
}

/** As many digits as tell two shares apart, three at the most. */
function digitsFor(one: number | null, other: number | null): number {
  let digits = 1;
  while (digits < 3 && one !== other && percent(one, digits) === percent(other, digits)) digits++;
  return digits;
}

const HAZARD: Record<Schemas["Worst"]["hazard"], string> = {
  mishap: "Worst loss, mishap",
  siteLoss: "Worst loss, site",
  sabotage: "Worst loss, sabotage",
};
const IN: Record<string, string> = {
  attainment: "time within objective",
  "site-loss": "the objective for the site",
  sabotage: "the objective for sabotage",
  reach: "reach",
  slots: "slots kept",
};

type Line = { label: string; before: string; after: string; note: string; worse?: boolean; broken?: boolean };

function lines(before: Column | null, after: Column, objective: WrittenDocument["objective"]): Line[] {
  const of = (say: (c: Column) => string) => ({ before: before ? say(before) : "–", after: say(after) });
  const promised = new Set(Object.entries(objective ?? {}).map(([hazard]) => hazard));
  const share = (c: Column) => (c.slotsAsked ? c.slotsKept / c.slotsAsked : 1);
  return [
    {
      label: "Time within objective",
      ...of((c) => percent(c.attainment, digitsFor(before?.attainment ?? null, after.attainment))),
      note: "mean of the followers",
      worse: before !== null && (after.attainment ?? 1) < (before.attainment ?? 1),
    },
    ...after.worst.map((w, i) => ({
      label: HAZARD[w.hazard],
      ...of((c) => duration(c.worst[i]?.seconds ?? 0)),
      note:
        w.database && promised.has(w.hazard) ? w.database : promised.has(w.hazard) ? "" : "nothing promised",
      broken: w.broken,
      worse: w.broken && before !== null && !before.worst[i]?.broken,
    })),
    {
      label: "Reach kept",
      ...of((c) => (c.reachAsked ? `${c.reachHeld} of ${c.reachAsked}` : "–")),
      note: after.reachMissed.join(", "),
      worse: before !== null && after.reachAsked - after.reachHeld > before.reachAsked - before.reachHeld,
    },
    {
      label: "Slots kept",
      ...of((c) => (c.slotsAsked ? `${count(c.slotsKept)} of ${count(c.slotsAsked)}` : "–")),
      note: "runs as they were",
      worse: before !== null && share(after) < share(before),
    },
    {
      label: "Obsolete today",
      ...of((c) => `${count(c.obsoleteCopies)} · ${size(c.obsoleteBytes)}`),
      note: "copies",
    },
  ];
}

/** What the rules would have done and will do, beside the rules in force. */
export function Consequence({ replay, ahead, document, names, onTake }: Props) {
  const { before, after } = replay;
  if (!after) return null;
  if (replay.followers === 0)
    return (
      <>
        <p className="text-muted">
          Nobody follows this policy yet, so there is no history to replay it over.
        </p>
        <Flaws replay={replay} onTake={onTake} />
      </>
    );
  const room = ahead?.stores.map((s) => ({
    label: `Room in 60 days, ${s.name}`,
    before: s.before ? size(s.before[s.before.length - 1] ?? 0) : "–",
    after: size(s.after[s.after.length - 1] ?? 0),
    note: s.fullAfter
      ? `full on ${day(s.fullAfter, viewerZone)}`
      : s.capacityBytes
        ? `of ${size(s.capacityBytes)}`
        : "",
    worse: s.fullAfter !== null && s.fullBefore === null,
  }));
  const restore: Line[] = ahead?.restoreAfter
    ? [
        {
          label: "Longest restore",
          before: ahead.restoreBefore ? duration(ahead.restoreBefore.seconds) : "–",
          after: duration(ahead.restoreAfter.seconds),
          note: ahead.restoreAfter.database,
          worse: tooLong(ahead.restoreAfter.seconds, document),
        },
      ]
    : [];
  return (
    <>
      {replay.others > 0 && (
        <p className="mt-1 text-note text-muted" role="status" data-testid="still-looking">
          Of {count(replay.followers)} of those who follow it; {count(replay.others)} more are being looked
          at.
        </p>
      )}
      <BeforeAndAfter
        names={names}
        before={before}
        after={after}
        document={document}
        room={room}
        restore={restore}
      />
      {ahead ? (
        <RoomChart ahead={ahead} names={names} />
      ) : (
        <p className="mt-3 text-muted">Running it forward…</p>
      )}
      <Worse replay={replay} />
      <Flaws replay={replay} onTake={onTake} />
      <Misses ahead={ahead} />
      {after.lockedCopies > 0 && (
        <p className="mt-3 border-l-[3px] border-violet pl-3">
          {count(after.lockedCopies)} copies ({size(after.lockedBytes)}) no rule needs stay until their locks
          end
          {after.lockedUntil && `, the last on ${day(after.lockedUntil, viewerZone)}`}.
        </p>
      )}
    </>
  );
}

function BeforeAndAfter(props: {
  names: [before: string | null, after: string];
  before: Column | null;
  after: Column;
  document: WrittenDocument;
  room: Line[] | undefined;
  restore: Line[];
}) {
  const { names, before, after, document, room, restore } = props;
  return (
    <table className="mt-1 w-full" data-testid="consequence">
      <thead>
        <tr className="text-note text-muted">
          <th className="text-left font-normal">
            <span className="sr-only">figure</span>
          </th>
          {names[0] && <th className="w-[100px] text-right font-normal">{names[0]}</th>}
          <th className="w-[110px] text-right font-normal">{names[1]}</th>
          <th className="w-[150px]">
            <span className="sr-only">note</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {[...lines(before, after, document.objective), ...(room ?? []), ...restore].map((l: Line) => (
          <tr key={l.label} className="border-t border-line">
            <th className="py-[5px] text-left font-normal">{l.label}</th>
            {names[0] && <td className="text-right whitespace-nowrap">{l.before}</td>}
            <td
              className={`text-right whitespace-nowrap ${names[0] && l.before !== l.after ? "font-semibold" : ""} ${
                l.worse ? "text-ochre-text" : l.broken ? "text-coral-text" : ""
              }`}
            >
              {l.after}
              {l.worse && <span className="sr-only"> (worse)</span>}
            </td>
            <td className="truncate pl-3 text-right text-muted" title={l.note}>
              {l.note}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const tooLong = (seconds: number, document: WrittenDocument) => {
  const promised = isoSeconds(document.objective?.restoreTime ?? "");
  return promised !== null && seconds > promised;
};

function Worse({ replay }: { replay: Replay }) {
  if (replay.worse.length === 0) return null;
  return (
    <div className="mt-3 border-l-[3px] border-ochre pl-3" data-testid="worse">
      <p className="font-semibold">
        {replay.worse.length === 1
          ? "One database fares worse."
          : `${replay.worse.length} databases fare worse.`}
      </p>
      <ul>
        {replay.worse.map((w) => (
          <li key={w.database}>
            <b>{w.name}</b>: {w.in.map((i) => IN[i] ?? i).join(", ")}
          </li>
        ))}
      </ul>
    </div>
  );
}

/** What contradicts itself, each with the smallest changes that end it. */
function Flaws({ replay, onTake }: { replay: Replay; onTake: (way: WayOut) => void }) {
  const n = replay.flaws.length;
  if (n === 0) return null;
  return (
    <div className="mt-3 border-l-[3px] border-ochre pl-3" data-testid="flaws">
      <p className="font-semibold">{n === 1 ? "One thing does not fit." : `${n} things do not fit.`}</p>
      <ul className="space-y-1">
        {replay.flaws.map((f) => (
          <li key={f.code + f.path}>
            {f.text}
            {f.waysOut.map((w, i) => (
              <span key={w.path}>
                {i > 0 ? " or " : " "}
                <button className="text-button" onClick={() => onTake(w)}>
                  {wayOutWords(w)}
                </button>
              </span>
            ))}
            {f.waysOut.length === 0 && <span className="text-muted"> No single change ends this.</span>}
          </li>
        ))}
      </ul>
    </div>
  );
}

const PLACES: [RegExp, string][] = [
  [/^objective\.mishap$/, "the loss to a mishap"],
  [/^objective\.siteLoss$/, "the loss with the site"],
  [/^objective\.sabotage$/, "the loss to sabotage"],
  [/^objective\.reach$/, "the reach"],
  [/\.every$/, "the interval of logs"],
  [/\.within$/, "the start window"],
  [/\.grace$/, "the grace"],
  [/^retain\.\d+\.reach$/, "the reach of that rule"],
  [/^retain\.\d+\.role$/, "the role of that rule"],
  [/^retain\.\d+$/, "that rule"],
  [/\.lock$/, "the lock"],
  [/\.atMost$/, "the longest stay"],
  [/\.fulls$/, "the number of fulls"],
  [/rungs\.(\w+)$/, "the $1 rungs"],
  [/^copies\.(\w+)$/, "the copies asked for ($1)"],
  [/^openHours\.\d+\.from$/, "the beginning of the open hours"],
  [/^openHours\.\d+\.to$/, "the end of the open hours"],
];

/** A way out as something to do: "Set the loss with the site to 30 h". */
export function wayOutWords(way: WayOut): string {
  if (way.path === "enabled") return way.to === "true" ? "Switch the policy on" : "Switch the policy off";
  const schedule = /^schedules\.\d+\.enabled$/.test(way.path);
  if (schedule) return way.to === "true" ? "Switch that schedule on" : "Switch that schedule off";
  if (way.path.startsWith("schedules.+"))
    return way.to.startsWith("P")
      ? `Add logs every ${durationWords(way.to)}`
      : way.path.includes("weekly")
        ? "Add a full each week"
        : "Add a full each night";
  if (way.path.startsWith("retain.+"))
    return `Add a rule for ${way.path.slice("retain.+".length)} stores: a reach of ${durationWords(way.to)}`;
  if (/^schedules\.\d+\.at$/.test(way.path)) return "Have it open on Saturdays at 22:00";
  const found = PLACES.find(([p]) => p.test(way.path));
  const place = found ? (way.path.match(found[0])?.[0] ?? "").replace(found[0], found[1]) : way.path;
  if (way.to === "") return `Remove ${place}`;
  return way.from === ""
    ? `Add ${place.replace(/^the /, "a ")} of ${durationWords(way.to)}`
    : `Set ${place} to ${durationWords(way.to)}`;
}

function Misses({ ahead }: { ahead: Ahead | undefined }) {
  if (!ahead || ahead.misses.length === 0) return null;
  return (
    <div className="mt-3 border-l-[3px] border-ochre pl-3" data-testid="misses">
      {ahead.misses.map((m) => (
        <p key={m.database + m.schedule}>
          The {m.schedule} run of <b>{m.database}</b> will take {duration(m.expectedSeconds)} on{" "}
          {longMoment(m.open, viewerZone)} if it goes on growing; {duration(m.allowedSeconds)} are allowed.
        </p>
      ))}
    </div>
  );
}
