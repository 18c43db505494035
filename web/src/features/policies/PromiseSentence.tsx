import { ChoiceValue, DurationValue } from "./editing";

/** What the policy promises. */
export function PromiseSentence() {
  return (
    <section aria-label="Promise">
      <h2 className="text-[18px]">Promise</h2>
      <p className="sentence">
        Lose at most <DurationValue path="objective.mishap" label="Loss to a mishap" /> to a mishap,{" "}
        <DurationValue path="objective.siteLoss" label="Loss with the site" /> with the site,{" "}
        <DurationValue path="objective.sabotage" label="Loss to sabotage" /> to sabotage. Go back to any
        moment of the last <DurationValue path="objective.reach" label="Reach" />. Be running again within{" "}
        <DurationValue path="objective.restoreTime" label="Restore time" />. Prove it every{" "}
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
