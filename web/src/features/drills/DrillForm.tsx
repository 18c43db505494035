import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { useState } from "react";
import { tellDrill, type Proposal } from "./api";
import { longMoment, viewerZone } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { FormFoot } from "../../ui/FormFoot";
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
  const missing = [!from && "when it began", !to && "when it ended"];
  return (
    <Dialog open onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 flex items-center justify-center bg-ink/20">
        <DialogPanel className="w-[520px] max-w-full rounded-xl border border-ink bg-panel p-6 shadow-xl">
          <DialogTitle className="text-[20px] leading-tight">
            The drill of {proposal.database} to {longMoment(proposal.moment, viewerZone)}
          </DialogTitle>
          <form
            aria-label="The result"
            className="mt-3 space-y-2"
            onSubmit={(e) => {
              e.preventDefault();
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
          >
            <MomentField
              label="Began"
              className="block"
              zone={viewerZone}
              value={started}
              onChange={setStarted}
              autoFocus
            />
            <MomentField
              label="Ended"
              className="block"
              zone={viewerZone}
              value={ended}
              onChange={setEnded}
            />
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
            <FormFoot
              text="Record it"
              missing={missing}
              disabled={pending}
              problem={problem}
              onCancel={onClose}
            />
          </form>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
