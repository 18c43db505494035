import type { Finding, Watch } from "../../api/types";
import { Ribbon } from "../../ribbon/Ribbon";
import { date, longMoment, viewerZone } from "../../time/words";
import { Gauge } from "../../ui/Gauge";
import { gradeOf, headline, isNow, leadsTo, startable } from "./finding";

const RIBBON = 204;
const BACK_MS = 12 * 86_400_000;

type Props = {
  finding: Finding;
  watch: Watch;
  /** Whether something can be done about it, rather than looked back at. */
  today: boolean;
  chosen: boolean;
  first: boolean;
  onChoose: () => void;
  onOpen: () => void;
  onWhy: () => void;
  onAccept: () => void;
  onStart: () => void;
  onCallBack: (accepted: string) => void;
};

/** One thing that is wrong: what, why and what it costs, what ends it and what that leaves, since when. */
export function FindingEntry(props: Props) {
  const {
    finding: f,
    watch,
    today,
    chosen,
    first,
    onChoose,
    onOpen,
    onWhy,
    onAccept,
    onStart,
    onCallBack,
  } = props;
  const from = new Date(new Date(watch.asOf).getTime() - BACK_MS).toISOString();
  const zone = f.zone ?? viewerZone;
  return (
    // A list one steps through with the arrow keys: its entries take focus, and Enter opens one.
    /* eslint-disable jsx-a11y/no-noninteractive-element-interactions, jsx-a11y/no-noninteractive-tabindex */
    <article
      tabIndex={chosen || first ? 0 : -1}
      aria-label={headline(f)}
      data-finding={f.key}
      data-severity={f.severity}
      {...(chosen ? { "data-chosen": "" } : {})}
      className={`flex gap-4 border-b border-line px-5 py-2.5 ${chosen ? "bg-chosen" : ""}`}
      onFocus={onChoose}
      onKeyDown={(e) => {
        if (e.key === "Enter" && e.target === e.currentTarget) onOpen();
      }}
    >
      <span className="pt-0.5">
        <Gauge grade={gradeOf(f)} />
      </span>
      <div className="min-w-0 flex-1">
        <h2 className={`text-lead leading-tight ${isNow(f) && !f.accepted ? "text-coral-text" : ""}`}>
          {headline(f)}
        </h2>
        <p className="mt-0.5 max-w-[620px]">
          {f.text} {f.action && <b>{f.action}</b>}
        </p>
        <p className="mt-0.5 text-note text-muted">
          {f.breaks && <b className="text-ochre-text">{`breaks ${longMoment(f.breaks, zone)} · `}</b>}
          {f.since ? since(f.since, watch.asOf, zone) : seen(f)}
          {f.accepted &&
            ` · accepted by ${f.accepted.by} until ${longMoment(f.accepted.until, viewerZone)}: ${f.accepted.reason}`}
        </p>
      </div>
      <div className="flex w-[236px] shrink-0 flex-col items-end gap-2 whitespace-nowrap">
        {f.row && (
          <Ribbon
            water={f.row.water}
            sand={f.row.sand}
            marks={f.row.marks.filter((m) => m.failed || m.kind === "full")}
            from={from}
            to={watch.asOf}
            width={RIBBON}
            height={12}
            zone={zone}
          />
        )}
        <FindingActions
          today={today}
          f={f}
          onStart={onStart}
          onOpen={onOpen}
          onWhy={onWhy}
          onCallBack={onCallBack}
          onAccept={onAccept}
        />
      </div>
    </article>
  );
}

function FindingActions(props: {
  today: boolean;
  f: Finding;
  onStart: () => void;
  onOpen: () => void;
  onWhy: () => void;
  onCallBack: (accepted: string) => void;
  onAccept: () => void;
}) {
  const { today, f, onStart, onOpen, onWhy, onCallBack, onAccept } = props;
  const { accepted } = f;
  return (
    <div className="flex items-center gap-3">
      {today && startable(f) ? (
        <button className={isNow(f) ? "ink-button" : "outline-button"} onClick={onStart}>
          {startable(f)}
        </button>
      ) : isNow(f) || f.waysOut.length > 0 || f.policy ? (
        <button className={isNow(f) ? "ink-button" : "outline-button"} onClick={onOpen}>
          {leadsTo(f)}
        </button>
      ) : (
        <button className="text-button" onClick={onOpen}>
          {leadsTo(f)}
        </button>
      )}
      <button className="text-button" onClick={onWhy}>
        Why?
      </button>
      {today && (
        <button className="text-button" onClick={accepted ? () => onCallBack(accepted.id) : onAccept}>
          {accepted ? "Call back" : "Accept"}
        </button>
      )}
    </div>
  );
}

/** Since when, with the year and without the time where that is long ago. */
function since(at: string, asOf: string, zone: string): string {
  const long = Date.parse(asOf) - Date.parse(at) > 300 * 86_400_000;
  return long ? `since ${date(at, zone)}` : `since ${longMoment(at, zone)}, ${zone}`;
}

function seen(f: Finding): string {
  return f.seen ? `first seen ${longMoment(f.seen, viewerZone)}` : "";
}
