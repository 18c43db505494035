import type { Ahead, Fared, Replay, Schemas, WrittenDocument } from "../../api/types";
import { count, day, duration, size, viewerZone } from "../../time/words";
import { isoSeconds } from "./values";

const DAY = 86_400;

const HAZARD: Record<Schemas["Worst"]["hazard"], string> = {
  mishap: "Worst loss, mishap",
  siteLoss: "Worst loss, site",
  sabotage: "Worst loss, sabotage",
};

function percent(share: number | null, digits = 1): string {
  if (share === null) return "–";
  const scale = 10 ** (digits + 2);
  return `${((Math.floor(share * scale) / scale) * 100).toFixed(digits)} %`;
}

/** As many digits as tell shares apart, three at the most. */
function digitsFor(shares: (number | null)[]): number {
  let digits = 1;
  const distinct = new Set(shares).size;
  while (digits < 3 && new Set(shares.map((s) => percent(s, digits))).size < distinct) digits++;
  return digits;
}

/** A figure as it was, as it will be under the rules in force, and as written; what is not known yet is a dash. */
type Line = {
  label: string;
  was: string;
  before: string;
  after: string;
  note: string;
  worse?: boolean;
  broken?: boolean;
};

type Columns = { was: Fared | null; before: Fared | null; after: Fared | null };

function fared({ was, before, after }: Columns, document: WrittenDocument): Line[] {
  const of = (say: (c: Fared) => string) => ({
    was: was ? say(was) : "–",
    before: before ? say(before) : "–",
    after: after ? say(after) : "–",
  });
  const promised = new Set(Object.keys(document.objective ?? {}));
  const share = (c: Fared) => (c.slotsAsked ? c.slotsKept / c.slotsAsked : 1);
  const digits = digitsFor([was, before, after].map((c) => c?.attainment ?? null));
  const shown = after ?? was;
  const worse = (than: (a: Fared, b: Fared) => boolean) =>
    before !== null && after !== null && than(after, before);
  return [
    {
      label: "Time within objective",
      ...of((c) => percent(c.attainment, digits)),
      note: "mean",
      worse: worse((a, b) => (a.attainment ?? 1) < (b.attainment ?? 1)),
    },
    ...(shown?.worst ?? []).map((w, i) => ({
      label: HAZARD[w.hazard],
      ...of((c) => duration(c.worst[i]?.seconds ?? 0)),
      note: promised.has(w.hazard) ? (w.database ?? "") : "nothing promised",
      broken: w.broken,
      worse: worse((a, b) => Boolean(a.worst[i]?.broken) && !b.worst[i]?.broken),
    })),
    {
      label: "Reach kept",
      ...of((c) => (c.reachAsked ? `${c.reachHeld} of ${c.reachAsked}` : "–")),
      note: shown?.reachMissed.join(", ") ?? "",
      worse: worse((a, b) => a.reachAsked - a.reachHeld > b.reachAsked - b.reachHeld),
    },
    {
      label: "Slots kept",
      ...of((c) => (c.slotsAsked ? `${count(c.slotsKept)} of ${count(c.slotsAsked)}` : "–")),
      note: "",
      worse: worse((a, b) => share(a) < share(b)),
    },
  ];
}

function kept(replay: Replay, ahead: Ahead | undefined, document: WrittenDocument): Line[] {
  const say = (u: Replay["after"]) => (u ? `${count(u.obsoleteCopies)} · ${size(u.obsoleteBytes)}` : "–");
  const out: Line[] = [
    {
      label: "Obsolete today",
      was: "",
      before: say(replay.before),
      after: say(replay.after),
      note: "copies",
    },
  ];
  for (const s of ahead?.stores ?? [])
    out.push({
      label: `Room in 60 days, ${s.name}`,
      was: "",
      before: s.before ? size(s.before[s.before.length - 1] ?? 0) : "–",
      after: size(s.after[s.after.length - 1] ?? 0),
      note: s.fullAfter
        ? `full on ${day(s.fullAfter, viewerZone)}`
        : s.capacityBytes
          ? `of ${size(s.capacityBytes)}`
          : "",
      worse: s.fullAfter !== null && s.fullBefore === null,
    });
  if (ahead?.restoreAfter) {
    const promised = isoSeconds(document.objective?.restoreTime ?? "");
    out.push({
      label: "Longest restore",
      was: "",
      before: ahead.restoreBefore ? duration(ahead.restoreBefore.seconds) : "–",
      after: duration(ahead.restoreAfter.seconds),
      note: ahead.restoreAfter.database,
      worse: promised !== null && ahead.restoreAfter.seconds > promised,
    });
  }
  return out;
}

type Props = {
  replay: Replay;
  ahead: Ahead | undefined;
  document: WrittenDocument;
  names: [before: string | null, after: string];
};

/** How the followers fared, and will under the rules in force and as written. */
export function FaredTable({ replay, ahead, document, names }: Props) {
  // Where it is too early to tell of everybody there are no figures.
  const foreseen = ahead?.foreseen && ahead.foreseen.overSeconds > 0 ? ahead.foreseen : null;
  const columns = { was: replay.was, before: foreseen?.before ?? null, after: foreseen?.after ?? null };
  const over = foreseen ? Math.round(foreseen.overSeconds / DAY) : 30;
  const head = "w-[104px] pl-3 text-right align-bottom font-normal";
  return (
    <table className="mt-1 w-full" data-testid="consequence">
      <thead>
        <tr className="text-note text-muted">
          <th className="text-left font-normal">
            <span className="sr-only">figure</span>
          </th>
          <th className={head}>last 30 days</th>
          {names[0] && (
            <th className={head}>
              next {over} days,
              <br />
              {names[0]}
            </th>
          )}
          <th className={head}>
            next {over} days,
            <br />
            {names[1]}
          </th>
          <th className="w-[116px]">
            <span className="sr-only">note</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {[...fared(columns, document), ...kept(replay, ahead, document)].map((l) => (
          <Row key={l.label} l={l} changed={names[0] !== null} />
        ))}
      </tbody>
    </table>
  );
}

function Row({ l, changed }: { l: Line; changed: boolean }) {
  const colour = l.worse ? "text-ochre-text" : l.broken ? "text-coral-text" : "";
  return (
    <tr className="border-t border-line">
      <th className="py-[5px] text-left font-normal">{l.label}</th>
      <td className="text-right whitespace-nowrap text-muted">{l.was}</td>
      {changed && <td className="text-right whitespace-nowrap">{l.before}</td>}
      <td
        className={`text-right whitespace-nowrap ${changed && l.before !== l.after ? "font-semibold" : ""} ${colour}`}
      >
        {l.after}
        {l.worse && <span className="sr-only"> (worse)</span>}
      </td>
      <td className="max-w-[116px] truncate pl-3 text-right text-muted" title={l.note}>
        {l.note}
      </td>
    </tr>
  );
}
