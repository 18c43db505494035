import { DialogBox } from "./DialogBox";
import { useRef, useState } from "react";
import { useKeys } from "./useKeys";

const KEYS = [
  ["/", "find a database, policy, store, run or backup, or do something"],
  [".", "move as of, or the period"],
  ["[  ]", "previous and next moment at which the share outside its objective changed"],
  ["{  }", "what last happened before, and what next: to the database whose page is open, else to the fleet"],
  ["j  k", "next and previous database, finding, line or gap"],
  ["a  s", "accept the chosen finding in Watch; start the backup that ends it"],
  ["x", "choose a database in Fleet"],
  ["← →", "step along the ribbon of the chosen database"],
  ["enter", "open it; in a policy, change a value and keep it"],
  ["w", "why? of whatever has focus"],
  ["1  2  3", "after mishap, site loss, sabotage"],
  ["?", "these keys"],
] as const;

/** The keys that work everywhere, shown for `?`. */
export function Keys() {
  const [open, setOpen] = useState(false);
  const button = useRef<HTMLButtonElement>(null);
  useKeys({
    "?": () => {
      button.current?.focus();
      setOpen(true);
    },
    ".": () => window.dispatchEvent(new Event("firth:move")),
  });
  return (
    <>
      <button
        className="rounded border border-line px-2 text-muted"
        aria-label="Keys"
        onClick={() => setOpen(true)}
      >
        ?
      </button>
      <DialogBox title="Keys" width="w-[420px]" open={open} onClose={() => setOpen(false)}>
        <dl className="mt-3 grid grid-cols-[80px_1fr] gap-y-1.5">
          {KEYS.map(([key, text]) => (
            <div key={key} className="contents">
              <dt className="font-mono">{key}</dt>
              <dd>{text}</dd>
            </div>
          ))}
        </dl>
        <button className="outline-button mt-5" onClick={() => setOpen(false)}>
          Close
        </button>
      </DialogBox>
    </>
  );
}
