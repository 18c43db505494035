import { useState } from "react";
import { Link } from "react-router";
import type { Follower, Replay } from "../../api/types";
import { longMoment, viewerZone } from "../../time/words";
import { instantOf } from "../../time/typed";
import { MomentField } from "../../ui/Typed";

export type Saying = { at: string; why: string; despite: string | null };

/** Who puts the draft in force, from when and why. */
export function PutInForceForm(props: {
  replay: Replay;
  version: number;
  followers: Follower[];
  busy: boolean;
  onSay: (saying: Saying) => void;
  onCancel: () => void;
}) {
  const { replay, version, followers, busy, onSay, onCancel } = props;
  const [when, setWhen] = useState("now");
  const [chosen, setChosen] = useState("");
  const [why, setWhy] = useState("");
  const [despite, setDespite] = useState("");
  const flaws = replay.flaws.length;
  const typed = instantOf(chosen, viewerZone);
  const moment = when === "chosen" ? new Date(typed ?? NaN) : null;
  const missing = [
    !why.trim() && "why",
    flaws > 0 && !despite.trim() && "why it is put in force although it contradicts itself",
    moment && (Number.isNaN(moment.getTime()) ? "from when" : moment < new Date() && "a moment to come"),
  ].filter(Boolean);
  const quiet = replay.quiet;
  return (
    <form
      className="mt-4 rounded-lg border border-ink bg-panel p-4"
      aria-label="Put in force"
      onSubmit={(e) => {
        e.preventDefault();
        if (missing.length > 0) return;
        onSay({
          at: moment ? moment.toISOString().replace(/\.\d+Z/, "Z") : when,
          why,
          despite: flaws > 0 ? despite : null,
        });
      }}
    >
      <fieldset>
        <legend className="text-[16px] font-semibold">Version {version} from</legend>
        <Radio name="now" text="now" when={when} onChange={setWhen} />
        {quiet ? (
          <Radio
            name="quiet"
            text={
              quiet.waitsFor
                ? `${longMoment(quiet.at, viewerZone)}, when ${quiet.waitsFor} is out of its ${
                    quiet.schedule ? `${quiet.schedule} window` : "running backup"
                  } and nobody is in another`
                : "the next moment no follower is inside a window, which is now"
            }
            when={when}
            onChange={setWhen}
          />
        ) : (
          <p className="text-muted">Within a week somebody is always inside a window.</p>
        )}
        <span className="flex items-center gap-2">
          <Radio name="chosen" text="a chosen moment" when={when} onChange={setWhen} />
          {when === "chosen" && <MomentField zone={viewerZone} value={chosen} onChange={setChosen} />}
        </span>
      </fieldset>
      <Unready followers={followers} />
      <Field label="Why" value={why} onChange={setWhy} />
      {flaws > 0 && (
        <Field
          label={`Why although ${flaws === 1 ? "one thing does" : `${flaws} things do`} not fit`}
          value={despite}
          onChange={setDespite}
        />
      )}
      <div className="mt-3 flex items-center gap-3">
        <button className="ink-button" disabled={missing.length > 0 || busy}>
          Put version {version} in force
        </button>
        <button type="button" className="text-button" onClick={onCancel}>
          Not yet
        </button>
        {missing.length > 0 && <span className="text-[12px] text-muted">Say {missing.join(", ")}.</span>}
      </div>
    </form>
  );
}

/** Those whose schedules cannot be trusted yet, and why. */
function Unready({ followers }: { followers: Follower[] }) {
  const lacking = followers.filter((f) => f.lacks.length > 0);
  const unknown = followers.filter((f) => f.lacks.length === 0 && f.readiness === "unknown");
  if (lacking.length + unknown.length === 0) return null;
  return (
    <section aria-label="Not ready" className="mt-3 border-l-[3px] border-ochre pl-3">
      {lacking.length > 0 && (
        <>
          <p>
            {lacking.length} of {followers.length} followers {lacking.length === 1 ? "is" : "are"} not ready:
          </p>
          <ul className="max-h-[180px] overflow-y-auto">
            {lacking.map((f) => (
              <li key={f.id}>
                <Link
                  className="font-semibold hover:underline"
                  to={`/fleet/${encodeURIComponent(f.id)}/readiness`}
                >
                  {f.name}
                </Link>{" "}
                {f.lacks.join(" ")}
              </li>
            ))}
          </ul>
        </>
      )}
      {unknown.length > 0 && (
        <p className="text-muted">
          Of {unknown.map((f) => f.name).join(", ")} not everything is known that would show it.
        </p>
      )}
    </section>
  );
}

function Radio(props: { name: string; text: string; when: string; onChange: (when: string) => void }) {
  return (
    <label className="flex items-start gap-2">
      <input
        type="radio"
        name="when"
        className="mt-1"
        checked={props.when === props.name}
        onChange={() => props.onChange(props.name)}
      />
      {props.text}
    </label>
  );
}

function Field(props: { label: string; value: string; onChange: (text: string) => void }) {
  return (
    <label className="mt-2 block">
      {props.label}
      <input
        className="block w-full rounded border border-line bg-panel px-2 py-1"
        value={props.value}
        onChange={(e) => props.onChange(e.target.value)}
      />
    </label>
  );
}
