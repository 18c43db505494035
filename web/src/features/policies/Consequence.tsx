import type { Ahead, Replay, WayOut, WrittenDocument } from "../../api/types";
import { count, day, duration, longMoment, size, viewerZone } from "../../time/words";
import { FaredTable } from "./FaredTable";
import { Flaws } from "./Flaws";
import { Lost, TooNew, Worse } from "./Foreseen";
import { RoomChart } from "./RoomChart";

type Props = {
  replay: Replay;
  ahead: Ahead | undefined;
  document: WrittenDocument;
  /** The version in force, where it is another, and the one shown. */
  names: [before: string | null, after: string];
  onTake: (way: WayOut) => void;
};

/** How those who follow the rules have fared and will, beside the rules in force. */
export function Consequence({ replay, ahead, document, names, onTake }: Props) {
  const { after } = replay;
  if (!after) return null;
  if (replay.followers === 0)
    return (
      <>
        <p className="text-muted">Nobody follows this policy yet, so there is no history to go by.</p>
        <Flaws replay={replay} onTake={onTake} />
      </>
    );
  return (
    <>
      {replay.others > 0 && (
        <p className="mt-1 text-note text-muted" role="status" data-testid="still-looking">
          Of {count(replay.followers)} of those who follow it; {count(replay.others)} more are being looked
          at.
        </p>
      )}
      <FaredTable replay={replay} ahead={ahead} document={document} names={names} />
      {ahead ? (
        <RoomChart ahead={ahead} names={names} />
      ) : (
        <p className="mt-3 text-muted">Running it forward…</p>
      )}
      {names[0] && ahead?.foreseen && (
        <>
          <Lost lost={ahead.foreseen.lost} />
          <Worse worse={ahead.foreseen.worse} />
        </>
      )}
      {ahead?.foreseen && <TooNew names={ahead.foreseen.tooNew} />}
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
