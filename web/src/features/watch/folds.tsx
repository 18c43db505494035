import { useState } from "react";
import type { Finding, Schemas, Watch } from "../../api/types";
import { useView } from "../../time/view";
import { useUnfolded } from "./api";

/** A kind of finding of which there are more than are shown. */
export type Fold = Schemas["FoldedFindings"];

const STEP = 50;
const nameOf = (f: Fold) => `${f.code} ${f.severity}`;

/** Whether a finding is of a kind. */
export const isOf = (f: Finding, fold: Fold) =>
  f.code === fold.code && f.severity === fold.severity && !f.accepted;

/** The findings with those that were unfolded, each after the last of its kind. */
export function withUnfolded(shown: Finding[], unfolded: Finding[]): Finding[] {
  const known = new Set(shown.map((f) => f.key));
  const more = unfolded.filter((f) => !known.has(f.key));
  return shown.flatMap((f, i) => {
    const same = (other: Finding) => other.code === f.code && other.severity === f.severity;
    return shown.slice(i + 1).some(same) ? [f] : [f, ...more.filter(same)];
  });
}

/** The kinds of which more was found than is shown, and what was unfolded of them. */
export function useFolds(watch: Watch) {
  const view = useView();
  const [wanted, setWanted] = useState<Record<string, number>>({});
  const more = watch.folds;
  const unfolded = useUnfolded(
    view.params,
    more
      .filter((f) => wanted[nameOf(f)])
      .map((f) => ({ code: f.code, severity: f.severity, from: f.shown, most: wanted[nameOf(f)] ?? 0 })),
  );
  const unfold = (fold: Fold) => setWanted({ ...wanted, [nameOf(fold)]: (wanted[nameOf(fold)] ?? 0) + STEP });
  return { more, unfolded, unfold };
}

/** Says how many more of a kind there are, and of which databases some are. */
export function FoldRow({
  fold,
  shown,
  onMore,
}: {
  fold: Fold;
  shown: number;
  onMore: (fold: Fold) => void;
}) {
  const left = fold.shown + fold.more - shown;
  const unfolding = shown > fold.shown;
  return (
    <p className="border-b border-line px-5 py-2 pl-[60px]" data-fold={fold.code}>
      <b>{left} more like these</b>
      {!unfolding &&
        fold.names.length > 0 &&
        `: ${fold.names.join(", ")}${left > fold.names.length ? " …" : ""}`}
      <button className="text-button ml-3" onClick={() => onMore(fold)}>
        {left > STEP ? `Show ${STEP} more` : "Show them"}
      </button>
    </p>
  );
}
