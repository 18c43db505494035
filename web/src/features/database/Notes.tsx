import { useState } from "react";
import type { DatabaseView } from "../../api/types";
import { withdrawNote, writeNote } from "./api";
import { useView } from "../../time/view";
import { longMoment } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { ProblemNote } from "../../ui/ProblemNote";

/** What people wrote about a database for those who come after. */
export function Notes({ data }: { data: DatabaseView }) {
  const { asOf } = useView();
  const [text, setText] = useState("");
  const [writing, setWriting] = useState(false);
  const id = data.row.id;
  const { run, pending, problem } = useCommand(["database", id]);
  const then = (act: () => Promise<void>) =>
    void run(act, () => {
      setText("");
      setWriting(false);
    });
  return (
    <section aria-label="Notes" data-testid="notes">
      <h2 className="mt-5 text-section">Notes</h2>
      {data.notes.length === 0 && !writing && <p className="text-muted">Nobody has written a note yet.</p>}
      {data.notes.map((n) => (
        <div key={n.id} className="border-t border-line py-1.5">
          <p className="whitespace-pre-wrap">{n.text}</p>
          <p className="text-note text-muted">
            {n.by}, {longMoment(n.at, data.row.zone)}{" "}
            {asOf === null && (
              <button className="text-button ml-1" onClick={() => then(() => withdrawNote(id, n.id))}>
                Take back
              </button>
            )}
          </p>
        </div>
      ))}
      {problem && <ProblemNote error={problem} />}
      {asOf === null && !writing && (
        <button className="text-button mt-1" onClick={() => setWriting(true)}>
          Write a note…
        </button>
      )}
      {writing && (
        <form
          aria-label="Write a note"
          className="mt-1 space-y-2"
          onSubmit={(e) => {
            e.preventDefault();
            if (text.trim()) then(() => writeNote(id, { text }));
          }}
        >
          <label className="block">
            What should others know?
            <textarea
              className="w-full rounded border border-line bg-panel px-2 py-1"
              rows={3}
              maxLength={4000}
              autoFocus
              value={text}
              onChange={(e) => setText(e.target.value)}
            />
          </label>
          <div className="flex items-center gap-3">
            <button className="ink-button" disabled={!text.trim() || pending}>
              Keep it
            </button>
            <button type="button" className="text-button" onClick={() => setWriting(false)}>
              Cancel
            </button>
          </div>
        </form>
      )}
    </section>
  );
}
