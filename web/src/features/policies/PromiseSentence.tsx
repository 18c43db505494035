import { ChoiceValue, DurationValue } from "./editing";

/** What the policy promises. */
export function PromiseSentence() {
  return (
    <section aria-label="Promise">
      <h2 className="text-section">Promise</h2>
      <p className="sentence">
        Lose up to <DurationValue path="objective.mishap" label="Loss to a mishap" none="any amount" /> to a
        mishap, <DurationValue path="objective.siteLoss" label="Loss with the site" none="any amount" /> with
        the site, <DurationValue path="objective.sabotage" label="Loss to sabotage" none="any amount" /> to
        sabotage. Keep every moment restorable for{" "}
        <DurationValue path="objective.reach" label="Reach" none="no set time" />. Be running again within{" "}
        <DurationValue path="objective.restoreTime" label="Restore time" none="no set time" />. Prove that
        restores work every{" "}
        <DurationValue path="objective.drillEvery" label="Drill interval" none="now and then" />. The policy
        is{" "}
        <ChoiceValue
          path="enabled"
          label="The policy is"
          otherwise="true"
          choices={[
            ["true", "switched on"],
            ["false", "switched off"],
          ]}
        />
        .
      </p>
    </section>
  );
}
