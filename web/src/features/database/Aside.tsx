import type { DatabaseView, Row, HazardNow } from "../../api/types";
import { gapSentence, hazardName } from "../../ribbon/words";
import { count, day, duration, longMoment, promise, size, span, lastDays } from "../../time/words";
import { grown, useSilent, useStanding } from "../../time/standing";
import { useAskWhy } from "../../why/context";
import { kindName } from "../../ribbon/kinds";
import { Components } from "./Components";
import { Holds } from "./Holds";
import { Lineages } from "./Lineages";
import { Notes } from "./Notes";
import type { Subject } from "../../why/api";

/** Promised and achieved, gaps, and what may be purged. */
export function Aside({ data, onHold }: { data: DatabaseView; onHold: (backup: string | null) => void }) {
  return (
    <aside className="border-l border-line bg-panel px-5 pt-3 pb-10">
      <Findings data={data} />
      <Promised data={data} />
      <WayBack data={data} />
      <Breaches data={data} />
      <Gaps data={data} />
      <Lineages data={data} />
      <Components data={data} />
      <Purgeable data={data} />
      <Holds data={data} onHold={onHold} />
      <Notes data={data} />
    </aside>
  );
}

function Promised({ data }: { data: DatabaseView }) {
  const ask = useAskWhy();
  const standing = useStanding();
  const { row } = data;
  const silent = useSilent().get(row.id);
  const days = Math.round((Date.parse(data.to) - Date.parse(data.from)) / 86_400_000);
  const attainment = data.channels.find((c) => c.hazard === "mishap")?.attainment;
  return (
    <>
      <h2 className="text-section">Promised and achieved</h2>
      <table className="mt-1 w-full" data-testid="promised">
        <thead className="text-note text-muted">
          <tr>
            <th className="text-left font-normal">{lastDays(days)}</th>
            <th className="text-right font-normal">promised</th>
            <th className="text-right font-normal">worst</th>
            <th className="text-right font-normal">now</th>
          </tr>
        </thead>
        <tbody>
          {row.hazards.map((h) => (
            <PromisedRow key={h.hazard} row={row} h={h} standing={standing} ask={ask} silent={silent} />
          ))}
          <tr className="border-t border-line">
            <td className="py-1.5">reach</td>
            <td className="text-right">
              {row.reachTargetSeconds !== null ? promise(row.reachTargetSeconds) : "–"}
            </td>
            <td />
            <td className="text-right">
              {row.pointsOnly
                ? "points only"
                : row.grade === "stranded"
                  ? "nothing"
                  : duration(row.reachSeconds)}
            </td>
          </tr>
          {row.reachCover !== null && (
            <tr className="border-t border-line">
              <td className="py-1.5" colSpan={3}>
                of the promised reach
              </td>
              <td className="text-right">{percent(row.reachCover)}</td>
            </tr>
          )}
          <tr className="border-y border-line">
            <td className="py-1.5" colSpan={3}>
              within objective
            </td>
            <td className="text-right">{attainment != null ? percent(attainment) : "–"}</td>
          </tr>
        </tbody>
      </table>
      {silent && standing !== null && (
        <p className="mt-1 text-note text-ochre-text">
          Nothing has been heard of it since {longMoment(silent, row.zone)}: it may be older than that.
        </p>
      )}
    </>
  );
}

function PromisedRow(props: {
  row: Row;
  h: HazardNow;
  standing: number | null;
  ask: (subject: Subject, zone: string) => void;
  silent: string | undefined;
}) {
  const { row, h, standing, ask, silent } = props;

  const subject = { database: row.id, about: "age", hazard: h.hazard } as const;
  const age = grown(h, row.at, standing);
  const over = (seconds: number) => h.objectiveSeconds !== null && seconds > h.objectiveSeconds;
  return (
    <tr className="border-t border-line">
      <td className="py-1.5">{hazardName(h.hazard)}</td>
      <td className="text-right">{h.objectiveSeconds !== null ? promise(h.objectiveSeconds) : "–"}</td>
      <td
        className={`text-right ${over(Math.max(h.worstSeconds, age)) ? "font-semibold text-coral-text" : ""}`}
      >
        {duration(Math.max(h.worstSeconds, age))}
      </td>
      <td className="text-right">
        <button
          className={`underline decoration-dotted ${over(age) ? "font-semibold text-coral-text" : ""}`}
          title="Why?"
          data-why={JSON.stringify({ subject, zone: row.zone })}
          onClick={() => ask(subject, row.zone)}
        >
          {silent && standing !== null && h.recoveryPoint ? "at least " : ""}
          {h.recoveryPoint ? duration(age) : "nothing"}
        </button>
      </td>
    </tr>
  );
}

/** Rounded down, so that 100 % is said only of all of it. */
function percent(share: number): string {
  return share === 1 ? "100 %" : `${(Math.floor(share * 1000) / 10).toFixed(1)} %`;
}

