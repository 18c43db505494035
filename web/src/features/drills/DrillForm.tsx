import { useState } from "react";
import { tellDrill, type Proposal } from "./api";
import { longMoment, viewerZone } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { DialogForm } from "../../ui/DialogForm";
import { Labelled } from "../../ui/Labelled";
import { instantOf } from "../../time/typed";
import { MomentField } from "../../ui/Typed";

type Props = { proposal: Proposal; onClose: () => void; onDone: () => void };

/** What became of a drill: when it ran, whether it reached its moment, and what was looked at afterwards. */
export function DrillForm({ proposal, onClose, onDone }: Props) {
  const [started, setStarted] = useState("");
  const [ended, setEnded] = useState("");
  const [ok, setOk] = useState(true);
  const [checks, setChecks] = useState("");
  const [message, setMessage] = useState("");
  const { run, pending, problem } = useCommand(["drills"]);
  const from = instantOf(started, viewerZone);
  const to = instantOf(ended, viewerZone);
  return (
    <DialogForm
      title={`The drill of ${proposal.database} to ${longMoment(proposal.moment, viewerZone)}`}
      label="The result"
      text="Record it"
      missing={[!from && "when it began", !to && "when it ended"]}
      disabled={pending}
      problem={problem}
      onSubmit={() => {
        if (!from || !to) return;
        void run(
          () =>
            tellDrill(proposal.id, {
              started: from,
              ended: to,
              reached: ok ? proposal.moment : null,
              ok,
              checks: checks
                .split(",")
                .map((c) => c.trim())
                .filter(Boolean),
              message,
            }),
          onDone,
        );
      }}
      onClose={onClose}
    >
      <MomentField
        label="Began"
        className="block"
        zone={viewerZone}
        value={started}
        onChange={setStarted}
        autoFocus
      />
      <MomentField label="Ended" className="block" zone={viewerZone} value={ended} onChange={setEnded} />
      <label className="flex items-baseline gap-2">
        <input type="checkbox" checked={ok} onChange={(e) => setOk(e.target.checked)} />
        it reached its moment
      </label>
      <Labelled
        label="What was checked, separated by commas"
        value={checks}
        onChange={setChecks}
        placeholder="row counts, sailings of the day"
      />
      {ok && !checks.trim() && <p className="text-ochre-text">Without a check it proves nothing.</p>}
      <Labelled label="Notes to keep" value={message} onChange={setMessage} />
    </DialogForm>
  );
}
