import { BLOCK } from "../api/stretch";
import { count } from "../time/words";

/** Asks for more of a long list, where there is more. */
export function MoreButton({ left, onMore }: { left: number; onMore: () => void }) {
  if (left <= 0) return null;
  return (
    <button className="text-button mt-2" onClick={onMore}>
      {left > BLOCK ? `Show ${BLOCK} more of ${count(left)}` : `Show the last ${count(left)}`}
    </button>
  );
}
