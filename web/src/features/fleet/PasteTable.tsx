import { DialogBox } from "../../ui/DialogBox";
import { useState } from "react";
import { FIELDS, readTable } from "./records";

/** Enrols the databases of a table copied from a spreadsheet or written with commas. */
export function PasteTable(props: { onClose: () => void; onState: (records: object[]) => Promise<boolean> }) {
  const [text, setText] = useState("");
  const read = text.trim() ? readTable(text) : null;
  const good = read?.records.length ?? 0;
  return (
    <DialogBox title="Paste a table" width="w-[760px]" onClose={props.onClose}>
      <p className="text-muted">
        The first row names the columns: {FIELDS.map(([f]) => f).join(", ")}. Only name is needed. Of
        databases that are known the other columns stay as they are; names of sites, routes and policies
        become their ids. Lines that cannot be taken leave the others unharmed.
      </p>
      <textarea
        aria-label="Table"
        className="mt-2 h-44 w-full rounded border border-line bg-panel p-2 font-mono text-note"
        placeholder={"name\tengine\tsite\tzone\nferry-wifi\tPostgreSQL 16\tnorthquay\tEurope/Lisbon"}
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      {read && (
        <div aria-live="polite">
          <p>
            {good === 1 ? "One database" : `${good} databases`} can be taken
            {read.records.length > 0 &&
              `: ${read.records
                .slice(0, 8)
                .map((r) => r.name as string)
                .join(", ")}`}
            {good > 8 && " …"}.
          </p>
          {read.unknown.length > 0 && (
            <p className="text-ochre-text">Columns nobody knows are left out: {read.unknown.join(", ")}.</p>
          )}
          {read.bad.map((b) => (
            <p key={b.line} className="text-coral-text">
              Line {b.line}: {b.field} {b.reason}.
            </p>
          ))}
        </div>
      )}
      <div className="mt-4 flex items-center gap-3">
        <button
          className="ink-button"
          disabled={good === 0}
          onClick={() => void props.onState(read?.records ?? []).then((done) => done && props.onClose())}
        >
          Enrol {good === 1 ? "it" : `these ${good}`}
        </button>
        <button className="text-button" onClick={props.onClose}>
          Cancel
        </button>
      </div>
    </DialogBox>
  );
}