/** What a restore to the latest moment would take, against what is promised of it. */
function WayBack({ data }: { data: DatabaseView }) {
  const way = data.wayBack;
  if (!way) return null;
  const counts = new Map<string, number>();
  for (const link of way.chain) counts.set(link.kind, (counts.get(link.kind) ?? 0) + 1);
  const chain = [...counts].map(([kind, n]) => `${n} ${kindName(kind)}${n > 1 ? "s" : ""}`).join(", ");
  const late = way.promisedSeconds !== null && way.seconds > way.promisedSeconds;
  return (
    <div data-testid="way-back">
      <h2 className="mt-5 text-section">The way back</h2>
      <p title={way.chain.map((c) => `${c.id} in ${c.store}`).join(", then ")}>
        To {longMoment(way.to, data.row.zone)}: {chain}
        {way.logs > 0 && `, then ${count(way.logs)} ${way.logs === 1 ? "log" : "logs"}`}
        {way.logBytes > 0 && ` of ${size(way.logBytes)} to replay`}.
      </p>
      <p className={late ? "font-semibold text-coral-text" : ""}>
        {way.complete ? "About" : "At least"} {duration(way.seconds)}
        {way.complete ? "" : "; not every store's rate or size is known"}
        {way.promisedSeconds !== null
          ? `; ${promise(way.promisedSeconds)} promised.`
          : "; nothing is promised of it."}
      </p>
      <p className="text-small text-muted" data-testid="known">
        {way.known}
      </p>
    </div>
  );
}

const BREACHES = 3;

/** The worst stretches outside an objective, each with its why. */
function Breaches({ data }: { data: DatabaseView }) {
  const ask = useAskWhy();
  const { row } = data;
  const all = data.channels.flatMap((c) => c.breaches.map((b) => ({ ...b, hazard: c.hazard })));
  if (all.length === 0) return null;
  const worst = [...all].sort((a, b) => b.worstSeconds - a.worstSeconds).slice(0, BREACHES);
  return (
    <div data-testid="breaches">
      <h2 className="mt-5 text-section">Breaches</h2>
      <p className="text-muted">
        {all.length} in the period{all.length > worst.length ? "; the worst:" : ":"}
      </p>
      {worst.map((b) => {
        const subject = { database: row.id, about: "breach", hazard: b.hazard, at: b.from } as const;
        return (
          <p key={`${b.hazard}${b.from}`} className="border-t border-line py-1.5">
            {hazardName(b.hazard)}, {span(b.from, b.to, row.zone)}, at worst <b>{duration(b.worstSeconds)}</b>{" "}
            <button
              className="text-button"
              data-why={JSON.stringify({ subject, zone: row.zone })}
              onClick={() => ask(subject, row.zone)}
            >
              Why?
            </button>
          </p>
        );
      })}
    </div>
  );
}

/** What is wrong with it, worst first, with what ends that. */
function Findings({ data }: { data: DatabaseView }) {
  if (data.findings.length === 0) return null;
  return (
    <div data-testid="findings" className="mb-5">
      <h2 className="text-section">What is wrong</h2>
      {data.findings.map((f) => (
        <div key={f.key} className="border-t border-line py-1.5">
          <p className="font-semibold">{f.title}</p>
          <p>{f.text}</p>
          <p className="text-muted">{f.action}</p>
          <p className="font-mono text-note break-all text-muted">{f.facts.join(", ")}</p>
        </div>
      ))}
    </div>
  );
}

function Gaps({ data }: { data: DatabaseView }) {
  const ask = useAskWhy();
  const { row } = data;
  const tail = row.sand.find((s) => s.where === "after" && s.gap === null);
  return (
    <>
      <h2 className="mt-5 text-section">Gaps</h2>
      {data.gaps.length === 0 && row.grade !== "stranded" && (
        <p className="text-muted">None inside the logs.</p>
      )}
      {row.grade === "stranded" && <p className="text-coral-text">Nothing can be restored.</p>}
      {tail && (
        <p className="text-coral-text">
          The end is open since <b title={tail.from}>{longMoment(tail.from, row.zone)}</b>.
        </p>
      )}
      {data.gaps.map((g) => {
        const subject = {
          database: row.id,
          about: "gap",
          position: g.fromPosition,
          lineage: g.lineage,
          stream: g.stream,
        } as const;
        return (
          <div
            key={`${g.lineage} ${g.stream} ${g.fromPosition}`}
            className="border-t border-line py-1.5"
            data-testid="gap"
          >
            <p className="font-semibold">
              {g.after && g.before
                ? `logs missing ${span(g.after, g.before, row.zone)}, ${duration((Date.parse(g.before) - Date.parse(g.after)) / 1000)}`
                : g.before
                  ? `logs missing before ${day(g.before, row.zone)}`
                  : ""}
              <span className={g.state === "unbridged" ? "text-coral-text" : "text-muted"}> {g.state}</span>
            </p>
            <p>{gapSentence(g)}</p>
            {(data.lineages.length > 1 || data.streams.length > 1) && (
              <p className="text-muted">
                lineage {g.lineage}
                {data.streams.length > 1 && `, stream ${g.stream}`}
              </p>
            )}
            {g.leavesReach && (
              <p className="text-muted">It leaves reach on {day(g.leavesReach, row.zone)}.</p>
            )}
            <button
              className="text-button"
              data-why={JSON.stringify({ subject, zone: row.zone })}
              onClick={() => ask(subject, row.zone)}
            >
              Why?
            </button>
          </div>
        );
      })}
    </>
  );
}

function Purgeable({ data }: { data: DatabaseView }) {
  const sum = (verdict: string) =>
    data.tallies
      .filter((t) => t.verdict === verdict)
      .reduce((a, t) => ({ copies: a.copies + t.copies, bytes: a.bytes + t.bytes }), { copies: 0, bytes: 0 });
  return (
    <>
      <h2 className="mt-5 text-section">Copies</h2>
      <table className="w-full" data-testid="copies">
        <tbody>
          {["needed", "obsolete", "unusable"].map((verdict) => (
            <tr key={verdict} className="border-t border-line">
              <td className="py-1.5">{verdict}</td>
              <td className="text-right">{count(sum(verdict).copies)}</td>
              <td className="text-right">{size(sum(verdict).bytes)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
