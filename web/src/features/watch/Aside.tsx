import { Fragment } from "react";
import { Link } from "react-router";
import type { Schemas, Watch } from "../../api/types";
import { duration, longMoment, promise, size, time, viewerZone } from "../../time/words";
import { useView } from "../../time/view";
import { kindName } from "../../ribbon/kinds";
import { NextHours } from "./NextHours";
import { OwnAge } from "./OwnAge";

/** How the night went, what runs now, what comes, and what changed. */
export function Aside({ watch }: { watch: Watch }) {
  return (
    <aside className="border-line bg-panel px-5 py-4 lg:border-l">
      <h2 className="text-section">Last night</h2>
      <LastNight watch={watch} />
      <h2 className="mt-5 text-lead">Running now</h2>
      <Running watch={watch} />
      <h2 className="mt-5 text-lead">Next twelve hours</h2>
      <NextHours watch={watch} />
      <Glance watch={watch} />
      <Since watch={watch} />
      <OwnAge />
    </aside>
  );
}

function Names({ names }: { names: Schemas["SomeDatabases"] }) {
  const { search } = useView();
  const more = names.count - names.first.length;
  return (
    <>
      {names.first.map((n, i) => (
        <Fragment key={n.id}>
          {i > 0 && (i === names.first.length - 1 && more === 0 ? " and " : ", ")}
          <Link className="font-semibold" to={`/databases/${encodeURIComponent(n.id)}${search}`}>
            {n.name}
          </Link>
        </Fragment>
      ))}
      {more > 0 && ` and ${more} more`}
    </>
  );
}

function LastNight({ watch }: { watch: Watch }) {
  const n = watch.night;
  if (n.asked === 0)
    return <p className="mt-1 text-muted">No slot was due since {longMoment(n.from, watch.zone)}.</p>;
  const off = n.usualBytes ? n.bytes - n.usualBytes : 0;
  const far = n.usualBytes && Math.abs(off) > 0.1 * n.usualBytes;
  return (
    <p className="mt-1 text-lead" data-testid="night">
      {n.kept} of {n.asked} slots kept.{" "}
      {n.failed.count > 0 && (
        <>
          <Names names={n.failed} /> failed.{" "}
        </>
      )}
      {n.missed.count > 0 && (
        <>
          Of <Names names={n.missed} /> nothing was started.{" "}
        </>
      )}
      {n.late.count > 0 && (
        <>
          <Names names={n.late} /> ran late.{" "}
        </>
      )}
      {size(n.bytes)} written
      {n.usualBytes === null
        ? ""
        : far
          ? `, ${size(Math.abs(off))} ${off < 0 ? "less" : "more"} than usual on such a night`
          : ", as usual on such a night"}
      .{" "}
      <span className="text-note text-muted">
        Since {longMoment(n.from, watch.zone)}, {watch.zone}.
      </span>
    </p>
  );
}

function Running({ watch }: { watch: Watch }) {
  const now = Math.max(
    Date.parse(watch.asOf),
    ...watch.running.map((r) => (r.progress ? Date.parse(r.progress.at) : 0)),
  );
  if (watch.running.length + watch.ordered.length === 0)
    return <p className="mt-1 text-muted">No backup is running.</p>;
  return (
    <ul className="mt-1 space-y-2" data-testid="running">
      {watch.ordered.map((o) => (
        <li key={o.run}>
          <b>{o.name}</b>{" "}
          <span className="text-muted">
            {kindName(o.kind)}, ordered by {o.by} at {time(o.at, watch.zone)}; no runner has taken it up yet
          </span>
        </li>
      ))}
      {watch.running.map((r) => {
        const started = new Date(r.started).getTime();
        const end = r.expectedEnd ? new Date(r.expectedEnd).getTime() : null;
        const written = r.progress?.writtenBytes ?? 0;
        const byBytes = r.usualBytes && written > 0 ? written / r.usualBytes : null;
        const byTime = end ? (now - started) / Math.max(1, end - started) : null;
        const known = byBytes ?? byTime;
        const share = known === null ? null : Math.min(1, known);
        return (
          <li key={r.run}>
            <div className="flex gap-3">
              <b className="whitespace-nowrap">{r.name}</b>
              <span className="text-muted">
                {kindName(r.kind)}
                {r.expectedEnd
                  ? end !== null && end < now
                    ? `, ${duration((now - end) / 1000)} longer than usual`
                    : `, until ${time(r.expectedEnd, watch.zone)} as usual`
                  : `, since ${time(r.started, watch.zone)}`}
                {r.progress &&
                  `, ${size(written)}${r.progress.bytesPerSecond ? ` at ${size(r.progress.bytesPerSecond)}/s` : ""}`}
              </span>
            </div>
            {share !== null && (
              <div
                className="h-[7px] rounded bg-line"
                role="progressbar"
                aria-label={`${r.name} ${kindName(r.kind)}`}
                aria-valuenow={Math.round(share * 100)}
              >
                <div className="h-full rounded bg-water-3" style={{ width: `${share * 100}%` }} />
              </div>
            )}
          </li>
        );
      })}
      {watch.runningCount > watch.running.length && (
        <li className="text-muted">and {watch.runningCount - watch.running.length} more</li>
      )}
    </ul>
  );
}

function Glance({ watch }: { watch: Watch }) {
  const { lastGood, lastFailed, nextSlot } = watch.glance;
  const line = (label: string, at: typeof lastGood) =>
    at && (
      <div className="flex gap-2">
        <dt className="w-[84px] text-muted">{label}</dt>
        <dd>
          <b>{at.name}</b> {kindName(at.kind)}, {longMoment(at.at, watch.zone)}
        </dd>
      </div>
    );
  return (
    <dl className="mt-4">
      {line("last good", lastGood)}
      {line("last failed", lastFailed)}
      {line("next slot", nextSlot)}
    </dl>
  );
}

function Since({ watch }: { watch: Watch }) {
  const s = watch.since;
  if (!s) return null;
  const quiet = s.beganCount + s.endedCount + s.policies.length === 0;
  const more = s.beganCount + s.endedCount - s.began.length - s.ended.length;
  return (
    <>
      <h2 className="mt-5 text-lead">Since you last looked, {longMoment(s.looked, viewerZone)}</h2>
      {quiet && <p className="mt-1 text-muted">Nothing began, ended or was put in force.</p>}
      <ul className="mt-1 space-y-1" data-testid="since">
        {s.began.map((m) => (
          <li key={`b${m.key}`}>
            New: {m.databases}, {m.title}
          </li>
        ))}
        {s.ended.map((m) => (
          <li key={`e${m.key}`} className="text-muted">
            Over: {m.databases}, {m.title}
          </li>
        ))}
        {s.policies.map((p) => (
          <li key={`${p.id} ${p.version}`}>
            <b>
              {p.name} {p.version}
            </b>{" "}
            came into force {longMoment(p.at, viewerZone)}
          </li>
        ))}
        {more > 0 && <li className="text-muted">and {more} more</li>}
      </ul>
    </>
  );
}

/** How logs come, in a line. */
export function logsLine(logs: Watch["logs"]): string {
  const parts = logs.every.map(
    (e) => `of ${e.databases} ${e.databases === 1 ? "database" : "databases"} every ${promise(e.seconds)}`,
  );
  const streamed = logs.streamed > 0 ? `${logs.streamed} streamed` : "";
  return [parts.length > 0 ? `logs ${parts.join(", ")}` : "", streamed].filter(Boolean).join(", ");
}
