import { DialogTitle } from "@headlessui/react";
import { SidePanel } from "../../ui/SidePanel";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import type { WeekBar, WrittenDocument } from "../../api/types";
import { keepDraft, useAhead, usePolicy, useReplay } from "../policies/api";
import { useCommand } from "../../ui/useCommand";
import { ProblemNote } from "../../ui/ProblemNote";
import { Consequence } from "../policies/Consequence";
import { withValue, withWayOut } from "../policies/document";
import { recurrenceWords, shifted, weekly, weeklyRuleOf } from "../policies/recurrence";
import { durationWords, isoSeconds, secondsIso } from "../policies/values";

/** Another time for a slot, or another end of its window. */
export type Trial = { bar: WeekBar; shiftMinutes: number; windowMinutes: number };

/** What it would do to keep a slot at another time: of its whole schedule, for everybody who follows the policy. */
export function TryPanel({ trial, onClose }: { trial: Trial; onClose: () => void }) {
  const policy = usePolicy(trial.bar.policy);
  const base = policy.data?.versions.find((v) => v.version === trial.bar.version)?.document;
  return (
    <SidePanel width="w-[560px]" onClose={onClose} testId="try">
      {policy.error && <ProblemNote error={policy.error} />}
      {policy.data && base && (
        <Tried trial={trial} base={base} many={policy.data.followers.length} onClose={onClose} />
      )}
    </SidePanel>
  );
}

/** The policy with the schedule moved; null where its recurrence is more than days and a time. */
export function tried(base: WrittenDocument, trial: Trial): WrittenDocument | null {
  const at = (base.schedules ?? []).findIndex((s) => s.id === trial.bar.schedule);
  const schedule = base.schedules?.[at];
  if (!schedule) return null;
  let out = base;
  if (trial.shiftMinutes !== 0) {
    const plain = weekly(schedule);
    if (!plain) return null;
    const { cron: _c, ...rest } = schedule;
    out = withValue(out, `schedules.${at}`, {
      ...rest,
      rrule: weeklyRuleOf(shifted(plain, trial.shiftMinutes)),
    });
  }
  if (trial.windowMinutes !== 0) {
    const window = (isoSeconds(schedule.within ?? "PT0S") ?? 0) + trial.windowMinutes * 60;
    out = withValue(out, `schedules.${at}.within`, secondsIso(Math.max(60, window)));
  }
  return out;
}

function Tried(props: { trial: Trial; base: WrittenDocument; many: number; onClose: () => void }) {
  const { trial, base, many, onClose } = props;
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [document, setDocument] = useState(() => tried(base, trial));
  const { run, pending, problem } = useCommand();
  const id = trial.bar.policy;
  const was = base.schedules?.find((s) => s.id === trial.bar.schedule) ?? {};
  const now = document?.schedules?.find((s) => s.id === trial.bar.schedule) ?? {};
  return (
    <>
      <div className="flex items-baseline justify-between">
        <DialogTitle className="text-box">
          {trial.bar.schedule} of {base.name ?? id}
        </DialogTitle>
        <button className="text-button" onClick={onClose}>
          Leave it as it is
        </button>
      </div>
      {document === null ? (
        <p className="mt-3">
          Its times are written as a rule ({recurrenceWords(was)}) that is more than days and a time, so it
          cannot be moved here. It can be changed in the policy.
        </p>
      ) : (
        <>
          <p className="mt-1">
            <span className="text-muted">
              {recurrenceWords(was)}, started within {durationWords(was.within ?? "")}
            </span>{" "}
            → <b>{recurrenceWords(now)}</b>, started within <b>{durationWords(now.within ?? "")}</b>, for
            everybody who follows it.
          </p>
          <Shown id={id} document={document} base={base} many={many} onChange={setDocument} />
          {problem && <ProblemNote error={problem} />}
          <button
            className="ink-button mt-4"
            disabled={pending}
            onClick={() =>
              void run(
                () => keepDraft(id, document),
                () => {
                  queries.removeQueries({ queryKey: ["policy", id] });
                  void navigate(`/policies/${encodeURIComponent(id)}`);
                },
              )
            }
          >
            Keep as a draft and open the policy
          </button>
        </>
      )}
    </>
  );
}

function Shown(props: {
  id: string;
  document: WrittenDocument;
  base: WrittenDocument;
  many: number;
  onChange: (document: WrittenDocument) => void;
}) {
  const { id, document, base, many, onChange } = props;
  const replay = useReplay(id, document, many);
  const ahead = useAhead(id, document, many, undefined, replay.isSuccess && !replay.isPlaceholderData);
  if (replay.error) return <ProblemNote error={replay.error} />;
  if (!replay.data) return <p className="mt-3 text-muted">Replaying it…</p>;
  return (
    <div className="mt-3">
      <Consequence
        replay={replay.data}
        ahead={ahead.data}
        document={document}
        names={[`version ${base.version ?? ""}`, "moved"]}
        onTake={(way) => onChange(withWayOut(document, way.path, way.to))}
      />
    </div>
  );
}
