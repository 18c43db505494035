import { useForm, useWatch, type UseFormReturn } from "react-hook-form";
import { Link } from "react-router";
import type { Follower, Replay, Schemas, VersionView } from "../../api/types";
import { longMoment, viewerZone } from "../../time/words";
import { instantOf } from "../../time/typed";
import { isoSecond } from "../../time/view";
import { MomentOf, TextOf } from "../../ui/fields";
import type { Order, Planned } from "./api";

type Said = { when: string; chosen: string; why: string; despite: string; planned: Planned | "" };
const BLANK: Said = { when: "now", chosen: "", why: "", despite: "", planned: "" };

/** The chosen moment; null where none is to be chosen. */
const momentOf = (v: Said) => (v.when === "chosen" ? new Date(instantOf(v.chosen, viewerZone) ?? NaN) : null);

function lackingIn(v: Said, flaws: number, planned: VersionView[]) {
  const moment = momentOf(v);
  return [
    !v.why.trim() && "why",
    planned.length > 0 && !v.planned && "what becomes of what is planned",
    flaws > 0 && !v.despite.trim() && "why it is put in force although it contradicts itself",
    moment && (Number.isNaN(moment.getTime()) ? "from when" : moment < new Date() && "a moment to come"),
  ].filter(Boolean);
}

/** Who puts the draft in force, from when and why. */
export function PutInForceForm(props: {
  replay: Replay;
  version: number;
  /** Versions that are still to come. */
  planned: VersionView[];
  followers: Follower[];
  busy: boolean;
  onSay: (order: Order) => void;
  onCancel: () => void;
}) {
  const { replay, version, planned, followers, busy, onSay, onCancel } = props;
  const form = useForm<Said>({ defaultValues: BLANK });
  const said = { ...BLANK, ...useWatch({ control: form.control }) };
  const flaws = replay.flaws.length;
  const missing = lackingIn(said, flaws, planned);
  const send = form.handleSubmit((v) => {
    if (lackingIn(v, flaws, planned).length > 0) return;
    const moment = momentOf(v);
    onSay({
      at: moment ? isoSecond(moment.getTime()) : v.when,
      why: v.why,
      despite: flaws > 0 ? v.despite : null,
      planned: planned.length > 0 && v.planned ? v.planned : null,
    });
  });
  return (
    <form
      className="mt-4 rounded-lg border border-ink bg-panel p-4"
      aria-label="Put in force"
      noValidate
      onSubmit={(e) => void send(e)}
    >
      <WhenInForce form={form} version={version} when={said.when} quiet={replay.quiet} />
      {planned.length > 0 && <WhatIsPlanned form={form} version={version} planned={planned} />}
      <Unready followers={followers} />
      <TextOf form={form} name="why" label="Why" />
      {flaws > 0 && (
        <TextOf
          form={form}
          name="despite"
          label={`Why although ${flaws === 1 ? "one thing does" : `${flaws} things do`} not fit`}
        />
      )}
      <div className="mt-3 flex items-center gap-3">
        <button className="ink-button" disabled={missing.length > 0 || busy}>
          Put version {version} in force
        </button>
        <button type="button" className="text-button" onClick={onCancel}>
          Not yet
        </button>
        {missing.length > 0 && <span className="text-note text-muted">Say {missing.join(", ")}.</span>}
      </div>
    </form>
  );
}

function WhenInForce(props: {
  form: UseFormReturn<Said>;
  version: number;
  when: string;
  quiet: Schemas["Quiet"] | null;
}) {
  const { form, version, when, quiet } = props;
  return (
    <fieldset>
      <legend className="text-lead font-semibold">Version {version} from</legend>
      <Radio form={form} value="now" text="now" />
      {quiet ? (
        <Radio
          form={form}
          value="quiet"
          text={
            quiet.waitsFor
              ? `${longMoment(quiet.at, viewerZone)}, when ${quiet.waitsFor} is out of its ${
                  quiet.schedule ? `${quiet.schedule} window` : "running backup"
                } and nobody is in another`
              : "the next moment no follower is inside a window, which is now"
          }
        />
      ) : (
        <p className="text-muted">Within a week somebody is always inside a window.</p>
      )}
      <span className="flex items-center gap-2">
        <Radio form={form} value="chosen" text="a chosen moment" />
        {when === "chosen" && <MomentOf form={form} name="chosen" zone={viewerZone} />}
      </span>
    </fieldset>
  );
}

/** What becomes of versions that are still to come: nothing ever turns back by itself. */
function WhatIsPlanned(props: { form: UseFormReturn<Said>; version: number; planned: VersionView[] }) {
  const { form, version, planned } = props;
  const which = planned
    .map((v) => `version ${v.version} from ${longMoment(v.effectiveFrom, viewerZone)}`)
    .join(", ");
  const one = planned.length === 1;
  return (
    <fieldset className="mt-3 border-l-[3px] border-ochre pl-3">
      <legend className="float-left">Still to come: {which}.</legend>
      <div className="clear-both">
        <Radio
          form={form}
          name="planned"
          value="withdrawn"
          text={`Version ${version} stands; ${one ? "that one is" : "those are"} withdrawn`}
        />
        <Radio
          form={form}
          name="planned"
          value="stands"
          text={`Both stand: ${one ? "that one takes" : "those take"} over from version ${version} then`}
        />
      </div>
    </fieldset>
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

function Radio(props: { form: UseFormReturn<Said>; name?: "when" | "planned"; value: string; text: string }) {
  const { form, name = "when", value, text } = props;
  return (
    <label className="flex items-start gap-2">
      <input type="radio" className="mt-1" value={value} {...form.register(name)} />
      {text}
    </label>
  );
}
