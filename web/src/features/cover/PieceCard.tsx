import { Link } from "react-router";
import type { Row } from "../../api/types";
import type { Piece } from "../../ribbon/geometry";
import { sandRemedy, sandSentence, waterSentence } from "../../ribbon/words";
import { useView } from "../../time/view";
import { moment, span } from "../../time/words";
import { useAskWhy } from "../../why/context";

const WIDTH = 340;

type Props = { row: Row; piece: Piece; width: number; onEnter: () => void; onLeave: () => void };

/** Explains the stretch of a ribbon that is pointed at or stepped to. */
export function PieceCard({ row, piece, width, onEnter, onLeave }: Props) {
  const { search } = useView();
  const ask = useAskWhy();
  const middle = piece.x + piece.width / 2;
  const left = Math.min(Math.max(0, middle - WIDTH / 2), Math.max(0, width - WIDTH));
  const at = piece.of;
  const when = at.from === at.to ? moment(at.from, row.zone) : span(at.from, at.to, row.zone);
  const subject =
    piece.what === "sand" && piece.of.gap
      ? ({ database: row.id, about: "gap", position: piece.of.gap.fromPosition } as const)
      : piece.what === "sand"
        ? ({ database: row.id, about: "age" } as const)
        : null;
  return (
    <div
      role="tooltip"
      data-testid="piece-card"
      className="absolute top-[28px] z-20 rounded-lg border border-ink bg-panel px-4 py-3 shadow-lg"
      style={{ left, width: WIDTH }}
      onPointerEnter={onEnter}
      onPointerLeave={onLeave}
    >
      <h3 className="text-lead">
        {row.name} · {when}
      </h3>
      <p className="mt-1">
        {piece.what === "sand" ? sandSentence(piece.of, row.zone) : waterSentence(piece.of)}
      </p>
      {piece.what === "sand" && <p className="text-muted">{sandRemedy(piece.of, row.zone)}</p>}
      <p className="mt-1 flex gap-4">
        {subject && (
          <button className="text-button" onClick={() => ask(subject, row.zone)}>
            Why?
          </button>
        )}
        <Link className="text-button" to={`/databases/${encodeURIComponent(row.id)}${search}`}>
          Open database
        </Link>
        <span className="ml-auto text-note text-muted">{row.zone}</span>
      </p>
    </div>
  );
}
